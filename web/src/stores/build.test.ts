import { createPinia, disposePinia, type Pinia, setActivePinia } from 'pinia'
import { watch } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { evaluate, mergePatch, type BuildData } from '@vectum/core'
import { keptReadings } from '../testing/open-build.fixture.ts'
import { nobodySignsIn, signedIn } from '../testing/me.fixture.ts'
import { useBuild } from './build.ts'
import { useMe } from './me.ts'

/** A server in miniature: one build, versions, and a switch for its faults. */
function fakeServer() {
  const data: BuildData & { version: number } = {
    id: 'b1',
    title: 'Test',
    facts: { engine: { cylinders: 6 } },
    choices: {},
    readings: [],
    tunes: [],
    logs: [],
    version: 1,
  }
  const state = { down: false, database: true, sent: [] as string[], slow: Promise.resolve(), slowRead: Promise.resolve() }
  const full = () => ({ ...data, readings: (data.readings = keptReadings(data)), createdAt: '', updatedAt: '', ...evaluate(data) })
  const answer = (status: number, body: unknown) =>
    new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })
  const fetcher = vi.fn(async (url: string, options: RequestInit = {}) => {
    if (state.down) throw new TypeError('fetch failed')
    if (!state.database) return answer(503, { code: 'DATABASE_DOWN', detail: 'down' })
    const method = options.method ?? 'GET'
    if (method !== 'GET') state.sent.push(`${method} ${String(url)}`)
    if (method === 'PATCH') {
      await state.slow
      const version = Number(/\d+/.exec(String((options.headers as Record<string, string>)['if-match']))![0])
      if (version !== data.version) return answer(412, { code: 'CHANGED_UNDERNEATH', detail: 'changed', current: full() })
      const patch = JSON.parse(String(options.body)) as object
      if (JSON.stringify(patch).includes('99999'))
        return answer(400, {
          code: 'INVALID_INPUT',
          detail: 'no',
          errors: [{ path: 'facts.engine.redlineRpm', message: 'must be at most 12000 rpm' }],
        })
      Object.assign(data, mergePatch(data, patch), { version: version + 1 })
    } else if (method === 'PUT') {
      const id = String(url).split('/').at(-1)!
      const body = JSON.parse(String(options.body)) as { kind: never; value: never }
      if (!data.readings.some((r) => r.id === id))
        data.readings.push({
          id,
          ...body,
          instrument: null,
          who: 'x',
          takenAt: new Date().toISOString(),
          conditions: null,
          supersedes: null,
        })
    }
    const told = answer(200, full())
    if (method === 'GET') await state.slowRead
    return told
  })
  return { data, state, fetcher }
}

let server: ReturnType<typeof fakeServer>
const settled = () => vi.waitFor(() => expect(useBuild().saving).toBe(false))
/** as a page that was just loaded, and knows who works here */
let stores: Pinia | null = null
function freshStores(): void {
  // stores share the browser's storage: one of an earlier page would write its own back
  if (stores) disposePinia(stores)
  setActivePinia((stores = createPinia()))
  useMe().take(nobodySignsIn)
}
beforeEach(() => {
  localStorage.clear()
  localStorage.setItem('vectum.person', 'Ada')
  freshStores()
  server = fakeServer()
  vi.stubGlobal('fetch', server.fetcher)
})
afterEach(() => vi.unstubAllGlobals())

describe('the build on the screen', () => {
  it('shows a change and its findings at once, then saves it', async () => {
    const builds = useBuild()
    await builds.open('b1')
    builds.change('facts.electrics.polarity', 'positive-earth')
    expect(builds.station('survey')!.state).toBe('blocked')
    await vi.waitFor(() => expect(builds.pendingCount).toBe(0))
    expect(server.data.facts.electrics).toEqual({ polarity: 'positive-earth' })
    builds.change('facts.electrics.polarity', undefined)
    await vi.waitFor(() => expect(builds.pendingCount).toBe(0))
    expect(server.data.facts.electrics).toEqual({})
  })

  it('an answer that was overtaken does not bring back what stood there before', async () => {
    const builds = useBuild()
    await builds.open('b1')
    let answer!: () => void
    server.state.slowRead = new Promise((resolve) => (answer = resolve))
    const late = builds.reload()
    await vi.waitFor(() => expect(server.fetcher).toHaveBeenCalledTimes(2))
    builds.change('facts.engine.boreMm', 86)
    await vi.waitFor(() => expect(builds.pendingCount).toBe(0))
    answer()
    await late
    expect(builds.current!.facts.engine!.boreMm).toBe(86)
  })

  it('reads the bench only when what was turned before is there, however long that takes', async () => {
    const builds = useBuild()
    await builds.open('b1')
    vi.useFakeTimers()
    let answer!: () => void
    server.state.slow = new Promise((resolve) => (answer = resolve))
    builds.change('choices.bench.faults', [{ id: 'leads-crossed' }])
    const read = builds.readBench('spark.order')
    await vi.advanceTimersByTimeAsync(60_000)
    expect(server.state.sent).toEqual(['PATCH /api/builds/b1'])
    vi.useRealTimers()
    answer()
    await read
    expect(server.state.sent).toEqual(['PATCH /api/builds/b1', 'POST /api/builds/b1/bench/readings'])
  })

  it('keeps what was typed while the server is away, over a reload, and sends it when it is back', async () => {
    const builds = useBuild()
    await builds.open('b1')
    server.state.down = true
    builds.change('facts.engine.boreMm', 86)
    builds.record('note', { text: 'kept' })
    await settled()
    expect(builds.pendingCount).toBe(2)
    expect(builds.current!.facts.engine!.boreMm).toBe(86)
    // a reload: a new store over the same browser storage
    await new Promise((resolve) => setTimeout(resolve))
    freshStores()
    server.state.down = false
    const again = useBuild()
    await again.open('b1')
    await vi.waitFor(() => expect(again.pendingCount).toBe(0))
    expect(server.data.facts.engine!.boreMm).toBe(86)
    expect(server.data.readings.map((r) => r.value)).toEqual([{ text: 'kept' }])
  })

  it('holds what one person typed back from another, and sends it under the first when they sign in here', async () => {
    useMe().take(signedIn('Ada'))
    const builds = useBuild()
    await builds.open('b1')
    server.state.down = true
    builds.change('facts.engine.boreMm', 86)
    builds.record('note', { text: 'by Ada' })
    await settled()
    server.state.down = false
    useMe().lost()
    await builds.flush()
    expect(server.data.readings).toEqual([])
    useMe().take(signedIn('Bob'))
    builds.record('note', { text: 'by Bob' })
    await vi.waitFor(() => expect(builds.pendingCount).toBe(0))
    expect(server.data.readings.map((r) => r.value)).toEqual([{ text: 'by Bob' }])
    expect(builds.held).toEqual([{ name: 'Ada', count: 2 }])
    expect(builds.current!.facts.engine!.boreMm).not.toBe(86)
    useMe().lost()
    useMe().take(signedIn('Ada'))
    await vi.waitFor(() => expect(server.data.readings.map((r) => r.value)).toEqual([{ text: 'by Bob' }, { text: 'by Ada' }]))
    expect(server.data.facts.engine!.boreMm).toBe(86)
    expect(builds.held).toEqual([])
  })

  it('sends nothing before it knows who works here, nor what nobody signed before somebody takes it as theirs', async () => {
    const builds = useBuild()
    await builds.open('b1')
    server.state.down = true
    builds.record('note', { text: 'from before' })
    await settled()
    server.state.down = false
    disposePinia(stores!)
    setActivePinia((stores = createPinia()))
    const again = useBuild()
    await again.open('b1')
    await again.flush()
    expect(server.data.readings).toEqual([])
    useMe().take(signedIn('Bob'))
    await again.flush()
    expect([server.data.readings, again.held]).toEqual([[], [{ name: null, count: 1 }]])
    again.signHeld(true)
    await vi.waitFor(() => expect(server.data.readings).toHaveLength(1))
  })

  it('lets go of what nobody signed, and only of that', async () => {
    const builds = useBuild()
    await builds.open('b1')
    server.state.down = true
    builds.record('note', { text: 'from before' })
    await settled()
    useMe().take(signedIn('Ada'))
    builds.record('note', { text: 'by Ada' })
    await settled()
    builds.signHeld(false)
    expect([builds.held, builds.pendingCount]).toEqual([[], 1])
  })

  it('a reader is told that nothing was changed, and nothing waits', async () => {
    useMe().take(signedIn('Rhea', 'reader'))
    const builds = useBuild()
    await builds.open('b1')
    builds.change('facts.engine.boreMm', 86)
    builds.record('note', { text: 'x' })
    expect([builds.pendingCount, builds.refused]).toEqual([0, expect.stringContaining('Rhea is a reader')])
  })

  it('keeps what another tab of the same browser wrote in the same instant', async () => {
    const builds = useBuild()
    await builds.open('b1')
    server.state.down = true
    builds.change('facts.engine.boreMm', 86)
    // the other tab writes; no event has told this one yet
    const standing = JSON.parse(localStorage.getItem('vectum.pending')!) as { b1: { changes: object[] } }
    standing.b1.changes.push({ path: 'facts.engine.strokeMm', value: 91, base: null })
    localStorage.setItem('vectum.pending', JSON.stringify(standing))
    builds.record('note', { text: 'mine' })
    await settled()
    const { b1 } = JSON.parse(localStorage.getItem('vectum.pending')!) as { b1: { changes: { path: string }[]; readings: unknown[] } }
    expect(b1.changes.map((c) => c.path)).toEqual(['facts.engine.boreMm', 'facts.engine.strokeMm'])
    expect(b1.readings).toHaveLength(1)
  })

  it('keeps it as well while only the database is down', async () => {
    const builds = useBuild()
    await builds.open('b1')
    server.state.database = false
    builds.change('facts.engine.boreMm', 90)
    await settled()
    expect(builds.pendingCount).toBe(1)
    server.state.database = true
    await builds.flush()
    expect(server.data.facts.engine!.boreMm).toBe(90)
  })

  it('goes through when somebody changed another field meanwhile', async () => {
    const builds = useBuild()
    await builds.open('b1')
    Object.assign(server.data, { version: 2, facts: { engine: { cylinders: 6, strokeMm: 90 } } })
    builds.change('facts.engine.boreMm', 86)
    await vi.waitFor(() => expect(builds.pendingCount).toBe(0))
    expect(server.data.facts.engine).toEqual({ cylinders: 6, strokeMm: 90, boreMm: 86 })
    expect(builds.conflicts).toEqual([])
  })

  it.each(['mine', 'theirs'] as const)('asks when somebody changed the same field, and takes %s', async (take) => {
    const builds = useBuild()
    await builds.open('b1')
    Object.assign(server.data, { version: 2, facts: { engine: { cylinders: 8 } } })
    builds.change('facts.engine.cylinders', 4)
    await vi.waitFor(() => expect(builds.conflicts).toEqual([{ path: 'facts.engine.cylinders', mine: 4, theirs: 8 }]))
    expect(server.data.facts.engine!.cylinders).toBe(8)
    builds.settle('facts.engine.cylinders', take)
    await vi.waitFor(() => expect(builds.pendingCount).toBe(0))
    expect(server.data.facts.engine!.cylinders).toBe(take === 'mine' ? 4 : 8)
  })

  it('asks as well when the other edit is only met after a reload', async () => {
    const builds = useBuild()
    await builds.open('b1')
    server.state.down = true
    builds.change('facts.engine.cylinders', 4)
    await settled()
    Object.assign(server.data, { version: 2, facts: { engine: { cylinders: 8 } } })
    await new Promise((resolve) => setTimeout(resolve))
    freshStores()
    server.state.down = false
    const again = useBuild()
    await again.open('b1')
    expect(again.conflicts).toEqual([{ path: 'facts.engine.cylinders', mine: 4, theirs: 8 }])
    expect(server.data.facts.engine!.cylinders).toBe(8)
  })

  it('says why when the server will never take a value, and lets go of it', async () => {
    const builds = useBuild()
    await builds.open('b1')
    builds.change('facts.engine.redlineRpm', 99999)
    await vi.waitFor(() => expect(builds.refused).toContain('must be at most 12000 rpm'))
    expect(builds.pendingCount).toBe(0)
    expect(builds.current!.facts.engine!.redlineRpm).toBeUndefined()
  })

  it('a reading never leaves the screen while it is being saved', async () => {
    const builds = useBuild()
    await builds.open('b1')
    const seen: number[] = []
    const stop = watch(
      () => builds.current!.readings.filter((r) => r.kind === 'spark.lock-out').length,
      (n) => seen.push(n),
      { flush: 'sync' },
    )
    builds.record('spark.lock-out', { moves: false })
    await settled()
    stop()
    expect(seen.length).toBeGreaterThan(0)
    expect(Math.min(...seen)).toBeGreaterThan(0)
    expect(builds.current!.readings.filter((r) => r.kind === 'spark.lock-out')).toHaveLength(1)
  })
})

describe('car and rehearsal', () => {
  it('what is entered while practising stays there, and the car shows nothing of it', async () => {
    const builds = useBuild()
    await builds.open('b1')
    builds.record('spark.lock-out', { moves: false })
    builds.view = 'rehearsal'
    builds.record('spark.stroke', { method: 'thumb', inStep: true })
    builds.record('spark.polarity', { right: true, method: 'lamp' })
    const kinds = () => builds.current!.readings.map((r) => r.kind)
    expect(kinds()).toEqual(['spark.lock-out', 'spark.stroke', 'spark.polarity'])
    builds.view = 'car'
    expect(kinds()).toEqual(['spark.lock-out'])
    await settled()
    expect(kinds()).toEqual(['spark.lock-out'])
  })
  it('what is taken out of a list while practising is gone, before and after it was sent', async () => {
    const builds = useBuild()
    await builds.open('b1')
    builds.view = 'rehearsal'
    builds.change('choices.wiring.circuits.pump.fuseA', 20)
    builds.change('choices.wiring.circuits.pump.note', 'thin')
    await settled()
    const pump = () => builds.current!.choices.wiring?.circuits?.pump
    expect(pump()).toEqual({ fuseA: 20, note: 'thin' })
    builds.change('choices.wiring.circuits.pump.fuseA', undefined)
    expect(pump()).toEqual({ note: 'thin' })
    await settled()
    expect(pump()).toEqual({ note: 'thin' })
  })
})

describe('who is working', () => {
  it('is asked once, before the first entry, which waits for the name', async () => {
    localStorage.removeItem('vectum.person')
    freshStores()
    const builds = useBuild()
    await builds.open('b1')
    builds.record('note', { text: 'seen' })
    expect([builds.pendingCount, builds.unnamed.length]).toEqual([0, 1])
    builds.sign('Bea')
    expect([builds.unnamed.length, builds.current!.readings.map((r) => [r.value, r.who])]).toEqual([0, [[{ text: 'seen' }, 'Bea']]])
    builds.record('note', { text: 'more' })
    expect(builds.unnamed).toEqual([])
    await settled()
  })
  it('closed without a name, nothing is recorded', async () => {
    localStorage.removeItem('vectum.person')
    freshStores()
    const builds = useBuild()
    await builds.open('b1')
    builds.record('note', { text: 'seen' })
    builds.dropUnnamed()
    expect([builds.unnamed.length, builds.current!.readings]).toEqual([0, []])
  })
})

describe('an edit that proofs rest on', () => {
  const proved = async () => {
    Object.assign(server.data, { facts: { engine: { cylinders: 4, firingOrder: [1, 3, 4, 2] } }, choices: { spark: { trigger: 'hall' } } })
    const builds = useBuild()
    await builds.open('b1')
    builds.record('spark.polarity', { right: true, method: 'lamp' })
    await vi.waitFor(() => expect(builds.pendingCount).toBe(0))
    return builds
  }
  it('waits until a person has said what it was, and says which proofs', async () => {
    const builds = await proved()
    builds.change('choices.spark.sensor', 'optical')
    expect(builds.edit).toMatchObject({ path: 'choices.spark.sensor', lost: ['Polarity of the sensor'] })
    expect([builds.pendingCount, builds.current!.choices.spark!.sensor]).toEqual([0, undefined])
  })
  it.each([
    ['car', undefined],
    ['record', 'record'],
  ] as const)('goes to the server as done on the %s', async (how, sent) => {
    const builds = await proved()
    builds.change('choices.spark.sensor', 'optical', how)
    await vi.waitFor(() => expect(builds.pendingCount).toBe(0))
    const patches = server.fetcher.mock.calls.filter(([, o]) => o?.method === 'PATCH').map(([, o]) => JSON.parse(String(o!.body)) as object)
    expect(patches).toEqual([{ choices: { spark: { sensor: 'optical' } }, ...(sent ? { change: sent } : {}) }])
  })
  it('a setting of the unit, or a part no proof rests on, goes at once', async () => {
    const builds = await proved()
    builds.change('choices.spark.referenceDeg', 50)
    builds.change('facts.engine.boreMm', 86)
    expect(builds.edit).toBeNull()
    await vi.waitFor(() => expect(builds.pendingCount).toBe(0))
  })
})
