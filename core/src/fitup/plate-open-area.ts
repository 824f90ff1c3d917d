import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

const RAD = Math.PI / 180

export const plateOpenArea = defineCalculation({
  id: 'fitup.plateOpenArea',
  title: 'Open area of a throttle plate',
  input: z
    .strictObject({
      boreMm: z.number().positive().max(200).describe('mm'),
      shutDeg: z.number().min(0).max(45).describe('angle of the shut plate from square across the bore, deg'),
      openDeg: z.number().min(0).max(90).describe('its angle now, deg'),
    })
    .refine(({ shutDeg, openDeg }) => openDeg >= shutDeg, {
      path: ['openDeg'],
      message: 'must be at least the angle of the shut plate, deg',
    }),
  output: z.object({ areaMm2: z.number(), sharePct: z.number() }),
  formula: 'A = pi D^2 / 4 x (1 - cos(open) / cos(shut)); shaft left out',
  source: 'Heywood, Internal Combustion Engine Fundamentals, equation 7.18 without its shaft terms',
  run: ({ boreMm, shutDeg, openDeg }) => {
    const share = 1 - Math.cos(openDeg * RAD) / Math.cos(shutDeg * RAD)
    return { areaMm2: (Math.PI / 4) * boreMm * boreMm * share, sharePct: 100 * share }
  },
})
