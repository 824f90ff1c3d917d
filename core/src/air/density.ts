import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

/** Specific gas constant of dry air, J/(kg K), rounded as the calculation catalogue fixes it (ISO 2533 has 287.05287). */
export const R_DRY_AIR_J_KGK = 287.05
export const KELVIN_AT_0_C = 273.15

/** Density of dry air as an ideal gas. In saturated air at 30 degC the answer is 1.6 % high. kPa absolute and degC in, kg/m3 out. */
export const densityKgM3 = (pressureKpa: number, temperatureC: number): number =>
  (pressureKpa * 1000) / (R_DRY_AIR_J_KGK * (temperatureC + KELVIN_AT_0_C))

export const airDensity = defineCalculation({
  id: 'air.density',
  title: 'Density of dry air',
  input: z.strictObject({
    pressureKpa: z.number().positive().max(1000).describe('absolute pressure, kPa'),
    temperatureC: z.number().min(-90).max(400).describe('air temperature, degC'),
  }),
  output: z.object({ densityKgM3: z.number() }),
  formula: 'rho = p / (287.05 T)',
  source: 'Ideal gas law; gas constant from ISO 2533:1975',
  run: ({ pressureKpa, temperatureC }) => ({ densityKgM3: densityKgM3(pressureKpa, temperatureC) }),
})
