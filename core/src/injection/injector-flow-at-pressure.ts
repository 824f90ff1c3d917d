import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

/** Flow of an orifice scales with the square root of the pressure difference across it; holds within a few percent from 200 to 500 kPa. */
export const injectorFlowAtPressure = defineCalculation({
  id: 'fuel.injectorFlowAtPressure',
  title: 'Injector flow at another pressure',
  input: z.strictObject({
    ratedCcMin: z.number().positive().max(5000).describe('rated flow, cm3/min'),
    ratedKpa: z.number().positive().max(2000).describe('pressure difference of the rating, kPa'),
    actualKpa: z.number().min(0).max(2000).describe('pressure difference in use, kPa'),
  }),
  output: z.object({ flowCcMin: z.number() }),
  formula: 'flow = rated x sqrt(dp / dp rated)',
  source: 'Bernoulli, incompressible orifice flow at constant discharge coefficient',
  run: ({ ratedCcMin, ratedKpa, actualKpa }) => ({ flowCcMin: ratedCcMin * Math.sqrt(actualKpa / ratedKpa) }),
})
