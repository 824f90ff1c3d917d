import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'
import { densityKgM3 } from './density.ts'

const CUBIC_FEET_PER_M3 = 35.3146667

/** Air drawn by a four-stroke engine, referred to inlet conditions (not to the manifold, as a tune's VE table is). */
export const engineFlow = defineCalculation({
  id: 'air.engineFlow',
  title: 'Air used by the engine',
  input: z.strictObject({
    displacementCc: z.number().positive().max(30000).describe('all cylinders, cm3'),
    rpm: z.number().positive().max(20000).describe('crank speed, rpm'),
    vePct: z.number().positive().max(400).describe('volumetric efficiency referred to the inlet, %'),
    pressureKpa: z.number().positive().max(1000).describe('absolute inlet pressure, kPa'),
    temperatureC: z.number().min(-90).max(400).describe('inlet air temperature, degC'),
  }),
  output: z.object({ massGps: z.number(), volumeM3Min: z.number(), volumeCfm: z.number() }),
  formula: 'volume = V x rpm/2 x VE;  mass = volume x p / (287.05 T)',
  source: 'Heywood, Internal Combustion Engine Fundamentals, section 2.10 (volumetric efficiency, four-stroke)',
  run: ({ displacementCc, rpm, vePct, pressureKpa, temperatureC }) => {
    const volumeM3Min = (displacementCc / 1e6) * (rpm / 2) * (vePct / 100)
    return {
      massGps: (volumeM3Min / 60) * densityKgM3(pressureKpa, temperatureC) * 1000,
      volumeM3Min,
      volumeCfm: volumeM3Min * CUBIC_FEET_PER_M3,
    }
  },
})
