import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

/**
 * Pressure and temperature of the International Standard Atmosphere in the troposphere. A day's weather differs by up to 4 %
 * in pressure and 20 degC from it: a station barometer always wins.
 */
export const standardAtmosphere = defineCalculation({
  id: 'air.standardAtmosphere',
  title: 'Standard atmosphere at an altitude',
  input: z.strictObject({ altitudeM: z.number().min(-500).max(11000).describe('height above sea level, m') }),
  output: z.object({ pressureKpa: z.number(), temperatureC: z.number() }),
  formula: 'T = 288.15 - 0.0065 h;  p = 101.325 (T / 288.15)^5.25588',
  source: 'ISO 2533:1975, standard atmosphere, troposphere layer',
  run: ({ altitudeM }) => {
    const temperatureK = 288.15 - 0.0065 * altitudeM
    return { pressureKpa: 101.325 * (temperatureK / 288.15) ** 5.25588, temperatureC: temperatureK - 273.15 }
  },
})
