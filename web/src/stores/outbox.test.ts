import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { mergePatch } from '@vectum/core'
import { conflictsOf, emptyOutbox, nextToSend, type Outbox, outboxAfter, patchOf, waitingIn, withChanges } from './outbox.ts'

const bore = 'facts.engine.boreMm'
const stroke = 'facts.engine.strokeMm'
const doc = (engine: object) => ({ facts: { engine }, choices: {} })
const typed = (box: Outbox, path: string, value: unknown, saved: object) => outboxAfter(box, { event: 'typed', path, value, saved })
const note = (id: string) => ({ event: 'recorded', reading: { id, body: { kind: 'note', value: { text: id }, takenAt: '' } } }) as const

describe('what waits in the browser', () => {
  it('is one change a field, the last typed, with what stood there before the first', () => {
    const box = typed(typed(emptyOutbox, bore, 85, doc({ boreMm: 80 })), bore, 86, doc({ boreMm: 80 }))
    expect(box.changes).toEqual([{ path: bore, value: 86, base: 80 }])
    expect(patchOf(box.changes, null)).toEqual({ facts: { engine: { boreMm: 86 } } })
    expect(withChanges(doc({ boreMm: 80, strokeMm: 90 }), box.changes)).toEqual(doc({ boreMm: 86, strokeMm: 90 }))
    expect(waitingIn(outboxAfter(box, note('a')))).toBe(2)
  })
  it('goes in the order it was made: an edit before the proof taken after it, a proof before the edit after it', () => {
    const box = (events: [string, number][]) =>
      events.reduce<Outbox>((b, [what, order]) => {
        if (what === 'note')
          return outboxAfter(b, { event: 'recorded', reading: { id: `n${order}`, order, body: { kind: 'note', value: {} } } })
        return outboxAfter(b, { event: 'typed', path: what, value: order, saved: doc({}), order })
      }, emptyOutbox)
    const next = (events: [string, number][]) => {
      const sent = nextToSend(box(events))
      return sent && ('reading' in sent ? sent.reading.id : sent.changes.map((c) => c.path))
    }
    expect(
      next([
        [bore, 1],
        ['note', 2],
      ]),
    ).toEqual([bore])
    expect(
      next([
        ['note', 1],
        [bore, 2],
      ]),
    ).toBe('n1')
    // the edit after the note waits for it
    expect(
      next([
        [bore, 1],
        ['note', 2],
        [stroke, 3],
      ]),
    ).toEqual([bore])
    expect(
      next([
        [bore, 1],
        [stroke, 2],
      ]),
    ).toEqual([bore, stroke])
    expect(next([])).toBeNull()
    // from before orders were kept: changes first
    expect(
      nextToSend({ changes: [{ path: bore, value: 1, base: 0 }], readings: [{ id: 'n', order: 1, body: { kind: 'note', value: {} } }] }),
    ).toHaveProperty('changes')
  })
  it('a field made not known goes as a wish to clear it', () =>
    expect(patchOf(typed(emptyOutbox, bore, undefined, doc({ boreMm: 80 })).changes, doc({ boreMm: 80 }))).toEqual({
      facts: { engine: { boreMm: null } },
    }))
  it.each([
    ['another field was changed', doc({ boreMm: 80, strokeMm: 91 }), 0],
    ['the same field was changed', doc({ boreMm: 82 }), 1],
    ['the same field was cleared', doc({}), 1],
    ['somebody else typed the same', doc({ boreMm: 86 }), 0],
  ])('%s: %#', (_what, saved, conflicts) =>
    expect(conflictsOf(typed(emptyOutbox, bore, 86, doc({ boreMm: 80 })), saved)).toHaveLength(conflicts),
  )
  it('a list that came back with the keys of its things in another order is its own', () => {
    const feed = 'choices.fuel.feed'
    const saved = (list: object[]) => ({ choices: { fuel: { feed: list } } })
    const first = typed(emptyOutbox, feed, [{ boreMm: 8, id: 'a' }], saved([]))
    const sent = outboxAfter(first, { event: 'sending', changes: first.changes })
    const again = typed(sent, feed, [{ boreMm: 9, id: 'a' }], saved([]))
    expect(conflictsOf(again, saved([{ id: 'a', boreMm: 8 }]))).toEqual([])
    expect(conflictsOf(again, saved([{ id: 'a', boreMm: 7 }]))).toHaveLength(1)
  })
  it('its own value whose answer was lost is no conflict, also when it was typed again since', () => {
    const first = typed(emptyOutbox, bore, 85, doc({ boreMm: 80 }))
    const again = typed(outboxAfter(first, { event: 'sending', changes: first.changes }), bore, 86, doc({ boreMm: 80 }))
    expect(conflictsOf(again, doc({ boreMm: 85 }))).toEqual([])
    expect(conflictsOf(again, doc({ boreMm: 81 }))).toEqual([{ path: bore, mine: 86, theirs: 81 }])
  })
  it('what was typed on while its first value was on the wire is held against that one, also once it is on the wire itself', () => {
    const first = typed(emptyOutbox, bore, 85, doc({ boreMm: 80 }))
    const onWire = typed(outboxAfter(first, { event: 'sending', changes: first.changes }), bore, 86, doc({ boreMm: 80 }))
    const landed = outboxAfter(onWire, { event: 'changes-done', changes: first.changes, saved: doc({ boreMm: 85 }) })
    const next = outboxAfter(landed, { event: 'sending', changes: landed.changes })
    expect(next.changes).toMatchObject([{ value: 86, base: 85 }])
    expect(conflictsOf(next, doc({ boreMm: 85 }))).toEqual([])
    expect(conflictsOf(next, doc({ boreMm: 81 }))).toHaveLength(1)
    // refused: what stood there before stands there still
    const refused = outboxAfter(onWire, { event: 'changes-done', changes: first.changes, saved: doc({ boreMm: 80 }) })
    expect(refused.changes).toMatchObject([{ value: 86, base: 80 }])
  })
  it('an object read back with its keys in another order is the same value', () =>
    expect(conflictsOf(typed(emptyOutbox, 'choices.fuel', { a: 1, b: 2 }, doc({})), { choices: { fuel: { b: 2, a: 1 } } })).toEqual([]))
  it.each([
    ['mine', [{ path: bore, value: 86, base: 82, sent: undefined }]],
    ['theirs', []],
  ] as const)('settled as %s', (take, changes) => {
    const box = outboxAfter(typed(emptyOutbox, bore, 86, doc({ boreMm: 80 })), {
      event: 'settled',
      path: bore,
      take,
      saved: doc({ boreMm: 82 }),
    })
    expect(box.changes).toEqual(changes)
    expect(conflictsOf(box, doc({ boreMm: 82 }))).toEqual([])
  })
})

/** A server and another person at it, and one browser whose every step may fail in every way that it can. */
class World {
  server = { version: 1, ...doc({ boreMm: 80, strokeMm: 90 }) } as { version: number } & ReturnType<typeof doc>
  readings: string[] = []
  saved = this.server
  box = emptyOutbox
  recorded: string[] = []
  /** the last value wanted for a field, by whoever knew of what stood there */
  wanted: Record<string, unknown> = { [bore]: 80, [stroke]: 90 }

  /** what the other person last wrote */
  others: Record<string, unknown> = {}

  write(patch: unknown): void {
    this.server = { ...(mergePatch(this.server, patch) as typeof this.server), version: this.server.version + 1 }
  }
  type(path: string, value: number): void {
    this.box = typed(this.box, path, value, this.saved)
    this.wanted[path] = value
  }
  other(path: string, value: number): void {
    this.write({ facts: { engine: { [path.split('.')[2]]: value } } })
    this.others[path] = value
    // unless this browser has one of its own on the way, theirs is what should stand
    if (!this.box.changes.some((c) => c.path === path)) this.wanted[path] = value
  }
  note(id: string): void {
    this.box = outboxAfter(this.box, note(id))
    this.recorded.push(id)
  }
  /**
   * `lost` is where the answer goes astray: before the server had it, after it, or nowhere.
   * @param during what is typed while it is on the wire
   */
  send(lost: 'before' | 'after' | 'no', during: { path: string; value: number } | null = null): void {
    if (lost === 'before') return
    for (const { id } of this.box.readings) {
      if (!this.readings.includes(id)) this.readings.push(id)
      if (lost === 'after') return
      this.box = outboxAfter(this.box, { event: 'reading-done', id })
    }
    const { changes } = this.box
    if (changes.length === 0 || conflictsOf(this.box, this.saved).length > 0) return
    this.box = outboxAfter(this.box, { event: 'sending', changes })
    if (Object.keys(this.others).length === 0) expect(conflictsOf(this.box, this.saved)).toEqual([])
    if (this.saved.version !== this.server.version) {
      if (lost === 'no') this.saved = this.server
      return
    }
    this.write(patchOf(changes, this.saved))
    if (during) this.type(during.path, during.value)
    if (lost === 'after') return
    this.saved = this.server
    this.box = outboxAfter(this.box, { event: 'changes-done', changes, saved: this.saved })
  }
  reload(): void {
    this.box = JSON.parse(JSON.stringify(this.box)) as Outbox
    this.saved = this.server
  }
  /** every conflict is decided for one side, and everything goes through */
  finish(take: 'mine' | 'theirs'): void {
    for (let i = 0; i < 6; i++) {
      for (const { path } of conflictsOf(this.box, this.saved)) {
        this.box = outboxAfter(this.box, { event: 'settled', path, take, saved: this.saved })
        if (take === 'theirs') this.wanted[path] = this.others[path]
      }
      this.send('no')
    }
  }
}
const path = fc.constantFrom(bore, stroke)
const value = fc.integer({ min: 60, max: 120 })
const step = fc.oneof(
  fc.record({ do: fc.constant('type' as const), path, value }),
  fc.record({ do: fc.constant('other' as const), path, value }),
  fc.record({ do: fc.constant('note' as const) }),
  fc.record({
    do: fc.constant('send' as const),
    lost: fc.constantFrom('before' as const, 'after' as const, 'no' as const),
    during: fc.option(fc.record({ path, value })),
  }),
  fc.record({ do: fc.constant('reload' as const) }),
)

it('in whatever order typing, 412, silence and reload come: nothing is lost, nothing is recorded twice, nobody is written over unasked', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 30 }), fc.constantFrom('mine' as const, 'theirs' as const), (steps, take) => {
      const world = new World()
      steps.forEach((s, i) => {
        if (s.do === 'type') world.type(s.path, s.value)
        else if (s.do === 'other') world.other(s.path, s.value)
        else if (s.do === 'note') world.note(`note ${i}`)
        else if (s.do === 'send') world.send(s.lost, s.during)
        else world.reload()
      })
      world.finish(take)
      expect(waitingIn(world.box)).toBe(0)
      expect(world.readings.toSorted()).toEqual(world.recorded.toSorted())
      expect({ [bore]: world.server.facts.engine['boreMm' as never], [stroke]: world.server.facts.engine['strokeMm' as never] }).toEqual(
        world.wanted,
      )
    }),
    { numRuns: 400 },
  )
})
