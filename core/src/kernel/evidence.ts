import { z } from 'zod'
import type { BuildData, Told } from './build.ts'
import type { Context } from './context.ts'
import { type EntryKind, type EntrySpec, readingsOf, type StoredReading } from './entry.ts'
import { type Said, say } from './say.ts'

/** Who or what witnessed an entry: set by the server, never by a client. */
export const sources = ['person', 'bench', 'device', 'app', 'imported'] as const
export type Source = (typeof sources)[number]

/** What the app worked a verdict out from: kept with the verdict, which falls with the entries it names. */
export const VerdictFrom = z.strictObject({
  logId: z.uuid().optional(),
  fileId: z.uuid().optional(),
  sessionId: z.uuid().optional().describe('of the live session, as its hello names it'),
  entryIds: z.array(z.uuid()).max(200).optional(),
})
export type VerdictFrom = z.infer<typeof VerdictFrom>

/** The slice of the car that a proof was taken on: plain data, only what was told. */
export type Basis = Readonly<Record<string, unknown>>

/** An entry as a declaration sees it: the union of all kinds hangs on the declarations and cannot be named in them. */
export interface Before {
  kind: string
  value: unknown
}

/** What a kind of entry proves, and when it no longer does. */
export interface Proof<V> {
  /** what it is about, where one kind has several: a joint */
  subject?: (value: V) => string
  /** left out: every entry of the kind is a pass. A failure is no proof; it counts until a later pass. */
  passes?: (value: V) => boolean
  /** facts and choices that the basis is read from, as beginnings of paths */
  parts: readonly string[]
  basis: (told: Told, value: V) => Basis
  /** whether what was proved then covers the car of now; left out: it must be equal */
  covers?: (then: Basis, now: Basis) => boolean
  /** why this value is not enough, with its bound; null when it is. `before`: what stood on record when it was taken */
  limits?: (c: Context, value: V, before: readonly Before[]) => Said | null
  /** acts after which it must be done again */
  voidedBy?: readonly string[]
  /** a failure of these kinds refutes it too */
  refutedBy?: readonly string[]
  /** one recorded before bases were kept goes on standing until an act undoes it: what ran has run */
  standsFromBefore?: true
}

/** What an entry is worth now. */
export interface Standing {
  /** null: its kind proves nothing, or it is a failure */
  stands: boolean | null
  /** why it does not stand */
  because: Said | null
  /** what took it down: it was right when it was made, or its value never was enough */
  by: 'withdrawn' | 'replaced' | 'done-after' | 'value' | null
  /** rules look at it: in force, and no proof that has fallen */
  counts: boolean
  withdrawn: { who: string; at: string; reason: string } | null
}
export type Standings = ReadonlyMap<string, Standing>

/** Beyond this many hours a client's clock is no longer thought wrong: the time is one that a person stated, and it can only weaken. */
const STATED_PAST_H = 12

const LOST_INPUT = 'what it was worked out from was withdrawn'

/** Equal by what they say: a missing field and one that is not known are the same, and so is any order of fields. */
function equal(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (a === null || b === null || typeof a !== 'object' || typeof b !== 'object') return (a ?? null) === (b ?? null)
  if (Array.isArray(a) !== Array.isArray(b) || (Array.isArray(a) && a.length !== (b as unknown[]).length)) return false
  const x = a as Record<string, unknown>
  const y = b as Record<string, unknown>
  for (const key in x) if (!equal(x[key], y[key])) return false
  for (const key in y) if (!(key in x) && y[key] != null) return false
  return true
}

// the acts that the server writes are declared on a higher floor
const kindOf = (r: StoredReading): string => r.kind
const timeOf = (r: StoredReading): string => r.receivedAt ?? r.takenAt
const day = (iso: string): string => iso.slice(0, 10)

interface Changed {
  what: string
  paths: string[]
  fell: string[]
}
interface Judged {
  entry: StoredReading
  place: number
  proof: Proof<unknown> | null
  passes: boolean
  subject: string
  title: string
  /** when it was done, as far as it decides anything: by the server's clock, or as a person stated it long past */
  at: string
  stated: boolean
}
/** Whether an act comes after an entry was made, as far as anybody can know: in doubt it does. */
function comesAfter(act: Judged, one: Judged): boolean {
  if (act.place > one.place) return true
  const { entry } = one
  // made offline: the browser did not know of the act, unless it was its own and came first in its queue
  const unknown = entry.seen != null && act.entry.seq !== undefined && act.entry.seq > entry.seen
  const ownQueue = act.entry.client != null && act.entry.client === entry.client && (act.entry.clientSeq ?? 0) < (entry.clientSeq ?? 0)
  if (unknown && !ownQueue) return true
  return one.stated && act.at > one.at
}
const touches = (proof: Proof<unknown>, paths: readonly string[]): boolean =>
  paths.some((path) => proof.parts.some((part) => path.startsWith(part) || part.startsWith(path)))

/** Why a pass no longer speaks of the car as it is, or null: by what was done after it, or by what it was taken on. */
function undoneBy(one: Judged, acts: readonly Judged[], c: Context, rebased: ReadonlyMap<string, Basis>): Said | null {
  const { entry, place, subject } = one
  const proof = one.proof!
  for (const other of acts) {
    if (other === one || !comesAfter(other, one)) continue
    const { kind, who } = other.entry
    const on = `${day(timeOf(other.entry))}, ${who}`
    const sameThing = kind === entry.kind ? other.subject === subject : proof.refutedBy?.includes(kind)
    if (sameThing && other.proof && !other.passes) return `it failed when it was looked at again, ${on}`
    if (proof.voidedBy?.includes(kind)) return `${other.title} after it, ${on}`
    if (kindOf(other.entry) === 'car.changed') {
      const changed = other.entry.value as unknown as Changed
      const met = other.place > place ? changed.fell.includes(entry.id) : touches(proof, changed.paths)
      if (met) return say`${changed.what} after it, ${on}`
    }
  }
  if (entry.basis === null) return proof.standsFromBefore ? null : 'recorded before it was kept what it was taken on'
  const then = rebased.get(entry.id) ?? entry.basis
  const covers = proof.covers ?? equal
  return then && !covers(then, proof.basis(c.build, entry.value)) ? `taken ${day(entry.takenAt)} on what is no longer there` : null
}

/**
 * What every entry of a build is worth on the car as it is now. The order is the server's (`seq`); what is still on its way comes last. Client
 * clocks decide nothing, but for a time stated as long past, which can only weaken.
 * @param specs every kind of entry, with what it proves
 */
export function standingsOf(c: Context, specs: Readonly<Record<string, EntrySpec>>): Standings {
  const entries = c.build.readings
  const withdrawn = new Map<string, Standing['withdrawn']>()
  const rebased = new Map<string, Basis>()
  const replaced = new Set<string>()
  const byId = new Map(entries.map((e) => [e.id, e]))
  const subjectOf = (e: StoredReading): string => specs[e.kind]?.proof?.subject?.(e.value) ?? ''
  for (const e of entries) {
    if (kindOf(e) === 'entry.withdrawn') {
      const { entryId, reason } = e.value as unknown as { entryId: string; reason: string }
      if (!withdrawn.has(entryId)) withdrawn.set(entryId, { who: e.who, at: timeOf(e), reason })
    } else if (kindOf(e) === 'car.corrected') {
      for (const { id, basis } of (e.value as unknown as { rebased: { id: string; basis: Basis }[] }).rebased) rebased.set(id, basis)
    }
    const old = e.supersedes ? byId.get(e.supersedes) : undefined
    if (old && old.kind === e.kind && subjectOf(old) === subjectOf(e)) replaced.add(old.id)
  }
  const judged = entries.map((entry, place): Judged => {
    const proof = (specs[entry.kind]?.proof ?? null) as Proof<unknown> | null
    const passes = proof?.passes?.(entry.value) ?? true
    const received = timeOf(entry)
    const stated = received !== entry.takenAt && Date.parse(received) - Date.parse(entry.takenAt) > STATED_PAST_H * 3_600_000
    const title = specs[entry.kind]?.title ?? entry.kind
    return { entry, place, proof, passes, subject: subjectOf(entry), title, at: stated ? entry.takenAt : received, stated }
  })
  const saidStill = (id: string): boolean => !withdrawn.has(id) && !replaced.has(id)
  /** what a verdict was worked out from and nobody says any more */
  const lostInput = (e: StoredReading): boolean => e.from?.entryIds?.some((id) => !saidStill(id)) ?? false
  const stillSaid = (e: StoredReading): boolean => saidStill(e.id) && !lostInput(e)
  // only what can undo is looked through: most entries undo nothing
  const undoing = new Set<string>(['car.changed'])
  for (const { proof } of judged) proof?.voidedBy?.forEach((kind) => undoing.add(kind))
  const acts = judged.filter((j) => undoing.has(j.entry.kind) || (j.proof && !j.passes))
  return new Map(
    judged.map((one): [string, Standing] => {
      const { entry, proof, passes } = one
      const gone = withdrawn.get(entry.id) ?? null
      const inForce = stillSaid(entry)
      if (!proof || !passes) {
        const lost = !gone && lostInput(entry)
        return [
          entry.id,
          { stands: null, because: lost ? LOST_INPUT : null, by: lost ? 'withdrawn' : null, counts: inForce, withdrawn: gone },
        ]
      }
      if (!inForce) {
        const because = gone
          ? say`withdrawn ${day(gone.at)} by ${gone.who}: ${gone.reason}`
          : replaced.has(entry.id)
            ? 'replaced by a later one'
            : LOST_INPUT
        const by = replaced.has(entry.id) && !gone ? 'replaced' : 'withdrawn'
        return [entry.id, { stands: false, because, by, counts: false, withdrawn: gone }]
      }
      const undone = undoneBy(one, acts, c, rebased)
      // a value outside its limits is still what the car showed: rules look at it, but it proves nothing
      const weak = proof.limits?.(c, entry.value, entries.slice(0, one.place).filter(stillSaid)) ?? null
      const because = undone ?? weak
      const by = undone !== null ? 'done-after' : weak !== null ? 'value' : null
      return [entry.id, { stands: because === null, because, by, counts: undone === null, withdrawn: null }]
    }),
  )
}

/** Entries that rules look at, in the server's order. */
export const counting = (build: Pick<BuildData, 'readings'>, standings: Standings): StoredReading[] =>
  build.readings.filter((r) => standings.get(r.id)?.counts)

/** The last entry of a kind when it is a proof that stands; a later failure, or one outside its limits, wins over it. */
export function proved<K extends EntryKind>(
  c: Context,
  kind: K,
  ofSubject: (r: StoredReading<K>) => boolean = () => true,
): StoredReading<K> | null {
  const last = readingsOf(c.readings, kind).findLast(ofSubject)
  return last && c.standings.get(last.id)?.stands ? last : null
}

/** Why the last pass of these kinds no longer stands; null when there was none, or it does. */
export function whyFallen(c: Context, kinds: readonly string[]): Said | null {
  const last = c.build.readings.findLast((r) => kinds.includes(r.kind) && c.standings.get(r.id)?.stands !== null)
  const standing = last && c.standings.get(last.id)
  return standing?.stands === false ? standing.because : null
}
