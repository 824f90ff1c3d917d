import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

const G_M_S2 = 9.80665

export const roadLoad = defineCalculation({
  id: 'learn.roadLoad',
  title: 'Road load of a car at a steady speed',
  input: z.strictObject({
    massKg: z.number().min(100).max(10000).describe('as driven, kg'),
    speedKmh: z.number().min(0).max(400).describe('km/h'),
    gradePct: z.number().min(-30).max(30).describe('rise over run, %'),
    frontalM2: z.number().min(0.3).max(10).describe('m2'),
    dragCoefficient: z.number().min(0.05).max(2),
    rollingCoefficient: z.number().min(0.003).max(0.1),
    densityKgM3: z.number().min(0.3).max(2).describe('air, kg/m3'),
  }),
  output: z.object({ forceN: z.number(), powerKw: z.number() }),
  formula: 'F = m g (Cr cos a + sin a) + rho/2 Cd A v^2, a = atan(grade);  P = F v',
  source: 'Gillespie, Fundamentals of Vehicle Dynamics, section 4 (road loads); Heywood, section 2.4',
  run: ({ massKg, speedKmh, gradePct, frontalM2, dragCoefficient, rollingCoefficient, densityKgM3 }) => {
    const angle = Math.atan(gradePct / 100)
    const speedMS = speedKmh / 3.6
    const forceN =
      massKg * G_M_S2 * (rollingCoefficient * Math.cos(angle) + Math.sin(angle)) +
      0.5 * densityKgM3 * dragCoefficient * frontalM2 * speedMS ** 2
    return { forceN, powerKw: (forceN * speedMS) / 1000 }
  },
})
