import { type Basis, type BuildData, type EntryKind, type StoredReading } from '../kernel/index.ts'
import { contextOf, entryKinds } from './judgement.ts'

const parts = Object.values(entryKinds).flatMap((k) => k.proof?.parts ?? [])
const isHardware = (path: string): boolean => parts.some((part) => path.startsWith(part) || part.startsWith(path))
const MOST_PATHS = 200

/** What is turned in the unit and not on the car: nobody has to say which of the two it was. */
const UNIT_SETTINGS = ['choices.spark.referenceDeg', 'choices.spark.delayUs']

/** Proofs that stood before an edit and no longer do after it. */
function proofsLost(before: BuildData, after: BuildData): StoredReading[] {
  const stood = contextOf(before).standings
  const stands = contextOf(after).standings
  return before.readings.filter((r) => stood.get(r.id)?.stands && !stands.get(r.id)?.stands)
}
/** Proofs that an edit of the hardware would take down: before it is made, a person says whether the car or only the record changes. */
export const lostByEdit = (before: BuildData, after: BuildData, path: string): StoredReading[] =>
  isHardware(path) && !UNIT_SETTINGS.includes(path) ? proofsLost(before, after) : []

/**
 * The entry that an edit of facts or choices leaves in the record. Done on the car it takes down the proofs that no longer speak of it, for good;
 * a correction of the record leads them over to the car as it really was.
 * @returns null when no proof hangs on what was edited
 */
export function evidenceOfChange(
  before: BuildData,
  after: BuildData,
  paths: readonly string[],
  what: string,
  change: 'car' | 'record',
): { kind: EntryKind; value: object } | null {
  if (before.readings.length === 0 || !paths.some(isHardware)) return null
  const fell = proofsLost(before, after)
  if (change === 'car')
    return {
      kind: 'car.changed',
      value: { what: what.slice(0, 400), paths: paths.slice(0, MOST_PATHS).map((p) => p.slice(0, 200)), fell: fell.map((r) => r.id) },
    }
  const rebased = fell.map((r) => ({ id: r.id, basis: entryKinds[r.kind].proof!.basis(after, r.value as never) as Basis }))
  return rebased.length ? { kind: 'car.corrected', value: { what: what.slice(0, 400), rebased } } : null
}
