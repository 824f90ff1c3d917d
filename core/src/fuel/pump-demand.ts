import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

/** Flow the pump must still give at working pressure and at the voltage it really sees. */
export const pumpDemand = defineCalculation({
  id: 'fuel.pumpDemand',
  title: 'Pump flow wanted',
  input: z.strictObject({
    powerKw: z.number().positive().max(2000).describe('crank power, kW'),
    bsfcGKwh: z.number().min(150).max(900).describe('brake specific fuel consumption, g/kWh'),
    fuelDensityKgL: z.number().min(0.6).max(0.9).describe('kg/L'),
    marginPct: z.number().min(0).max(200).describe('margin on top, %'),
  }),
  output: z.object({ flowLph: z.number() }),
  formula: 'flow = power x BSFC / density x (1 + margin)',
  source: 'Heywood, section 2.8 (specific fuel consumption)',
  run: ({ powerKw, bsfcGKwh, fuelDensityKgL, marginPct }) => ({
    flowLph: ((powerKw * bsfcGKwh) / 1000 / fuelDensityKgL) * (1 + marginPct / 100),
  }),
})
