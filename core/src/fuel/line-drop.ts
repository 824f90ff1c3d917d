import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

const LAMINAR_END = 2300

/**
 * Friction factor (Darcy) of a round pipe: laminar below Re 2300, Haaland's explicit turbulent formula above (within 2 % of Colebrook).
 * Between 2300 and 4000 the real flow is unsettled, so the answer there is a bound, not a promise.
 */
export function frictionFactor(reynolds: number, relativeRoughness: number): number {
  return reynolds < LAMINAR_END ? laminarFriction(reynolds) : turbulentFriction(reynolds, relativeRoughness)
}
export const laminarFriction = (reynolds: number): number => 64 / reynolds
export function turbulentFriction(reynolds: number, relativeRoughness: number): number {
  const root = -1.8 * Math.log10((relativeRoughness / 3.7) ** 1.11 + 6.9 / reynolds)
  return 1 / (root * root)
}

/** Mean velocity, m/s, of a flow (L/h) in a round bore (mm). */
export const velocityIn = (flowLph: number, boreMm: number): number => flowLph / 3.6e6 / ((Math.PI / 4) * (boreMm / 1000) ** 2)

export const lineDrop = defineCalculation({
  id: 'fuel.lineDrop',
  title: 'Pressure lost in a fuel line',
  input: z.strictObject({
    flowLph: z.number().positive().max(2000).describe('L/h'),
    boreMm: z.number().min(1).max(50).describe('inner diameter, mm'),
    lengthM: z.number().min(0).max(50).describe('m'),
    lossK: z.number().min(0).max(200).describe('sum of fitting loss coefficients'),
    roughnessUm: z.number().min(0).max(500).describe('wall roughness, micrometres'),
    densityKgM3: z.number().min(500).max(1100).describe('kg/m3'),
    viscosityMm2S: z.number().min(0.1).max(20).describe('kinematic viscosity, mm2/s'),
  }),
  output: z.object({ velocityMS: z.number(), reynolds: z.number(), frictionFactor: z.number(), dropKpa: z.number() }),
  formula: 'dp = (f L/d + K) rho v^2 / 2;  f = 64/Re below 2300, Haaland above',
  source: 'Darcy-Weisbach; S. E. Haaland, J. Fluids Eng. 105 (1983)',
  run: ({ flowLph, boreMm, lengthM, lossK, roughnessUm, densityKgM3, viscosityMm2S }) => {
    const boreM = boreMm / 1000
    const velocityMS = velocityIn(flowLph, boreMm)
    const reynolds = (velocityMS * boreM) / (viscosityMm2S * 1e-6)
    const f = frictionFactor(reynolds, roughnessUm / 1000 / boreMm)
    const dropKpa = (((f * lengthM) / boreM + lossK) * densityKgM3 * velocityMS * velocityMS) / 2 / 1000
    return { velocityMS, reynolds, frictionFactor: f, dropKpa }
  },
})
