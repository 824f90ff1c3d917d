import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

/** How long a sump feeds the engine while its lift supply falls short. */
export const surgeReserve = defineCalculation({
  id: 'fuel.surgeReserve',
  title: 'Seconds of fuel in the sump',
  input: z.strictObject({
    volumeL: z.number().positive().max(100).describe('usable volume, L'),
    liftLph: z.number().min(0).max(2000).describe('flow of the lift pump, L/h (0 while its pick-up is dry)'),
    useLph: z.number().positive().max(2000).describe('what the engine burns, L/h'),
  }),
  output: z.object({ seconds: z.number().nullable().describe('null when the lift keeps up with the use') }),
  formula: 'seconds = volume / (use - lift) x 3600',
  source: 'Conservation of volume',
  run: ({ volumeL, liftLph, useLph }) => ({ seconds: liftLph >= useLph ? null : (volumeL / (useLph - liftLph)) * 3600 }),
})
