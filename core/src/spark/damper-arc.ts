import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

/** Where to put a mark on an unmarked damper: with a tape along the rim (arc) or with dividers (chord). */
export const damperArc = defineCalculation({
  id: 'spark.damperArc',
  title: 'Mark on the damper rim',
  input: z.strictObject({
    damperDiameterMm: z.number().min(20).max(1000).describe('mm'),
    angleDeg: z.number().min(-180).max(180).describe('crank degrees from the zero mark'),
  }),
  output: z.object({ arcMm: z.number(), chordMm: z.number() }),
  formula: 'arc = pi D a / 360;  chord = D sin(a / 2)',
  source: 'Circle geometry',
  run: ({ damperDiameterMm, angleDeg }) => ({
    arcMm: (Math.PI * damperDiameterMm * angleDeg) / 360,
    chordMm: damperDiameterMm * Math.sin((angleDeg * Math.PI) / 360),
  }),
})
