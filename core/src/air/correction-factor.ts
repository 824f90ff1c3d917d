import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'
import { KELVIN_AT_0_C } from './density.ts'

/** Factor that brings measured power to standard air. Dry pressure is the barometer less the vapour pressure of the day's humidity. */
export const correctionFactor = defineCalculation({
  id: 'air.correctionFactor',
  title: 'Power correction to standard air',
  input: z.strictObject({
    standard: z.enum(['SAE J1349', 'SAE J607']),
    dryPressureKpa: z.number().min(60).max(115).describe('dry barometric pressure, kPa'),
    temperatureC: z.number().min(-30).max(60).describe('inlet air temperature, degC'),
  }),
  output: z.object({ factor: z.number() }),
  formula: 'J1349: 1.18 (99 / p) sqrt(T / 298.15) - 0.18;  J607: (101.32 / p) sqrt(T_R / 519.67)',
  source: 'SAE J1349 (naturally aspirated spark ignition) and SAE J607',
  run: ({ standard, dryPressureKpa, temperatureC }) => {
    const temperatureK = temperatureC + KELVIN_AT_0_C
    const factor =
      standard === 'SAE J1349'
        ? 1.18 * (99 / dryPressureKpa) * Math.sqrt(temperatureK / 298.15) - 0.18
        : (101.32 / dryPressureKpa) * Math.sqrt((temperatureK * 1.8) / 519.67)
    return { factor }
  },
})
