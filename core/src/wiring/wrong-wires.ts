import { at, type JudgedContext } from '../kernel/index.ts'
import { harnessOf, type Wire } from './harness.ts'

/** Findings are of a harness somebody works on: a car in which nothing of it was told is not judged by guesses. */
export const begun = (c: JudgedContext): boolean =>
  c.build.choices.wiring !== undefined || c.build.readings.some((r) => r.kind.startsWith('wiring.'))

/** The first wire that a thing is wrong with, and how many more. */
export function first(c: JudgedContext, wrong: (w: Wire) => boolean): { w: Wire; more: string } | null {
  if (!begun(c)) return null
  const list = harnessOf(c).wires.filter(wrong)
  return list.length ? { w: list[0], more: list.length > 1 ? ` So it is with ${list.length - 1} more.` : '' } : null
}
export const wireAt = (w: Wire, field?: string) =>
  at('wiring', 'circuits', field ? `choices.wiring.circuits.${w.circuit.id}.${field}` : w.circuit.id)
