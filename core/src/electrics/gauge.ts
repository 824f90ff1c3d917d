import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

/** Resistivity of annealed copper at 20 degC, ohm mm2/m (IEC 60028, rounded as the calculation catalogue fixes it). */
export const COPPER_OHM_MM2_M = 0.01724

export const wireGauge = defineCalculation({
  id: 'wiring.gauge',
  title: 'Wire gauge in metric terms',
  input: z.strictObject({ gaugeAwg: z.int().min(-3).max(40).describe('AWG; 0 is 1/0, -1 is 2/0') }),
  output: z.object({ diameterMm: z.number(), areaMm2: z.number(), ohmPerM: z.number() }),
  formula: 'd = 0.127 x 92^((36 - n)/39) mm;  R = 0.01724 / area',
  source: 'ASTM B258 (wire gauge); IEC 60028 (copper)',
  run: ({ gaugeAwg }) => {
    const diameterMm = 0.127 * 92 ** ((36 - gaugeAwg) / 39)
    const areaMm2 = (Math.PI / 4) * diameterMm * diameterMm
    return { diameterMm, areaMm2, ohmPerM: COPPER_OHM_MM2_M / areaMm2 }
  },
})
