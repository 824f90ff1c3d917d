import { fuelDesign, outletGaugeKpa, solveCircuit } from '../fuel/index.ts'
import type { BuildData } from '../kernel/index.ts'
import { toldContext } from '../survey/index.ts'
import { conditionOf } from './faults.ts'
import { overUsualOhm } from './wires.ts'

/** Rail pressure of the bench car: its fuel circuit, solved beforehand on a grid, because a solution in every step would take most of the time. */
export interface BenchRail {
  /** pressure at the rail over the air, kPa, with the regulator's reference open */
  at: (supplyV: number, useLph: number) => number
  /** what reference and place of the injectors add to it at a manifold pressure, kPa */
  overOutletKpa: (mapKpa: number) => number
}

const VOLTS = [6, 8, 9.5, 11, 12.5, 14, 15]
const USES = 7
const bilinearOver = (xs: readonly number[], ys: readonly number[], cells: readonly number[]) => (x: number, y: number) => {
  const place = (list: readonly number[], v: number): [number, number] => {
    const clamped = Math.min(list[list.length - 1], Math.max(list[0], v))
    let i = 0
    while (i < list.length - 2 && list[i + 1] < clamped) i++
    return [i, (clamped - list[i]) / (list[i + 1] - list[i])]
  }
  const [i, u] = place(xs, x)
  const [j, v] = place(ys, y)
  const at = (a: number, b: number) => cells[b * xs.length + a]
  return (1 - v) * ((1 - u) * at(i, j) + u * at(i + 1, j)) + v * ((1 - u) * at(i, j + 1) + u * at(i + 1, j + 1))
}

/**
 * The circuit of a build with the fuel faults set on the bench laid over it.
 * @returns null while the circuit cannot be solved: then the bench keeps the plan's pressure
 */
export function benchRail(build: BuildData): BenchRail | null {
  const c = toldContext(build)
  const { cloggedTimes, returnBoreMm, pumpWireOhm, regulatorHose } = conditionOf(build.choices.bench)
  const design = fuelDesign(c, { clogged: cloggedTimes ?? undefined, returnBoreMm: returnBoreMm ?? undefined })
  if (!design) return null
  const circuit = { ...design.circuit, wireOhm: Math.max(0, design.circuit.wireOhm + pumpWireOhm + overUsualOhm(build, 'pump')) }
  const most = 1.3 * design.states.full.useLph
  const uses = Array.from({ length: USES }, (_, i) => (most * i) / (USES - 1))
  const cells = uses.flatMap((useLph) =>
    VOLTS.map((supplyV) => solveCircuit(circuit, { ...design.states.cruise, supplyV, useLph, referenceKpa: 0, outletKpa: 0 }).railKpa),
  )
  // with its hose capped the regulator sees the air, whatever the manifold does
  const reference = regulatorHose ? circuit.regulator.reference : 'open'
  const { barometerKpa } = c.resolved
  return {
    at: bilinearOver(VOLTS, uses, cells),
    overOutletKpa: (mapKpa) => {
      const over = mapKpa - barometerKpa
      return (reference === 'manifold' ? over : reference === 'above-plates' ? Math.max(0, over) : 0) - outletGaugeKpa(c, mapKpa)
    },
  }
}
