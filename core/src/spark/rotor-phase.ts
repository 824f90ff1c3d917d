import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

/** Distributor degrees by which the rotor is still before the terminal at a spark (negative: past it). The rotor turns at half crank speed. */
export const rotorOffsetDistDeg = (advanceDegBtdc: number, alignDegBtdc: number): number => (advanceDegBtdc - alignDegBtdc) / 2

/** Width in distributor degrees of something a few mm wide at the rotor's radius. */
export const widthDistDeg = (widthMm: number, radiusMm: number): number => ((widthMm / radiusMm) * 180) / Math.PI

export const rotorPhase = defineCalculation({
  id: 'spark.rotorPhase',
  title: 'Rotor under its terminal over the swept range',
  input: z.strictObject({
    alignDegBtdc: z.number().min(-360).max(720).describe('crank angle at which rotor and terminal are exactly in line'),
    minAdvanceDeg: z.number().min(-60).max(90).describe('least advance, crank degrees BTDC'),
    maxAdvanceDeg: z.number().min(-60).max(90).describe('most advance, crank degrees BTDC'),
    cylinders: z.int().min(1).max(12),
    rotorRadiusMm: z.number().min(5).max(100).describe('mm'),
    tipWidthMm: z.number().min(0).max(60).describe('mm'),
    terminalWidthMm: z.number().min(0).max(60).describe('mm'),
  }),
  output: z.object({
    bestAlignDegBtdc: z.number(),
    offsetAtMinDistDeg: z.number(),
    offsetAtMaxDistDeg: z.number(),
    overlapDistDeg: z.number().describe('electrode overlap at the worse end; negative: no overlap'),
    crossFireMarginDistDeg: z.number().describe('clear gap to the next terminal at the worse end'),
  }),
  formula:
    'offset = (advance - align) / 2;  overlap = (tip + terminal)/2 - |offset|;  margin = 360/N - |offset| - (tip + terminal)/2;  width = mm / radius',
  source: 'Distributor geometry: half crank speed, arc over radius',
  run: ({ alignDegBtdc, minAdvanceDeg, maxAdvanceDeg, cylinders, rotorRadiusMm, tipWidthMm, terminalWidthMm }) => {
    const offsetAtMinDistDeg = rotorOffsetDistDeg(minAdvanceDeg, alignDegBtdc)
    const offsetAtMaxDistDeg = rotorOffsetDistDeg(maxAdvanceDeg, alignDegBtdc)
    const worstDistDeg = Math.max(Math.abs(offsetAtMinDistDeg), Math.abs(offsetAtMaxDistDeg))
    const halfWidthsDistDeg = widthDistDeg(tipWidthMm + terminalWidthMm, rotorRadiusMm) / 2
    return {
      bestAlignDegBtdc: (minAdvanceDeg + maxAdvanceDeg) / 2,
      offsetAtMinDistDeg,
      offsetAtMaxDistDeg,
      overlapDistDeg: halfWidthsDistDeg - worstDistDeg,
      crossFireMarginDistDeg: 360 / cylinders - worstDistDeg - halfWidthsDistDeg,
    }
  },
})
