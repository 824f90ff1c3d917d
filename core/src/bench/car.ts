import { fuels } from '../injection/index.ts'
import { alongCurve, type ChoiceTable, CoreError, Random } from '../kernel/index.ts'
import { boostKpaOf, type Facts, idleTargetRpm, overlapDeg, resolveFacts } from '../survey/index.ts'
import type { Blower } from './boost.ts'
import { type Breathing, tunedRpm, unexplained } from './breathing.ts'
import { fitAir, fitIdle, fitToPower, fullLoadKept } from './fit-car.ts'
import { openPortsM2 } from './ports.ts'
import { type VeGrid, veGrid } from './ve-grid.ts'

/** The simulated car: what is really there, which the tune under test does not know. All SI inside the bench unless the name says otherwise. */
export interface BenchCar {
  seed: number
  cylinders: number
  displacementM3: number
  compressionRatio: number
  octaneRon: number
  automatic: boolean
  redlineRpm: number
  idleRpm: number
  barometerKpa: number
  /** what its pressure sensor was bought for */
  highestMapKpa: number
  ambientC: number
  manifoldM3: number
  inertiaKgM2: number
  throttleAreaM2: number
  /** its plate shut, from square across, deg */
  plateShutDeg: number
  /** of ports that nobody capped, m2 */
  openPortsM2: number
  plateLeakM2: number
  idleValveAreaM2: number
  breathing: Breathing
  blower: Blower | null
  nitrous: boolean
  /** speed of most power, rpm */
  powerRpm: number
  /** indicated work over the textbook's, where no breathing explains the power surveyed */
  workScale: number
  /** work lost for each share of burnt gas over a tenth: so that torque balances at the surveyed idle */
  dilutionLoss: number
  frictionScale: number
  idleMapKpa: number
  accessoryNm: number
  /** share of the way from intake air to coolant that the charge is heated, still and at full flow */
  chargeHeat: { still: number; full: number }
  fuel: { stoichAfr: number; heatJKg: number; densityKgL: number }
  injectors: number
  injectorGPerMs: number
  /** dead time of its injectors by battery voltage: [V, ms] */
  deadTimeMs: readonly (readonly [number, number])[]
  basePressureKpa: number
  /** share of its air, and of its fuel, that each cylinder gets, by place in the firing order; each averages 1 */
  airShares: readonly number[]
  fuelShares: readonly number[]
  /** a wet manifold shares its fuel out worse when cold, so many times as badly at -10 degC */
  coldSharing: number
  pipeM3: number
  sensorLagS: number
  heatCapacityJK: number
  thermostatC: number
  starterNm: number
  dynamo: boolean
  /** true VE, %, and residual share on an even grid, rows by MAP; see `trueVe` */
  ve: VeGrid
  /** the swellings of part load that no drawing explains */
  unexplained: (rpm: number, mapKpa: number) => number
}
/** What cams of each class are like: overlap at 0.15 mm lift, closing of the inlet, lift over valve, mean inlet Mach index at the redline. */
const CAMS = {
  stock: { overlapDeg: 16, closesDeg: 50, lift: 0.22, machAtRedline: 0.97 },
  mild: { overlapDeg: 30, closesDeg: 58, lift: 0.235, machAtRedline: 0.87 },
  hot: { overlapDeg: 46, closesDeg: 67, lift: 0.25, machAtRedline: 0.78 },
  wild: { overlapDeg: 62, closesDeg: 78, lift: 0.27, machAtRedline: 0.71 },
} as const
/** What an idle that was measured tells of overlap and closing, kPa to crank degrees: an engine near the edge of its class has a cam near that edge. */
const BY_IDLE_MAP = {
  overlapDeg: [
    [30, 12],
    [36, 16],
    [45, 30],
    [56, 46],
    [66, 62],
    [74, 74],
  ],
  closesDeg: [
    [36, 50],
    [45, 58],
    [56, 67],
    [66, 78],
  ],
} as const satisfies Record<string, readonly (readonly [number, number])[]>
/** overlap told at 1.27 mm lift is so much less than at 0.15 mm, crank degrees */
const OVERLAP_LIFT_DEG = 42
/** Manifolds of each route: runner length, gain of its wave, spread of air and of fuel from cylinder to cylinder, cold sharing, heat of a still charge. */
const MANIFOLDS = {
  'throttle-body': { runnerM: 0.32, gain: 0.035, airSpread: 0.025, fuelSpread: 0.05, cold: 1.8, still: 0.5 },
  'multi-port': { runnerM: 0.36, gain: 0.055, airSpread: 0.02, fuelSpread: 0.015, cold: 1, still: 0.36 },
  'individual-runner': { runnerM: 0.26, gain: 0.09, airSpread: 0.015, fuelSpread: 0.015, cold: 1, still: 0.28 },
} as const
/** what a wide open bore passes of its area */
const PLATE_DISCHARGE = 0.82
/** exhaust back-pressure at full power, kPa */
const BACK_KPA = { manifold: 14, headers: 7 } as const
/** Spread of full-load air against the papers: two sigma and its bound, where power was told and where it had to be assumed. */
export const FULL_LOAD_SPREAD = { told: { sigma: 0.02, bound: 0.04 }, assumed: { sigma: 0.05, bound: 0.1 } } as const

/** As many shares as cylinders, spread by sigma about 1 and averaging 1. */
function shares(n: number, spread: () => number): number[] {
  const drawn = Array.from({ length: n }, () => 1 + spread())
  const mean = drawn.reduce((a, v) => a + v, 0) / n
  return drawn.map((v) => v / mean)
}

/**
 * A bench car for a build: the same engine on paper, drawn from its hardware with the spread real ones have, by the seed.
 * Friction and the cost of burnt gas are set so that torque balances at the surveyed idle; throttle and valve so that the air it needs there can pass.
 * @param options.asOnPaper no spread: full-load power lands on the survey's, and every cylinder is like the next
 * @throws CoreError FACT_MISSING when cylinders, displacement or injectors are not known
 */
export function benchCarFor(facts: Facts, choices: ChoiceTable, seed: number, options: { asOnPaper?: boolean } = {}): BenchCar {
  const r = resolveFacts({ facts })
  if (r.cylinders === null) throw new CoreError('FACT_MISSING', 'number of cylinders')
  if (r.displacementCc === null) throw new CoreError('FACT_MISSING', 'displacement')
  const plan = choices.plan ?? {}
  if (plan.injectorCcMin === undefined || plan.injectorRatedKpa === undefined || plan.fuelPressureKpa === undefined)
    throw new CoreError('FACT_MISSING', 'injector flow and fuel pressure')
  const fuel = fuels[r.fuelKind]
  const random = new Random(seed)
  /** normal, never beyond twice sigma */
  const spread = (sigma: number) => {
    const drawn = sigma * Math.min(2, Math.max(-2, random.normal()))
    return options.asOnPaper ? 0 : drawn
  }
  const route = plan.route ?? 'throttle-body'
  const manifold = MANIFOLDS[route]
  const cam = CAMS[r.camClass]
  const displacementM3 = r.displacementCc / 1e6
  const cylinderM3 = displacementM3 / r.cylinders
  const { engine = {}, cam: told = {}, induction = {} } = facts
  const boreM = engine.boreMm ? engine.boreMm / 1000 : Math.cbrt((4 * cylinderM3) / Math.PI)
  const strokeM = cylinderM3 / ((Math.PI / 4) * boreM * boreM)
  const valveToBore = 0.43
  const byNumbers =
    told.inletDurationDeg && told.exhaustDurationDeg && told.lobeSeparationDeg
      ? Math.min(90, Math.max(8, overlapDeg(told.inletDurationDeg, told.exhaustDurationDeg, told.lobeSeparationDeg) + OVERLAP_LIFT_DEG))
      : told.idleVacuumKpa === undefined
        ? cam.overlapDeg
        : alongCurve(BY_IDLE_MAP.overlapDeg, r.idleMapKpa)
  const boostKpa = boostKpaOf(facts)
  const breathing: Breathing = {
    boreM,
    strokeM,
    compressionRatio: r.compressionRatio,
    cylinderM3,
    overlapDeg: byNumbers * (1 + spread(0.12)),
    inletClosesDegAbdc: (told.idleVacuumKpa === undefined ? cam.closesDeg : alongCurve(BY_IDLE_MAP.closesDeg, r.idleMapKpa)) + spread(2),
    valveToBore,
    liftToValve: cam.lift,
    flowCoefficient: ((2 * strokeM * r.redlineRpm) / 60 / (valveToBore ** 2 * 345 * cam.machAtRedline)) * (1 + spread(0.025)),
    tunedRpm:
      tunedRpm(manifold.runnerM, (Math.PI / 4) * (0.9 * valveToBore * boreM) ** 2, cylinderM3, r.compressionRatio) * (1 + spread(0.06)),
    tunedGain: manifold.gain * (1 + spread(0.3)),
    backKpa: BACK_KPA[facts.exhaust?.kind === 'headers' ? 'headers' : 'manifold'] * (1 + spread(0.2)),
    fullKgS: displacementM3 * 40,
    fill: 1,
    camLateDeg: 0,
  }
  const flat = () => 1
  const car: BenchCar = {
    seed,
    cylinders: r.cylinders,
    displacementM3,
    compressionRatio: r.compressionRatio,
    octaneRon: r.octaneRon,
    automatic: r.automatic,
    redlineRpm: r.redlineRpm,
    idleRpm: idleTargetRpm(r),
    barometerKpa: r.barometerKpa,
    highestMapKpa: r.barometerKpa + boostKpa,
    ambientC: 20,
    manifoldM3: displacementM3 * 1.1,
    inertiaKgM2: 0.08 + 0.06 * displacementM3 * 1000,
    throttleAreaM2: 0,
    plateShutDeg: 0,
    openPortsM2: options.asOnPaper ? 0 : openPortsM2(choices),
    plateLeakM2: 0,
    idleValveAreaM2: 0,
    breathing,
    blower:
      boostKpa > 0
        ? {
            drive: induction.drive ?? 'exhaust',
            place: induction.kind === 'draw-through' ? 'draw-through' : 'blow-through',
            fullKpa: boostKpa,
            intercooled: induction.intercooler === true,
          }
        : null,
    nitrous: induction.nitrous === true,
    powerRpm: 0.85 * r.redlineRpm,
    workScale: 1,
    dilutionLoss: 0,
    frictionScale: 1 + spread(0.05),
    idleMapKpa: r.idleMapKpa,
    accessoryNm: 3,
    chargeHeat: { still: manifold.still * (1 + spread(0.1)), full: 0.12 * (1 + spread(0.1)) },
    fuel: { stoichAfr: fuel.stoichAfr, heatJKg: fuel.heatMjKg * 1e6, densityKgL: fuel.densityKgL },
    injectors: plan.injectors ?? r.cylinders,
    injectorGPerMs:
      ((plan.injectorCcMin * Math.sqrt(plan.fuelPressureKpa / plan.injectorRatedKpa) * fuel.densityKgL) / 60000) * (1 + spread(0.005)),
    deadTimeMs: deadTimes(1 + spread(0.03)),
    basePressureKpa: plan.fuelPressureKpa,
    airShares: shares(r.cylinders, () => spread(manifold.airSpread)),
    fuelShares: shares(r.cylinders, () => spread(manifold.fuelSpread)),
    coldSharing: manifold.cold,
    pipeM3: displacementM3 * 1.1,
    sensorLagS: 0.085 + spread(0.015),
    heatCapacityJK: 14000 + 9000 * displacementM3 * 1000,
    thermostatC: 82,
    starterNm: 40 + 32 * displacementM3 * 1000,
    dynamo: facts.electrics?.charging === 'dynamo',
    ve: { rpmStep: 1, mapStep: 1, columns: 2, rows: 2, cells: new Float64Array(4), residual: new Float64Array(4) },
    unexplained: flat,
  }
  fitToPower(car, r.powerKw)
  const { sigma, bound } = FULL_LOAD_SPREAD[engine.powerKw === undefined ? 'assumed' : 'told']
  if (!options.asOnPaper) {
    const paper = benchCarFor(facts, choices, seed, { asOnPaper: true })
    const off = 1 + spread(sigma)
    const surface = unexplained(random, 0.05, r.redlineRpm, r.barometerKpa)
    const kept = fullLoadKept(car, paper, off, bound)
    car.unexplained = (rpm, mapKpa) => surface(rpm, mapKpa) * kept(rpm)
  }
  car.ve = veGrid(car)
  fitAir(car)
  if (!options.asOnPaper) plates(car, choices, route === 'individual-runner' ? r.cylinders : 1)
  fitIdle(car)
  return car
}

/** Plates that were measured let through what their bores do, and stand shut as they do. */
function plates(car: BenchCar, { fitup }: ChoiceTable, usual: number): void {
  const { boreMm, count = usual, shutDeg = 0 } = fitup?.linkage?.plate ?? {}
  car.plateShutDeg = shutDeg
  if (boreMm !== undefined) car.throttleAreaM2 = PLATE_DISCHARGE * count * (Math.PI / 4) * (boreMm / 1000) ** 2
}

/** Dead times of high-impedance injectors: a straight line over voltage near charging, longer and longer under 10 V as the field builds ever slower. */
const deadTimes = (scale: number): [number, number][] =>
  [6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16].map((v) => [v, scale * (0.94 - 0.11 * (v - 14) + 0.055 * Math.max(0, 11 - v) ** 2)])
