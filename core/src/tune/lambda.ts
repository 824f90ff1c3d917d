import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

const lambdaFromAfr = (afr: number, stoichAfr: number): number => afr / stoichAfr

export const lambdaCalculation = defineCalculation({
  id: 'tune.lambda',
  title: 'Lambda from air-fuel ratio',
  input: z.strictObject({
    afr: z.number().positive().max(100).describe('air-fuel ratio by mass'),
    stoichAfr: z.number().min(5).max(20).describe("stoichiometric ratio the display works with (not the tank's)"),
  }),
  output: z.object({ lambda: z.number() }),
  formula: 'lambda = AFR / stoichiometric AFR',
  source: 'Definition of the relative air-fuel ratio; Heywood, section 3.4',
  run: ({ afr, stoichAfr }) => ({ lambda: lambdaFromAfr(afr, stoichAfr) }),
})
