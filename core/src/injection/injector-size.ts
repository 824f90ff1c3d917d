import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

const GPS_PER_LB_H = 0.125998

/** Mass flow as volume flow: g/s and kg/L in, cm3/min out. */
const massGpsToCcMin = (massGps: number, fuelDensityKgL: number): number => (massGps * 60) / fuelDensityKgL
/** Volume flow as mass flow: cm3/min and kg/L in, g/s out. */
export const ccMinToMassGps = (flowCcMin: number, fuelDensityKgL: number): number => (flowCcMin * fuelDensityKgL) / 60

/** Static flow each injector must have at full power. The one margin is the duty limit: no second headroom goes on top. */
export const injectorSize = defineCalculation({
  id: 'fuel.injectorSize',
  title: 'Injector size',
  input: z.strictObject({
    powerKw: z.number().positive().max(2000).describe('crank power, kW'),
    bsfcGKwh: z.number().min(150).max(900).describe('brake specific fuel consumption, g/kWh'),
    injectors: z.int().min(1).max(24),
    maxDutyPct: z.number().min(10).max(100).describe('highest duty allowed, %'),
    fuelDensityKgL: z.number().min(0.6).max(0.9).describe('kg/L'),
  }),
  output: z.object({ perInjectorGps: z.number(), flowCcMin: z.number(), flowLbH: z.number() }),
  formula: 'flow = power x BSFC / (injectors x duty)',
  source: 'Heywood, section 2.8 (specific fuel consumption), with the duty limit as the margin',
  run: ({ powerKw, bsfcGKwh, injectors, maxDutyPct, fuelDensityKgL }) => {
    const perInjectorGps = (powerKw * bsfcGKwh) / 3600 / injectors / (maxDutyPct / 100)
    return { perInjectorGps, flowCcMin: massGpsToCcMin(perInjectorGps, fuelDensityKgL), flowLbH: perInjectorGps / GPS_PER_LB_H }
  },
})
