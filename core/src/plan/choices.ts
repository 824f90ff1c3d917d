import { z } from 'zod'

/** Decisions taken for a build. Facts describe the car; choices say what it will become. */
export const PlanChoices = z.strictObject({
  route: z.enum(['throttle-body', 'multi-port', 'individual-runner']).optional(),
  timingControl: z.boolean().optional(),
  injectors: z.int().min(1).max(24).optional(),
  injectorCcMin: z.number().min(50).max(3000).optional().describe('rated flow each, cm3/min'),
  injectorRatedKpa: z.number().min(50).max(700).optional().describe('pressure difference of the rating, kPa'),
  fuelPressureKpa: z.number().min(50).max(700).optional().describe('base pressure over the injector outlet, kPa'),
  maxDutyPct: z.number().min(50).max(95).optional(),
})
export const SparkChoices = z.strictObject({
  trigger: z.enum(['speed-signal', 'locked-magnetic', 'hall', 'crank-cam']).optional(),
  referenceDeg: z.number().min(0).max(360).optional().describe('crank degrees BTDC at which the pulse arrives, as set in the unit'),
  minAdvanceDeg: z.number().min(-20).max(60).optional(),
  maxAdvanceDeg: z.number().min(0).max(70).optional(),
  alignDegBtdc: z.number().min(-60).max(120).optional().describe('crank angle at which rotor and terminal are in line'),
  camSyncWindows: z.union([z.literal(0.5), z.literal(1.5)]).optional(),
  coilChannels: z.enum(['by-cylinder', 'by-firing-order']).optional(),
  delayUs: z.number().min(0).max(2000).optional().describe('signal delay compensated by the unit, microseconds'),
  latencyUs: z.number().min(0).max(2000).optional().describe('time the unit needs between pulse and spark, microseconds'),
  towerOne: z.number().min(0).max(360).optional().describe('place of tower one on the cap, degrees clockwise from the top of the drawing'),
})
export const Choices = z.strictObject({ plan: PlanChoices.optional(), spark: SparkChoices.optional() })
export type Choices = z.infer<typeof Choices>
