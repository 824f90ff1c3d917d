import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

const MM_PER_INCH = 25.4
/** A loaded radial rolls 3.05 diameters a turn instead of pi; bias-ply tyres stand a little taller. Source: ETRTO Standards Manual. */
const ROLLING_PER_DIAMETER = 3.05
/** Aspect of radial sizes written without one, such as 185R14 (ETRTO). */
const PLAIN_RADIAL_ASPECT_PCT = 82

export const tyreCircumference = defineCalculation({
  id: 'survey.tyreCircumference',
  title: 'Rolling circumference of a tyre',
  input: z.strictObject({
    widthMm: z.number().min(100).max(400).describe('section width, mm'),
    aspectPct: z.number().min(25).max(100).describe('height over width, %'),
    rimIn: z.number().min(8).max(24).describe('rim diameter, inches'),
  }),
  output: z.object({ diameterMm: z.number(), circumferenceM: z.number() }),
  formula: 'D = rim x 25.4 + 2 x width x aspect;  C = 3.05 D',
  source: 'ETRTO Standards Manual (size designation; rolling circumference 3.05 x diameter)',
  run: ({ widthMm, aspectPct, rimIn }) => {
    const diameterMm = rimIn * MM_PER_INCH + (2 * widthMm * aspectPct) / 100
    return { diameterMm, circumferenceM: (ROLLING_PER_DIAMETER * diameterMm) / 1000 }
  },
})

export type TyreSize =
  | { kind: 'metric'; widthMm: number; aspectPct: number; rimIn: number }
  | { kind: 'bias-ply'; widthIn: number; rimIn: number }

/** "205/70R15", "205/70 VR 15", "185R14", "185-14", "6.40-13", "5.60 x 15": what it says, or null. Bias-ply sizes do not tell the diameter. */
export function parseTyreSize(text: string): TyreSize | null {
  const clean = text.trim().toUpperCase().replace(',', '.')
  const metric = /^(?:P|LT)?\s*(\d{3})(?:\s*\/\s*(\d{2,3}))?\s*-?\s*(?:[A-Z]?R|[HSV])?\s*-?\s*(\d{2}(?:\.\d)?)(?:\s+\d{2,3}[A-Z])?$/.exec(
    clean,
  )
  if (metric) {
    const size = {
      widthMm: Number(metric[1]),
      aspectPct: metric[2] ? Number(metric[2]) : PLAIN_RADIAL_ASPECT_PCT,
      rimIn: Number(metric[3]),
    }
    return tyreCircumference.input.safeParse(size).success ? { kind: 'metric', ...size } : null
  }
  const bias = /^(\d{1,2}\.\d{1,2})\s*[-X ]\s*(\d{2})$/.exec(clean)
  if (bias && Number(bias[2]) >= 8 && Number(bias[2]) <= 24) return { kind: 'bias-ply', widthIn: Number(bias[1]), rimIn: Number(bias[2]) }
  return null
}

/** Rolling circumference, m, from what is known: entered, measured diameter, or the size; null when none tells it. */
export function rollingCircumferenceM(gearing: { tyreCircumferenceM?: number; tyreDiameterMm?: number; tyreSize?: string }): number | null {
  if (gearing.tyreCircumferenceM !== undefined) return gearing.tyreCircumferenceM
  if (gearing.tyreDiameterMm !== undefined) return (ROLLING_PER_DIAMETER * gearing.tyreDiameterMm) / 1000
  const size = gearing.tyreSize ? parseTyreSize(gearing.tyreSize) : null
  return size?.kind === 'metric' ? tyreCircumference.run(size).circumferenceM : null
}
