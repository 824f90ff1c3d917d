import { type Basis, type BuildData, type EntryKind } from '../kernel/index.ts'
import { contextOf, entryKinds } from './judgement.ts'

const parts = Object.values(entryKinds).flatMap((k) => k.proof?.parts ?? [])
const isHardware = (path: string): boolean => parts.some((part) => path.startsWith(part) || part.startsWith(path))
const MOST_PATHS = 200

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
  const stood = contextOf(before).standings
  const stands = contextOf(after).standings
  const fell = before.readings.filter((r) => stood.get(r.id)?.stands && !stands.get(r.id)?.stands)
  if (change === 'car')
    return {
      kind: 'car.changed',
      value: { what: what.slice(0, 400), paths: paths.slice(0, MOST_PATHS).map((p) => p.slice(0, 200)), fell: fell.map((r) => r.id) },
    }
  const rebased = fell.map((r) => ({ id: r.id, basis: entryKinds[r.kind].proof!.basis(after, r.value as never) as Basis }))
  return rebased.length ? { kind: 'car.corrected', value: { what: what.slice(0, 400), rebased } } : null
}
