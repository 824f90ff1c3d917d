import { z } from 'zod'
import type { Basis, Proof, Source, VerdictFrom } from './evidence.ts'
import type { FactInput } from './fact.ts'
import type { Said } from './say.ts'
import type { EntryTable } from './told.ts'
import { zodErrors } from './wording.ts'

/** One field of an entry's form. `tick` is a thing that must be true before it can be recorded. */
export interface EntryField {
  label: string
  input: FactInput | { kind: 'tick' } | { kind: 'cylinders' }
  why?: string
}
/** A button that records the entry with some of its value given. */
interface EntryAnswer<V> {
  label: string
  value: Partial<V>
}
/** One kind of entry, told once: schema, words of the logbook, fields of its form, its tool. */
export interface EntrySpec<S extends z.ZodObject = z.ZodObject> {
  schema: S
  title: string
  /** what it proves and when it no longer does; null: it is an observation or an act, and proves nothing */
  proof: Proof<z.infer<S>> | null
  says: (value: z.infer<S>) => Said
  fields?: { readonly [K in keyof z.infer<S>]?: EntryField }
  /** left out: one button, "Record" */
  answers?: readonly EntryAnswer<z.infer<S>>[]
  /** what it is measured with */
  tool?: string
  /** `app`: computed from a stream, a log or a file, nobody types it; `server`: it stands for what a route did, and comes by no other way */
  writtenBy?: 'app' | 'server'
}
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type EntrySpecs = Readonly<Record<string, EntrySpec<any>>>
export const entry = <S extends z.ZodObject>(spec: EntrySpec<S>): EntrySpec<S> => spec
export type EntryValues<T extends EntrySpecs> = { [K in keyof T]: z.infer<T[K]['schema']> }

export const quantityField = (
  label: string,
  dimension: (FactInput & { kind: 'quantity' })['dimension'],
  why?: string,
  decimals?: number,
): EntryField => ({
  label,
  input: { kind: 'quantity', dimension, decimals },
  why,
})
export const choiceField = (label: string, options: Readonly<Record<string, string>>, why?: string): EntryField => ({
  label,
  input: { kind: 'choice', options: Object.entries(options).map(([value, text]) => ({ value, label: text })) },
  why,
})
export const yesNoField = (label: string, yes = 'yes', no = 'no'): EntryField => ({
  label,
  input: {
    kind: 'choice',
    options: [
      { value: true, label: yes },
      { value: false, label: no },
    ],
  },
})
export const textField = (label: string, why?: string): EntryField => ({ label, input: { kind: 'text' }, why })
export const tick = (label: string): EntryField => ({ label, input: { kind: 'tick' } })

export type EntryKind = keyof EntryTable & string

/** A reading as it is kept: append-only; a wrong one is superseded by a later one, never changed. A union, told apart by `kind`. */
export type StoredReading<K extends EntryKind = EntryKind> = {
  [P in K]: {
    id: string
    kind: P
    value: EntryTable[P]
    instrument: string | null
    who: string
    takenAt: string
    conditions: string | null
    supersedes: string | null
    /** its place in the build's one order, given by the server; absent while it is on its way */
    seq?: number
    source?: Source
    receivedAt?: string
    /** the last `seq` that its browser knew when it was made; absent: all of them */
    seen?: number | null
    client?: string | null
    clientSeq?: number | null
    /** what it was taken on; null: recorded before that was kept, absent: as the car is now */
    basis?: Basis | null
    /** what the app worked it out from; null: nobody worked it out */
    from?: VerdictFrom | null
  }
}[K]

export function readingsOf<K extends EntryKind>(readings: readonly StoredReading[], kind: K): StoredReading<K>[] {
  return [...(byKind(readings).get(kind) ?? [])] as unknown as StoredReading<K>[]
}
/** rules ask one list for kind after kind: it is gone through once, and again when it has grown */
function byKind(readings: readonly StoredReading[]): ReadonlyMap<string, readonly StoredReading[]> {
  const known = indexed.get(readings)
  if (known && known.length === readings.length && known.last === readings.at(-1)) return known.kinds
  const kinds = new Map<string, StoredReading[]>()
  for (const r of readings) {
    const list = kinds.get(r.kind)
    if (list) list.push(r)
    else kinds.set(r.kind, [r])
  }
  indexed.set(readings, { length: readings.length, last: readings.at(-1), kinds })
  return kinds
}
const indexed = new WeakMap<
  readonly StoredReading[],
  { length: number; last: StoredReading | undefined; kinds: ReadonlyMap<string, readonly StoredReading[]> }
>()

/** The last of a kind, in the server's order. */
export const latest = <K extends EntryKind>(readings: readonly StoredReading[], kind: K): StoredReading<K> | null =>
  (byKind(readings).get(kind)?.at(-1) as StoredReading<K> | undefined) ?? null

/** What was recorded after the last entry that ends an age: all of them when there is none. */
export const sinceLast = (readings: readonly StoredReading[], ends: (r: StoredReading) => boolean): readonly StoredReading[] =>
  readings.slice(readings.findLastIndex(ends) + 1)

/** What is wrong with one field of an entry, in words with bound and unit; null when it can be taken. */
export function checkEntryField(spec: EntrySpec, field: string, value: unknown): string | null {
  const schema = (spec.schema.shape as Record<string, z.ZodType | undefined>)[field]
  if (!schema || value === undefined) return null
  const parsed = z.strictObject({ [field]: schema }).safeParse({ [field]: value })
  return parsed.success ? null : (zodErrors(parsed.error)[0]?.message ?? 'cannot be taken')
}

/** "melonised-steel" as words. */
export const spaced = (id: string): string => id.replaceAll('-', ' ')
