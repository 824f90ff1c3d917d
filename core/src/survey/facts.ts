import { z } from 'zod'

/** Facts about the car as it stands. Every one may be missing ("not known"); units are metric and stand in the name. */
const text = (max = 80) => z.string().trim().min(1).max(max)

const rating = z.int().min(1).max(5).optional().describe('1 bad to 5 good, by the same driver before and after')

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
  cycle: z.enum(['four-stroke', 'two-stroke']).optional(),
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
  powerSource: z.enum(['dyno', 'maker', 'estimate']).optional(),
  rotation: z.enum(['clockwise', 'anticlockwise']).optional().describe('of the crank, seen from the front'),
  siamesedInlets: z.boolean().optional(),
  oddFire: z.boolean().optional().describe('the firings do not follow each other evenly'),
})
export const CamFacts = z.strictObject({
  class: CamClass.optional(),
  material: z.enum(['cast-iron', 'roller-steel', 'billet']).optional(),
  inletDurationDeg: z.number().min(150).max(320).optional().describe('at 1.27 mm lift, crank degrees'),
  exhaustDurationDeg: z.number().min(150).max(320).optional().describe('at 1.27 mm lift, crank degrees'),
  lobeSeparationDeg: z.number().min(90).max(125).optional().describe('cam degrees'),
  idleVacuumKpa: z.number().min(0).max(85).optional().describe('below the barometer, warm idle, kPa'),
})
export const InductionFacts = z.strictObject({
  kind: z.enum(['natural', 'draw-through', 'blow-through']).optional(),
  nitrous: z.boolean().optional(),
  boostKpa: z.number().min(0).max(250).optional().describe('over the barometer, kPa'),
})
export const HealthFacts = z.strictObject({
  compressionKpa: z.array(z.number().min(0).max(2500)).min(1).max(12).optional().describe('gauge, cylinder by cylinder, kPa'),
  leakDownPct: z.array(z.number().min(0).max(100)).min(1).max(12).optional().describe('cylinder by cylinder, %'),
  valveLashSet: z.boolean().optional(),
  shaftPlayMm: z.number().min(0).max(5).optional().describe('distributor shaft, sideways, mm'),
  capAndLeadsSound: z.boolean().optional(),
  vacuumLeaks: z.boolean().optional(),
})
export const IgnitionFacts = z.strictObject({
  kind: z.enum(['points', 'electronic-inductive', 'magnetic', 'hall', 'capacitive', 'crank-trigger']).optional(),
  advanceLocked: z.boolean().optional(),
  mechanicalAdvanceDeg: z.number().min(0).max(60).optional().describe('all of it, crank degrees'),
  mechanicalStartRpm: z.number().min(200).max(8000).optional(),
  mechanicalFullRpm: z.number().min(500).max(12000).optional(),
  vacuumAdvanceDeg: z.number().min(0).max(40).optional().describe('of the can, crank degrees'),
  vacuumFullKpa: z.number().min(0).max(90).optional().describe('vacuum at which the can is all in, kPa'),
  vacuumSource: z.enum(['none', 'ported', 'manifold']).optional(),
  rotation: z.enum(['clockwise', 'anticlockwise']).optional().describe('of the rotor, seen from above'),
  coilPrimaryOhm: z.number().min(0.1).max(10).optional(),
  coilInductanceMh: z.number().min(0.5).max(30).optional(),
  ballastResistor: z.boolean().optional(),
  leads: z.enum(['resistive', 'solid-core']).optional(),
  plugs: z.enum(['resistor', 'plain']).optional(),
  plugHeat: z.enum(['colder', 'as-maker', 'hotter']).optional().describe('heat range fitted, against the maker’s'),
  oldPlugs: z.enum(['tan', 'sooty', 'white', 'oily']).optional().describe('what the old plugs looked like'),
  rotorRadiusMm: z.number().min(8).max(60).optional(),
  rotorTipWidthMm: z.number().min(0.5).max(40).optional(),
  terminalWidthMm: z.number().min(0.5).max(30).optional(),
  damperDiameterMm: z.number().min(60).max(400).optional(),
})
export const FuelFacts = z.strictObject({
  kind: z.enum(['petrol', 'e10', 'e85']).optional(),
  octaneRon: z.number().min(80).max(115).optional(),
  tankL: z.number().min(5).max(300).optional(),
  tankPlace: z.enum(['rear-under', 'boot', 'front', 'cabin']).optional(),
  tankVented: z.boolean().optional(),
  tankBaffled: z.boolean().optional(),
  canister: z.boolean().optional().describe('evaporative canister'),
  lineBoreMm: z.number().min(2).max(20).optional(),
  lineMaterial: z.enum(['steel', 'copper', 'plastic', 'rubber']).optional(),
  mechanicalPump: z.boolean().optional(),
  mechanicalPumpKpa: z.number().min(0).max(100).optional(),
  returnLine: z.boolean().optional(),
  reuseRegulator: z.boolean().optional().describe('an earlier regulator is to be kept'),
  reuseRegulatorKpa: z.number().min(0).max(700).optional(),
})
export const ElectricsFacts = z.strictObject({
  polarity: z.enum(['negative-earth', 'positive-earth']).optional(),
  charging: z.enum(['alternator', 'dynamo']).optional(),
  chargingIdleA: z.number().min(0).max(300).optional(),
  chargingRatedA: z.number().min(0).max(300).optional(),
  restV: z.number().min(4).max(15).optional(),
  crankingV: z.number().min(3).max(14).optional(),
  batteryPlace: z.enum(['bay', 'boot', 'cabin']).optional(),
  fan: z.enum(['belt', 'electric']).optional(),
})
export const ExhaustFacts = z.strictObject({
  kind: z.enum(['manifold', 'headers']).optional(),
  mergeMm: z.number().min(50).max(4000).optional().describe('from the head to where the branches merge, mm'),
  leaks: z.boolean().optional(),
  catalyst: z.boolean().optional(),
  bung: z.enum(['none', 'after-merge', 'one-branch', 'far-back']).optional(),
})
export const BaselineFacts = z.strictObject({
  idleRpm: z.number().min(200).max(3000).optional(),
  coldStartS: z.number().min(0).max(300).optional(),
  hotRestartS: z.number().min(0).max(300).optional().describe('after a 20 minute soak, s'),
  fuelUseLPer100km: z.number().min(2).max(80).optional(),
  dynoKw: z.number().min(5).max(1000).optional(),
  faults: text(400).optional().describe('felt on the road: stumble at, surge, pings'),
  pullAway: rating,
  partThrottle: rating,
  acceleration: rating,
  restart: rating,
  smell: rating,
})
export const IntakeFacts = z.strictObject({
  complaint: text(400).optional(),
  testDrive: text(400).optional(),
  approvedBy: text().optional(),
  deferred: text(400).optional(),
})
export const GearingFacts = z.strictObject({
  gearbox: z.enum(['manual', 'automatic']).optional(),
  gearRatios: z.array(z.number().min(0.4).max(8)).min(1).max(8).optional(),
  axleRatio: z.number().min(1.5).max(9).optional(),
  tyreSize: text(24).optional().describe('205/70R15, 185R14, or a bias-ply size with the diameter measured'),
  tyreDiameterMm: z.number().min(350).max(1200).optional().describe('measured, mm'),
  tyreCircumferenceM: z.number().min(1).max(3.5).optional(),
  massKg: z.number().min(200).max(6000).optional(),
  frontalM2: z.number().min(0.5).max(6).optional(),
  dragCoefficient: z.number().min(0.15).max(1.5).optional(),
  kickDown: z.enum(['none', 'cable', 'throttle-valve', 'electric']).optional(),
})
export const PlaceFacts = z.strictObject({
  use: z.enum(['road', 'track', 'boat']).optional(),
  altitudeM: z.number().min(-400).max(4500).optional(),
  barometerKpa: z.number().min(55).max(108).optional().describe('at the place of work, not reduced to sea level'),
  startsFrom: z.enum(['carburettor', 'earlier-injection', 'half-finished']).optional(),
  onStand: z.boolean().optional().describe('the engine is on a stand: no gearing, no road'),
  bonnetMm: z.number().min(0).max(600).optional().describe('free height over the carburettor flange, mm'),
  flange: z.enum(['square-four', 'spread-four', 'two-barrel', 'single', 'side-draught', 'other']).optional(),
  unitPlace: z.enum(['cabin', 'bay']).optional(),
})

export const Facts = z.strictObject({
  car: z
    .strictObject({
      make: text().optional(),
      model: text().optional(),
      year: z.int().min(1900).max(2030).optional(),
      body: text().optional(),
      class: z.enum(['small-saloon', 'saloon', 'large-saloon', 'sports', 'pick-up']).optional(),
      owner: text().optional(),
    })
    .optional(),
  engine: EngineFacts.optional(),
  cam: CamFacts.optional(),
  induction: InductionFacts.optional(),
  health: HealthFacts.optional(),
  ignition: IgnitionFacts.optional(),
  fuel: FuelFacts.optional(),
  electrics: ElectricsFacts.optional(),
  exhaust: ExhaustFacts.optional(),
  gearing: GearingFacts.optional(),
  baseline: BaselineFacts.optional(),
  intake: IntakeFacts.optional(),
  place: PlaceFacts.optional(),
})
export type Facts = z.infer<typeof Facts>
