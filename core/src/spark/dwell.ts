import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

/** Charging time of an inductive coil to a target current. Saturation of the iron is left out, so near the coil's limit the real current is higher. */
export const dwell = defineCalculation({
  id: 'spark.dwell',
  title: 'Coil dwell',
  input: z.strictObject({
    batteryV: z.number().positive().max(60).describe('at the coil, driver saturation already taken off, V'),
    inductanceMh: z.number().positive().max(100).describe('primary, mH'),
    resistanceOhm: z.number().positive().max(20).describe('primary with leads and ballast, ohm'),
    targetA: z.number().positive().max(40).describe('A'),
    rpm: z.number().positive().max(20000).describe('rpm'),
    sparksPerRev: z.number().positive().max(12).describe('sparks of this coil per crank turn'),
    burnMs: z.number().min(0).max(10).describe('spark duration, ms'),
  }),
  output: z.object({
    dwellMs: z.number().nullable().describe('null when V/R does not exceed the target current'),
    energyMj: z.number().nullable().describe('null when the target current is not reached'),
    availableMs: z.number(),
    dutyPct: z.number().nullable().describe('dwell as share of the time between sparks; null when the target is not reached'),
  }),
  formula: 'i(t) = V/R (1 - exp(-t R/L));  energy = L i^2 / 2;  available = 60000 / (rpm x sparks) - burn',
  source: 'First-order RL circuit, any circuit-theory text',
  run: ({ batteryV, inductanceMh, resistanceOhm, targetA, rpm, sparksPerRev, burnMs }) => {
    const betweenMs = 60000 / (rpm * sparksPerRev)
    const limitA = batteryV / resistanceOhm
    const availableMs = betweenMs - burnMs
    if (limitA <= targetA) return { dwellMs: null, energyMj: null, availableMs, dutyPct: null }
    const dwellMs = -(inductanceMh / resistanceOhm) * Math.log(1 - targetA / limitA)
    return { dwellMs, energyMj: (inductanceMh * targetA * targetA) / 2, availableMs, dutyPct: (dwellMs / betweenMs) * 100 }
  },
})
