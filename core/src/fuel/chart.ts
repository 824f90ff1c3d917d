import type { FuelDesign } from './design.ts'
import { pumpOf } from './pump.ts'
import { type FuelStateId, fuelStates, riseNeededKpa } from './solve.ts'

const STEPS = 48

export interface PumpChart {
  flowMaxLph: number
  riseMaxKpa: number
  /** what the pump gives at the voltage of each state */
  curves: { state: FuelStateId; pumpV: number; points: { flowLph: number; riseKpa: number }[] }[]
  /** what the circuit asks for, by flow */
  demand: { flowLph: number; riseKpa: number }[]
  /** where each state works, and what the engine itself takes there */
  working: { state: FuelStateId; flowLph: number; riseKpa: number; useLph: number }[]
}

/** Pump curves against the demand line with the working point of each state, ready to be drawn. */
export function pumpChart({ circuit, states, solutions }: FuelDesign): PumpChart {
  const pump = pumpOf(circuit.pump)
  const flowMaxLph = Math.max(...solutions.map((s) => pump.flowLph(0, s.pumpV)), 1)
  const steps = Array.from({ length: STEPS + 1 }, (_, i) => i / STEPS)
  return {
    flowMaxLph,
    riseMaxKpa: pump.stallKpa,
    curves: solutions.map((s) => ({
      state: s.state,
      pumpV: s.pumpV,
      points: steps.map((t) => ({ riseKpa: t * pump.stallKpa, flowLph: pump.flowLph(t * pump.stallKpa, s.pumpV) })),
    })),
    demand: steps.map((t) => ({ flowLph: t * flowMaxLph, riseKpa: riseNeededKpa(circuit, states.full, t * flowMaxLph) })),
    working: fuelStates.map(({ id }) => {
      const s = solutions.find((one) => one.state === id)!
      return { state: id, flowLph: s.pumpFlowLph, riseKpa: s.pumpRiseKpa, useLph: s.useLph }
    }),
  }
}
