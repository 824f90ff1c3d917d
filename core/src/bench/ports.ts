import type { ChoiceTable } from '../kernel/index.ts'

/** what a hole without a lip passes of its area */
const HOLE_DISCHARGE = 0.65
/**
 * What ports let in that were told, hang on nothing and have no cap, m2; those that give clean air let none past the plates.
 * @source pi d^2 / 4, with the discharge of a sharp hole
 */
export function openPortsM2({ fitup }: ChoiceTable): number {
  const { ports = {}, joined = {} } = fitup?.vacuum ?? {}
  const used = new Set(Object.values(joined))
  const open = Object.entries(ports).filter(([id, p]) => !p.capped && !used.has(id) && p.kind !== 'clean')
  return open.reduce((sum, [, p]) => sum + HOLE_DISCHARGE * (Math.PI / 4) * ((p.boreMm ?? 0) / 1000) ** 2, 0)
}
