import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

export const roadSpeed = defineCalculation({
  id: 'learn.roadSpeed',
  title: 'Road speed in a gear',
  input: z.strictObject({
    rpm: z.number().min(0).max(20000).describe('rpm'),
    gearRatio: z.number().positive().max(10),
    axleRatio: z.number().positive().max(15),
    tyreCircumferenceM: z.number().min(0.5).max(5).describe('rolling, m'),
  }),
  output: z.object({ speedKmh: z.number() }),
  formula: 'speed = rpm / (gear x axle) x circumference x 60 / 1000',
  source: 'Drive-line kinematics without slip',
  run: ({ rpm, gearRatio, axleRatio, tyreCircumferenceM }) => ({
    speedKmh: ((rpm / (gearRatio * axleRatio)) * tyreCircumferenceM * 60) / 1000,
  }),
})
