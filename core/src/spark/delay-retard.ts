import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

/** Crank degrees that pass in a time: 6 degrees a second for each rpm. */
export const delayDeg = (rpm: number, delayUs: number): number => 6e-6 * rpm * delayUs

export const delayRetard = defineCalculation({
  id: 'spark.delayRetard',
  title: 'Retard that a signal delay makes',
  input: z.strictObject({
    rpm: z.number().min(0).max(20000).describe('rpm'),
    delayUs: z.number().min(-10000).max(10000).describe('microseconds'),
  }),
  output: z.object({ retardDeg: z.number() }),
  formula: 'retard = 6e-6 x rpm x us',
  source: 'Crank kinematics: 6 degrees a second for each rpm',
  run: ({ rpm, delayUs }) => ({ retardDeg: delayDeg(rpm, delayUs) }),
})
