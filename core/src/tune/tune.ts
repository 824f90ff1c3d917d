import { z } from 'zod'
import { CoreError } from '../kernel/index.ts'
import { checkAxis } from './axes.ts'
import { KnownTable } from './known.ts'
import { RunnerTable } from './runner.ts'
import { USUAL_THERMISTOR } from './sensors.ts'

/** A tune document: what a control unit holds. Tables share one pair of axes; cells row by row, MAP the slow index. Schema version 1. */
const axis = (min: number, max: number) => z.array(z.number().min(min).max(max)).min(8).max(24)
const curve = (minX: number, maxX: number, minY: number, maxY: number) =>
  z
    .array(z.tuple([z.number().min(minX).max(maxX), z.number().min(minY).max(maxY)]))
    .min(2)
    .max(12)

const thermistor = () =>
  z
    .array(z.tuple([z.number().min(-60).max(200), z.number().min(1).max(1e6)]))
    .length(3)
    .refine((points) => points.every(([c, ohm], i) => i === 0 || (c > points[i - 1][0] && ohm < points[i - 1][1])), {
      message: 'must rise in degC and fall in ohm from point to point',
    })
    .default(() => USUAL_THERMISTOR.map(([c, ohm]): [number, number] => [c, ohm]))

export const tableNames = ['ve', 'lambdaTarget', 'spark'] as const
export type TableName = (typeof tableNames)[number]
export const tableSpecs: Record<TableName, { label: string; unit: string; min: number; max: number; decimals: number }> = {
  ve: { label: 'Volumetric efficiency', unit: '%', min: 5, max: 200, decimals: 1 },
  lambdaTarget: { label: 'Target lambda', unit: 'lambda', min: 0.6, max: 1.3, decimals: 3 },
  spark: { label: 'Spark', unit: '° BTDC', min: -20, max: 60, decimals: 1 },
}

export const TuneParameters = z.strictObject({
  displacementCc: z.number().min(100).max(15000),
  cylinders: z.int().min(1).max(12),
  injectors: z.int().min(1).max(24),
  injectorCcMin: z.number().min(50).max(5000).describe('static flow of one injector at base pressure, cm3/min'),
  fuelPressureKpa: z.number().min(50).max(700),
  injectionsPerCycle: z.int().min(1).max(12).describe('openings of each injector in one 720-degree cycle'),
  fuelDensityKgL: z.number().min(0.6).max(0.9),
  stoichAfr: z.number().min(5).max(20),
  deadTimeMs: curve(6, 18, 0, 5).describe('dead time by battery voltage: [V, ms]'),
  chargeHeatShare: z.number().min(0).max(1).describe('k in charge temperature = intake air + k (coolant - intake air)'),
  barometerKpa: z.number().min(50).max(115),
  crankingPct: curve(-40, 120, 50, 800).describe('cranking fuel by coolant, % of stoichiometric: [degC, %]'),
  crankingDecayFirings: z.int().min(1).max(2000),
  warmupPct: curve(-40, 120, 0, 200).describe('extra fuel by coolant: [degC, %]'),
  afterStartPct: curve(-40, 120, 0, 200).describe('extra fuel just after start by coolant: [degC, %]'),
  afterStartS: z.number().min(1).max(120),
  primeMs: z.number().min(0).max(50),
  accelPctPer100: z.number().min(0).max(400).describe('extra fuel for a throttle rate of 100 %/s, warm, %'),
  accelColdFactor: z.number().min(1).max(6).describe('times that fuel at 0 degC, falling straight to once at 75 degC'),
  accelDecayS: z.number().min(0.05).max(3),
  cutAboveRpm: z.number().min(800).max(8000).describe('decel fuel cut above this with the throttle shut'),
  cutReturnRpm: z.number().min(600).max(8000),
  idleTargetRpm: curve(-40, 120, 300, 3000),
  idleValvePct: curve(-40, 120, 0, 100).describe('valve position to start from by coolant: [degC, %]'),
  crankingAdvanceDeg: z.number().min(-10).max(30),
  loopMinCoolantC: z.number().min(-40).max(120),
  loopDelayS: z.number().min(0).max(600),
  loopAuthorityPct: z.number().min(0).max(50),
  loopMaxMapKpa: z.number().min(20).max(300),
  loopFloorRpm: z.number().min(0).max(5000),
  revLimitRpm: z.number().min(1000).max(15000),
  fanOnC: z.number().min(50).max(130),
  fanOffC: z.number().min(45).max(130),
  primeS: z.number().min(0.5).max(10),
  floodClearPct: z.number().min(50).max(100),
  // what follows came later: a tune written before it reads as having the usual values
  idleInGearRpm: z.number().min(-300).max(300).default(-50).describe('added to the idle target in gear, automatic'),
  idleFanRpm: z.number().min(0).max(300).default(50).describe('added to the idle target while the fan runs'),
  idleFanValvePct: z.number().min(0).max(30).default(0).describe('added to the valve as the fan comes on, before the speed falls'),
  idleGearValvePct: z.number().min(0).max(30).default(0).describe('added to the valve as a gear is taken, automatic'),
  idleGainPct: z.number().min(0).max(30).default(1.2).describe('valve moves by this for 100 rpm off the target'),
  idleIntegralPctS: z.number().min(0).max(30).default(2.4).describe('and goes on by this each second'),
  idleDampingPct: z.number().min(0).max(10).default(0).describe('valve moves against a change of 100 rpm in a second by this'),
  idleSparkDegPer100: z.number().min(0).max(15).default(3).describe('spark moves by this for 100 rpm off the target'),
  idleSparkMostDeg: z.number().min(0).max(20).default(6).describe('and no further than this'),
  idleAdaptMostPct: z.number().min(2).max(60).default(60).describe('how far the unit may move the valve from where it starts'),
  loopGainPctS: z.number().min(0.02).max(8).default(0.6).describe('closed loop moves by this each second for 1 % of mixture'),
  accelMapPctPer100: z.number().min(0).max(400).default(4).describe('extra fuel for a manifold pressure rate of 100 kPa/s, warm, %'),
  revSoftBelowRpm: z.number().min(0).max(1000).default(200).describe('spark is drawn back from so far below the rev limit'),
  shiftLightBelowRpm: z.number().min(0).max(2000).default(300).describe('shift light comes on so far below the rev limit'),
  tachPulsesPerRev: z.number().min(0.5).max(12).default(2),
  overboostKpa: z.number().min(50).max(500).default(400).describe('fuel is cut over this manifold pressure, kPa absolute'),
  learnAuthorityPct: z.number().min(0).max(30).default(0).describe('how far the unit may correct itself for good; 0: it does not learn'),
  nitrousRetardDeg: z.number().min(0).max(30).default(0).describe('spark is drawn back by this while nitrous flows'),
  toldFlowPct: z
    .number()
    .min(40)
    .max(200)
    .default(100)
    .describe('flow told to a unit that makes its base itself from answers, % of the injectors’ own'),
  airRetardFromC: z.number().min(0).max(100).default(40).describe('spark is drawn back over this intake air temperature'),
  airRetardDegPerK: z.number().min(0).max(2).default(0.2),
  mapAtZeroVKpa: z.number().min(-100).max(200).default(-2.5),
  mapKpaPerV: z.number().min(5).max(200).default(25),
  coolantSensorOhm: thermistor().describe('resistance of the coolant sensor at three temperatures: [degC, ohm]'),
  airSensorOhm: thermistor().describe('resistance of the intake air sensor at three temperatures: [degC, ohm]'),
  throttleShutV: z.number().min(0).max(5).default(0.5),
  throttleOpenV: z.number().min(0).max(5).default(4.5),
  lambdaAtZeroV: z.number().min(0.2).max(2).default(0.5),
  lambdaPerV: z.number().min(-1).max(1).default(0.4).describe('lambda for each volt of the mixture meter'),
})
export type TuneParameters = z.infer<typeof TuneParameters>

export const TuneDocument = z
  .strictObject({
    schema: z.literal('vectum-tune/1'),
    axes: z.strictObject({ rpm: axis(0, 15000), mapKpa: axis(5, 450) }),
    tables: z.strictObject({ ve: z.array(z.number()), lambdaTarget: z.array(z.number()), spark: z.array(z.number()) }),
    parameters: TuneParameters,
    runner: RunnerTable.optional().describe('VE by throttle, for a throttle to each runner'),
    provenance: z.record(z.string(), z.string().max(400)).describe('where each table and parameter came from'),
    known: KnownTable.optional().describe('what the last log that was believed left at each cell'),
  })
  .superRefine((tune, context) => {
    for (const name of ['rpm', 'mapKpa'] as const)
      try {
        checkAxis(name, tune.axes[name])
      } catch (error) {
        context.addIssue({ code: 'custom', path: ['axes', name], message: (error as Error).message })
      }
    const size = tune.axes.rpm.length * tune.axes.mapKpa.length
    if (tune.runner && tune.runner.ve.length !== tune.runner.throttlePct.length * tune.axes.rpm.length)
      context.addIssue({
        code: 'custom',
        path: ['runner', 've'],
        message: `VE by throttle has ${tune.runner.ve.length} cells; the axes ask for ${tune.runner.throttlePct.length * tune.axes.rpm.length}`,
      })
    for (const name of tableNames) {
      const cells = tune.tables[name]
      const { min, max, unit, label } = tableSpecs[name]
      if (cells.length !== size)
        context.addIssue({
          code: 'custom',
          path: ['tables', name],
          message: `${label} has ${cells.length} cells; the axes ask for ${size}`,
        })
      const bad = cells.findIndex((value) => !(value >= min && value <= max))
      if (bad >= 0)
        context.addIssue({
          code: 'custom',
          path: ['tables', name, bad],
          message: `${label} cell ${bad} is ${cells[bad]}; it must be ${min} to ${max} ${unit}`,
        })
    }
  })
export type TuneDocument = z.infer<typeof TuneDocument>

/** The tune with one table replaced. @throws CoreError TABLE_INVALID when the cells do not fit axes or bounds */
export function withTable(tune: TuneDocument, name: TableName, cells: number[], provenance: string): TuneDocument {
  const next = { ...tune, tables: { ...tune.tables, [name]: cells }, provenance: { ...tune.provenance, [name]: provenance } }
  const checked = TuneDocument.safeParse(next)
  if (!checked.success) throw new CoreError('TABLE_INVALID', name, checked.error.issues[0].message)
  return next
}

/** How much of `accelColdFactor` counts at a coolant temperature: all of it at 0 degC, none from 75 degC on, straight between. */
export const accelColdShare = (coolantC: number): number => Math.min(1, Math.max(0, (75 - coolantC) / 75))
