import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'
import { COPPER_OHM_MM2_M } from './gauge.ts'

const COPPER_PER_K = 0.00393

export const voltageDrop = defineCalculation({
  id: 'wiring.voltageDrop',
  title: 'Voltage lost in a wire',
  input: z.strictObject({
    currentA: z.number().min(0).max(1000).describe('A'),
    lengthM: z.number().min(0).max(100).describe('one way, m'),
    areaMm2: z.number().positive().max(200).describe('copper cross-section, mm2'),
    temperatureC: z.number().min(-40).max(200).describe('of the copper, degC'),
    returnThroughWire: z.boolean().describe('true counts the same wire back'),
  }),
  output: z.object({ dropV: z.number(), lossW: z.number() }),
  formula: 'drop = I x rho (1 + 0.00393 (T - 20)) x L (x 2 with a return wire) / A',
  source: 'IEC 60028, copper resistivity and temperature coefficient',
  run: ({ currentA, lengthM, areaMm2, temperatureC, returnThroughWire }) => {
    const resistivity = COPPER_OHM_MM2_M * (1 + COPPER_PER_K * (temperatureC - 20))
    const dropV = (currentA * resistivity * lengthM * (returnThroughWire ? 2 : 1)) / areaMm2
    return { dropV, lossW: dropV * currentA }
  },
})
