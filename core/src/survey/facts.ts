import { z } from 'zod'

/** Facts about the car as it stands. Every one may be missing ("not known"); units are metric and stand in the name. */
const text = (max = 80) => z.string().trim().min(1).max(max)

export const FiringOrder = z
  .array(z.int('each cylinder of the firing order must be a whole number').min(1).max(12))
  .min(1)
  .max(12)
  .superRefine((order, context) => {
    const twice = order.find((cylinder, i) => order.indexOf(cylinder) !== i)
    if (twice !== undefined)
      context.addIssue({
        code: 'custom',
        message: `firing order names cylinder ${twice} twice; each cylinder from 1 to ${order.length} must come once`,
      })
  })

export const CamClass = z.enum(['stock', 'mild', 'hot', 'wild'])
export type CamClass = z.infer<typeof CamClass>

export const EngineFacts = z.strictObject({
  cylinders: z.int().min(1).max(12).optional(),
  layout: z.enum(['inline', 'vee', 'flat']).optional(),
  displacementCc: z.number().min(100).max(15000).optional(),
  boreMm: z.number().min(30).max(200).optional(),
  strokeMm: z.number().min(20).max(250).optional(),
  compressionRatio: z.number().min(5).max(16).optional(),
  firingOrder: FiringOrder.optional(),
  chamber: z.enum(['old-open', 'wedge', 'modern-heart']).optional(),
  redlineRpm: z.number().min(1500).max(12000).optional(),
  powerKw: z.number().min(5).max(1000).optional(),
  siamesedInlets: z.boolean().optional(),
})
export const CamFacts = z.strictObject({
  class: CamClass.optional(),
  inletDurationDeg: z.number().min(150).max(320).optional().describe('at 1.27 mm lift, crank degrees'),
  exhaustDurationDeg: z.number().min(150).max(320).optional().describe('at 1.27 mm lift, crank degrees'),
  lobeSeparationDeg: z.number().min(90).max(125).optional().describe('cam degrees'),
  idleVacuumKpa: z.number().min(0).max(85).optional().describe('below the barometer, warm idle, kPa'),
})
export const IgnitionFacts = z.strictObject({
  kind: z.enum(['points', 'electronic-inductive', 'magnetic', 'hall', 'capacitive', 'crank-trigger']).optional(),
  advanceLocked: z.boolean().optional(),
  rotation: z.enum(['clockwise', 'anticlockwise']).optional().describe('of the rotor, seen from above'),
  coilPrimaryOhm: z.number().min(0.1).max(10).optional(),
  coilInductanceMh: z.number().min(0.5).max(30).optional(),
  ballastResistor: z.boolean().optional(),
  leads: z.enum(['resistive', 'solid-core']).optional(),
  plugs: z.enum(['resistor', 'plain']).optional(),
  rotorRadiusMm: z.number().min(8).max(60).optional(),
  rotorTipWidthMm: z.number().min(0.5).max(40).optional(),
  terminalWidthMm: z.number().min(0.5).max(30).optional(),
  damperDiameterMm: z.number().min(60).max(400).optional(),
})
export const FuelFacts = z.strictObject({
  kind: z.enum(['petrol', 'e10', 'e85']).optional(),
  octaneRon: z.number().min(80).max(115).optional(),
  tankL: z.number().min(5).max(300).optional(),
  tankVented: z.boolean().optional(),
  returnLine: z.boolean().optional(),
})
export const ElectricsFacts = z.strictObject({
  polarity: z.enum(['negative-earth', 'positive-earth']).optional(),
  charging: z.enum(['alternator', 'dynamo']).optional(),
  chargingIdleA: z.number().min(0).max(300).optional(),
  chargingRatedA: z.number().min(0).max(300).optional(),
  restV: z.number().min(4).max(15).optional(),
  crankingV: z.number().min(3).max(14).optional(),
})
export const GearingFacts = z.strictObject({
  gearbox: z.enum(['manual', 'automatic']).optional(),
  gearRatios: z.array(z.number().min(0.4).max(8)).min(1).max(8).optional(),
  axleRatio: z.number().min(1.5).max(9).optional(),
  tyreCircumferenceM: z.number().min(1).max(3.5).optional(),
  massKg: z.number().min(200).max(6000).optional(),
})
export const PlaceFacts = z.strictObject({
  use: z.enum(['road', 'track', 'boat']).optional(),
  altitudeM: z.number().min(-400).max(4500).optional(),
  barometerKpa: z.number().min(55).max(108).optional().describe('at the place of work, not reduced to sea level'),
})

export const Facts = z.strictObject({
  car: z
    .strictObject({
      make: text().optional(),
      model: text().optional(),
      year: z.int().min(1900).max(2030).optional(),
      body: text().optional(),
      owner: text().optional(),
    })
    .optional(),
  engine: EngineFacts.optional(),
  cam: CamFacts.optional(),
  ignition: IgnitionFacts.optional(),
  fuel: FuelFacts.optional(),
  electrics: ElectricsFacts.optional(),
  gearing: GearingFacts.optional(),
  place: PlaceFacts.optional(),
})
export type Facts = z.infer<typeof Facts>
