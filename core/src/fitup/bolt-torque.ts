import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

export const boltTorque = defineCalculation({
  id: 'fitup.boltTorque',
  title: 'Torque of a bolt for a clamp load',
  input: z.strictObject({
    threadMm: z.number().positive().max(60).describe('nominal diameter, mm'),
    clampN: z.number().positive().max(1e6).describe('N'),
    nutFactor: z.number().min(0.08).max(0.4).describe('by lubrication: about 0.2 dry, 0.15 oiled'),
  }),
  output: z.object({ torqueNm: z.number() }),
  formula: 'T = K x d x F',
  source: 'Shigley, Mechanical Engineering Design, section 8-8 (torque coefficient)',
  run: ({ threadMm, clampN, nutFactor }) => ({ torqueNm: (nutFactor * threadMm * clampN) / 1000 }),
})
