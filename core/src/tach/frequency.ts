import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

export const tachFrequency = defineCalculation({
  id: 'tach.frequency',
  title: 'Tachometer signal frequency',
  input: z.strictObject({
    rpm: z.number().min(0).max(20000).describe('rpm'),
    pulsesPerRev: z.number().positive().max(120).describe('pulses per crank turn'),
  }),
  output: z.object({ frequencyHz: z.number() }),
  formula: 'f = rpm x pulses per turn / 60',
  source: 'Definition of frequency',
  run: ({ rpm, pulsesPerRev }) => ({ frequencyHz: (rpm * pulsesPerRev) / 60 }),
})
