import { z } from 'zod'

const positive = (high: number, what: string) => z.number().min(0.1).max(high).optional().describe(what)
export const SpeedoChoices = z.strictObject({
  pulsesPerKm: positive(100_000, 'of the sender, before the change'),
  oldAxle: positive(10, 'axle ratio before'),
  newAxle: positive(10, 'axle ratio now'),
  oldTyreMm: positive(1500, 'rolling diameter before, mm'),
  newTyreMm: positive(1500, 'rolling diameter now, mm'),
})
export type SpeedoChoices = z.infer<typeof SpeedoChoices>

export const TachChoices = z.strictObject({
  source: z.enum(['single-coil', 'paired-coil', 'coil-per-cylinder', 'unit-output']).optional(),
  unitPulsesPerRev: z.number().min(0.25).max(12).optional().describe('pulses per crank turn of the unit’s tach output'),
  level: z.enum(['coil-spike', 'square-12v', 'square-5v', 'coil-current']).optional().describe('what the source gives'),
  wants: z.enum(['coil-spike', 'square-12v', 'square-5v', 'current-loop']).optional().describe('what the tachometer was made for'),
  setCylinders: z.int().min(1).max(12).optional().describe('number of cylinders the tachometer is set to'),
  redlineRpm: z.number().min(1000).max(12000).optional(),
  shiftRpm: z.number().min(1000).max(12000).optional(),
  selfTestRpm: z.number().min(1000).max(15000).optional().describe('to which the needle sweeps at power-up'),
  selfTestS: z.number().min(0.2).max(10).optional().describe('how long its sweep up and down takes, s'),
  speedo: SpeedoChoices.optional(),
})
export type TachChoices = z.infer<typeof TachChoices>

declare module '../kernel/told.ts' {
  interface ChoiceTable {
    tach?: TachChoices
  }
}
