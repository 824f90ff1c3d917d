import {
  changesBetween,
  mergePatch,
  mergePatches,
  patchBetween,
  patchFor,
  type ReadingInput,
  valueAt,
  type VerdictFrom,
  type VerdictKind,
} from '@vectum/core'
import type { Signer } from './me.ts'

/** Whose it is: it leaves under that person alone. Nobody's was typed before anybody signed in here. */
interface Signed {
  by?: Signer
}
/** A field as it was typed, on its way to the server. */
export interface PendingChange extends Signed {
  path: string
  value: unknown
  /** what stood there when it was typed: if that changed underneath, a person decides */
  base: unknown
  /** the values put on the wire, the last and those before it: an answer may have been lost, so finding one of them on the server is no surprise */
  sent?: { value: unknown; before?: unknown[] }
  /** its place among everything this browser made; what was made first is sent first */
  order?: number
  /** only the record was wrong; left out: it was done on the car */
  change?: 'record'
}
/** An entry on its way. */
interface PendingEntry extends Signed {
  id: string
  order?: number
  body: ReadingInput
  ask?: undefined
}
/** A verdict asked of the server: it is worked out from the entries before it in the queue, and asked again by the same id is given once. */
interface PendingAsk extends Signed {
  id: string
  order?: number
  ask: { kind: VerdictKind; from: VerdictFrom }
  body?: undefined
}
export type PendingReading = PendingEntry | PendingAsk
/** What the browser holds of one build until the server has it. */
export interface Outbox {
  changes: PendingChange[]
  readings: PendingReading[]
}
export interface Conflict {
  path: string
  mine: unknown
  theirs: unknown
}
/** What can happen to it. An answer that never came is no event: everything stays and is sent again. */
export type OutboxEvent =
  /** `saved` is the build as this browser last had it from the server */
  | { event: 'typed'; path: string; value: unknown; saved: object | null; change?: 'record'; order?: number; by?: Signer }
  | { event: 'recorded'; reading: PendingReading }
  | { event: 'sending'; changes: PendingChange[] }
  /** the server has these changes, or will never take them; `saved` is the build as it stands there then */
  | { event: 'changes-done'; changes: PendingChange[]; saved: object | null }
  /** the server has this reading, or will never take it */
  | { event: 'reading-done'; id: string }
  /** who is signed in takes what nobody had signed as their own, or lets it go */
  | { event: 'unsigned'; take: Signer | null }
  /** a person has decided between their own value and the one that came in between */
  | { event: 'settled'; path: string; take: 'mine' | 'theirs'; saved: object | null; by?: Signer }

/** The entries among what waits; a verdict is no entry before the server has worked it out. */
export const entriesOf = (readings: readonly PendingReading[]): PendingEntry[] =>
  readings.filter((r): r is PendingEntry => r.body !== undefined)

export const emptyOutbox: Outbox = { changes: [], readings: [] }
export const waitingIn = (box: Outbox): number => box.changes.length + box.readings.length

const isOf = (one: Signed, signer: Signer | null): boolean => signer === null || one.by?.id === signer.id
/** What may leave while this person is signed in; everything, while nobody signs in at all. */
export const ofSigner = (box: Outbox, signer: Signer | null): Outbox => ({
  changes: box.changes.filter((c) => isOf(c, signer)),
  readings: box.readings.filter((r) => isOf(r, signer)),
})
/** What waits for somebody else to sign in here: how much of each, nobody's under null. */
export function heldBack(box: Outbox, signer: Signer | null): { name: string | null; count: number }[] {
  const held = [...box.changes, ...box.readings].filter((one) => !isOf(one, signer))
  const names = [...new Set(held.map((one) => one.by?.name ?? null))]
  return names.map((name) => ({ name, count: held.filter((one) => (one.by?.name ?? null) === name).length }))
}

/** Equal by what they say, in whatever order the server keeps the keys. */
const same = (a: unknown, b: unknown): boolean => changesBetween(a, b).length === 0
/** The one of these that is a change by what it says: what was read back from the browser is another object. */
const like = (c: PendingChange, these: PendingChange[]): PendingChange | undefined =>
  these.find((s) => s.path === c.path && same(s.value, c.value))

const KEPT_SENT = 20
const sentOf = ({ sent }: PendingChange): unknown[] => (sent ? [sent.value, ...(sent.before ?? [])] : [])
const sentAlso = (c: PendingChange): PendingChange['sent'] => {
  const before = sentOf(c).filter((value) => !same(value, c.value))
  return { value: c.value, ...(before.length ? { before: before.slice(0, KEPT_SENT) } : {}) }
}

/** The outbox after an event. Pure: the store sends and keeps, this says what is left. */
export function outboxAfter(box: Outbox, event: OutboxEvent): Outbox {
  switch (event.event) {
    case 'typed': {
      const { path, value, saved, change, order, by } = event
      const before = box.changes.find((c) => c.path === path && c.by?.id === by?.id) ?? { base: valueAt(saved, path) }
      return {
        ...box,
        changes: [
          ...box.changes.filter((c) => c.path !== path || c.by?.id !== by?.id),
          { ...before, path, value, ...(by ? { by } : {}), ...(change ? { change } : {}), ...(order === undefined ? {} : { order }) },
        ],
      }
    }
    case 'recorded':
      return { ...box, readings: [...box.readings, event.reading] }
    case 'sending':
      return { ...box, changes: box.changes.map((c) => (like(c, event.changes) ? { ...c, sent: sentAlso(c) } : c)) }
    case 'changes-done': {
      // typed on while it was on the wire: what it wrote itself is what now stands there
      const goesOn = (c: PendingChange) => event.changes.some((s) => s.path === c.path && s.by?.id === c.by?.id)
      const rebased = (c: PendingChange) => (goesOn(c) ? { ...c, base: valueAt(event.saved, c.path), sent: undefined } : c)
      return { ...box, changes: box.changes.filter((c) => !like(c, event.changes)).map(rebased) }
    }
    case 'reading-done':
      return { ...box, readings: box.readings.filter((r) => r.id !== event.id) }
    case 'unsigned': {
      const { take } = event
      const signed = <T extends Signed>(list: T[]): T[] =>
        take ? list.map((one) => (one.by ? one : { ...one, by: take })) : list.filter((one) => one.by)
      return { changes: signed(box.changes), readings: signed(box.readings) }
    }
    case 'settled': {
      const { path, take, saved, by } = event
      const asked = (c: PendingChange) => c.path === path && c.by?.id === by?.id
      const mine = { base: valueAt(saved, path), sent: undefined }
      const changes = take === 'mine' ? box.changes.map((c) => (asked(c) ? { ...c, ...mine } : c)) : box.changes.filter((c) => !asked(c))
      return { ...box, changes }
    }
  }
}

/** Where somebody else has written since a value was typed: against the build as it stands on the server now. While there is one, nothing is sent. */
export const conflictsOf = (box: Outbox, saved: object | null): Conflict[] =>
  box.changes
    .map((c) => ({ ...c, theirs: valueAt(saved, c.path) }))
    .filter((c) => !same(c.theirs, c.base) && !same(c.theirs, c.value) && !sentOf(c).some((value) => same(c.theirs, value)))
    .map(({ path, value, theirs }) => ({ path, mine: value, theirs }))

const orderOf = (one: { order?: number }): number => one.order ?? 0
/**
 * What is sent next: an entry when it was made before every change that waits, else the changes made before it that were done the same way. An
 * edit and the proof taken after it reach the server in that order, so that the proof is taken on the car as it was edited.
 */
export function nextToSend(box: Outbox): { reading: PendingReading } | { changes: PendingChange[] } | null {
  const [reading] = box.readings
  const first = box.changes.reduce<PendingChange | null>((least, c) => (least && orderOf(least) <= orderOf(c) ? least : c), null)
  if (reading && (!first || orderOf(reading) < orderOf(first))) return { reading }
  if (!first) return null
  const until = reading ? orderOf(reading) : Infinity
  return { changes: box.changes.filter((c) => c.change === first.change && orderOf(c) <= until) }
}

/** A change as a merge patch on what stands: the value takes the whole place, so that what is no longer in it is taken out. */
const onto = (standing: unknown, { path, value }: Pick<PendingChange, 'path' | 'value'>) =>
  patchFor(path, value === undefined ? undefined : patchBetween(valueAt(standing, path), value))

/** All changes as one merge patch (RFC 7396) on the build as the server has it. */
export const patchOf = (changes: PendingChange[], saved: object | null): unknown =>
  changes.reduce<unknown>((all, c) => mergePatches(all, onto(saved, c)), {})

/** A document with the changes in it. */
export const withChanges = <T>(document: T, changes: PendingChange[]): T =>
  changes.reduce<unknown>((data, c) => mergePatch(data, onto(data, c)), document) as T
