import { plateShare } from '../air/index.ts'
import { fuels } from '../injection/index.ts'
import { alongCurve, type ChoiceTable, CoreError } from '../kernel/index.ts'
import { boostKpaOf, type Facts, idleTargetRpm, overlapDeg, resolveFacts } from '../survey/index.ts'
import { type Blower, Boost } from './boost.ts'
import { breathe, type Breathing, exhaustKpaAt, tunedRpm, unexplained } from './breathing.ts'
import { bestAdvanceDeg, CRITICAL_FLOW, fmepKpa, indicatedWorkJ, R_GAS, thermalShare } from './physics.ts'
import { Random } from './random.ts'

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
interface VeGrid {
  rpmStep: number
  mapStep: number
  columns: number
  rows: number
  cells: Float64Array
  residual: Float64Array
}

const VE_COLUMNS = 48
const VE_ROWS = 40
const LEAST_RPM = 120
const LEAST_MAP_KPA = 12
/** depression of the open throttle at full power, kPa */
const OPEN_DROP_KPA = 4
/** full-load mixture and spark at which makers rate power: a blown engine gives up both to knock */
const RATED = { natural: { lambda: 0.88, offBestDeg: 0 }, blown: { lambda: 0.8, offBestDeg: 12 } }
/** air in which power is rated, kPa, wherever the car stands */
const RATED_KPA = 100
const WARM_C = 86
/** over the outside air under the bonnet, K */
const WARM_AIR_K = 8

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
/** exhaust back-pressure at full power, kPa */
const BACK_KPA = { manifold: 14, headers: 7 } as const
/** Spread of full-load air against the papers: two sigma and its bound, where power was told and where it had to be assumed. */
export const FULL_LOAD_SPREAD = { told: { sigma: 0.02, bound: 0.04 }, assumed: { sigma: 0.05, bound: 0.1 } } as const

/** VE and residual of the whole map, with the cam a tooth late or the exhaust blocked. */
export function veGrid(car: Omit<BenchCar, 've'>, camLateDeg = 0, blocked = 1): VeGrid {
  const topRpm = car.redlineRpm * 1.15
  const topKpa = Math.max(120, car.highestMapKpa * 1.2)
  const [columns, rows] = [VE_COLUMNS, VE_ROWS]
  const cells = new Float64Array(columns * rows)
  const residual = new Float64Array(columns * rows)
  const b = camLateDeg === 0 ? car.breathing : { ...car.breathing, camLateDeg }
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const rpm = Math.max(LEAST_RPM, (column * topRpm) / (columns - 1))
      const mapKpa = Math.max(LEAST_MAP_KPA, (row * topKpa) / (rows - 1))
      const at = breatheAt(car, b, rpm, mapKpa, blocked)
      cells[row * columns + column] = at.vePct * car.unexplained(rpm, mapKpa)
      residual[row * columns + column] = at.residual
    }
  return { rpmStep: topRpm / (columns - 1), mapStep: topKpa / (rows - 1), columns, rows, cells, residual }
}

/** Exhaust pressure and breathing hang on each other: twice round is enough. */
function breatheAt(
  car: Pick<BenchCar, 'barometerKpa' | 'blower' | 'displacementM3' | 'ambientC' | 'chargeHeat'>,
  b: Breathing,
  rpm: number,
  mapKpa: number,
  blocked = 1,
) {
  const turbine = car.blower?.drive === 'exhaust' ? 1.05 * Math.max(0, mapKpa - car.barometerKpa) : 0
  let at = { vePct: 80, residual: 0.1 }
  let kgS = 0
  for (let round = 0; round < 2; round++) {
    kgS = airKgSOf(at.vePct, car.displacementM3, rpm, mapKpa, warmChargeK(car, kgS / b.fullKgS))
    at = breathe(b, rpm, mapKpa, exhaustKpaAt(b, car.barometerKpa, kgS, blocked) + turbine, warmChargeK(car, kgS / b.fullKgS))
  }
  return at
}

const airKgSOf = (vePct: number, displacementM3: number, rpm: number, mapKpa: number, chargeK: number): number =>
  ((vePct / 100) * mapKpa * 1000 * displacementM3 * (rpm / 120)) / (R_GAS * chargeK)
/** Share of the coolant's heat that the charge takes on: much while it hardly moves, little in a fast stream. */
export const chargeHeatShare = ({ still, full }: BenchCar['chargeHeat'], flowShare: number): number =>
  full + (still - full) * Math.exp(-4 * Math.max(0, flowShare))
function warmChargeK(car: Pick<BenchCar, 'ambientC' | 'chargeHeat'>, flowShare: number): number {
  const airC = car.ambientC + WARM_AIR_K
  return airC + chargeHeatShare(car.chargeHeat, flowShare) * (WARM_C - airC) + 273.15
}

/** True VE, %, at an operating point; bilinear on the even grid, clamped. */
export const trueVe = (car: Pick<BenchCar, 've'>, rpm: number, mapKpa: number): number => onGrid(car.ve, car.ve.cells, rpm, mapKpa)
/** Share of burnt gas in the charge at an operating point. */
export const trueResidual = (car: Pick<BenchCar, 've'>, rpm: number, mapKpa: number): number => onGrid(car.ve, car.ve.residual, rpm, mapKpa)

function onGrid({ rpmStep, mapStep, columns, rows }: VeGrid, cells: Float64Array, rpm: number, mapKpa: number): number {
  let x = rpm / rpmStep
  let y = mapKpa / mapStep
  if (x < 0) x = 0
  else if (x > columns - 1.0001) x = columns - 1.0001
  if (y < 0) y = 0
  else if (y > rows - 1.0001) y = rows - 1.0001
  const xi = x | 0
  const yi = y | 0
  const u = x - xi
  const v = y - yi
  const a = yi * columns + xi
  const low = cells[a] + (cells[a + 1] - cells[a]) * u
  const high = cells[a + columns] + (cells[a + columns + 1] - cells[a + columns]) * u
  return low + (high - low) * v
}

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
  fitIdle(car)
  return car
}

/** Dead times of high-impedance injectors: a straight line over voltage near charging, longer and longer under 10 V as the field builds ever slower. */
const deadTimes = (scale: number): [number, number][] =>
  [6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16].map((v) => [v, scale * (0.94 - 0.11 * (v - 14) + 0.055 * Math.max(0, 11 - v) ** 2)])

/** Brake power with the throttle open at a speed, W, at rated mixture and best spark, with air flow and manifold pressure. */
function openPower(here: BenchCar, rpm: number): { powerW: number; kgS: number; mapKpa: number } {
  const car = { ...here, barometerKpa: RATED_KPA }
  const { breathing: b } = car
  const rated = car.blower ? RATED.blown : RATED.natural
  const boost = new Boost(car.blower, car.barometerKpa, b.fullKgS, car.powerRpm)
  let kgS = b.fullKgS * (rpm / car.powerRpm)
  let mapKpa = car.barometerKpa
  for (let round = 0; round < 4; round++) {
    for (let t = 0; t < 6 && car.blower; t += 0.1) boost.step(0.1, kgS, rpm)
    mapKpa = (boost.beforeKpa - OPEN_DROP_KPA * (kgS / b.fullKgS) ** 2) * boost.afterTimes
    const hotter = boost.riseK(car.ambientC + 273) / warmChargeK(car, kgS / b.fullKgS)
    kgS = airKgSOf(breatheAt(car, b, rpm, mapKpa).vePct, car.displacementM3, rpm, mapKpa, warmChargeK(car, kgS / b.fullKgS)) / (1 + hotter)
  }
  const airG = (kgS * 1000 * 120) / rpm
  const best = bestAdvanceDeg(rpm, mapKpa, car.barometerKpa)
  const workJ = indicatedWorkJ({
    airG,
    fuelG: airG / (car.fuel.stoichAfr * rated.lambda),
    stoichAfr: car.fuel.stoichAfr,
    heatJKg: car.fuel.heatJKg,
    thermalShare: thermalShare(car.compressionRatio, rpm) * car.workScale,
    advanceDeg: best - rated.offBestDeg,
    bestAdvanceDeg: best,
  })
  const beltW = boost.beltW(kgS, car.ambientC + 273.15)
  return { powerW: ((workJ - lostJ(car, rpm, mapKpa, kgS)) * rpm) / 120 - beltW, kgS, mapKpa }
}

/** Friction, pumping and what drives the accessories, J in one engine cycle. */
function lostJ(car: BenchCar, rpm: number, mapKpa: number, kgS: number): number {
  const turbine = car.blower?.drive === 'exhaust' ? 1.05 * Math.max(0, mapKpa - car.barometerKpa) : 0
  const exhaustKpa = exhaustKpaAt(car.breathing, car.barometerKpa, kgS) + turbine
  const friction = fmepKpa(rpm, car.breathing.strokeM, mapKpa) * car.frictionScale
  return (friction + exhaustKpa - mapKpa) * 1000 * car.displacementM3 + car.accessoryNm * 4 * Math.PI
}

/** Factor over speed that brings the engine's full-load air to `off` times its paper's on the whole, and leaves of its own shape what stays within the bound. */
function fullLoadKept(car: BenchCar, paper: BenchCar, off: number, bound: number): (rpm: number) => number {
  const step = car.redlineRpm / 24
  const fullKpa = car.highestMapKpa - OPEN_DROP_KPA
  const ratios = Array.from({ length: 30 }, (_, i) => {
    const rpm = Math.max(LEAST_RPM, i * step)
    return breatheAt(car, car.breathing, rpm, fullKpa).vePct / breatheAt(paper, paper.breathing, rpm, fullKpa).vePct
  })
  const driven = ratios.slice(4, 25)
  const whole = driven.reduce((sum, ratio) => sum + ratio, 0) / driven.length
  const factors = ratios.map((ratio) => Math.min(1 + bound, Math.max(1 - bound, (off * ratio) / whole)) / ratio)
  return (rpm) => {
    const x = Math.min(factors.length - 1.001, rpm / step)
    const i = x | 0
    return factors[i] + (factors[i + 1] - factors[i]) * (x - i)
  }
}

/** Finds the speed of most power, and brings it to the power surveyed by how well the inlet fills; what no inlet explains, by the work itself. */
function fitToPower(car: BenchCar, powerKw: number | null): void {
  const { breathing: b } = car
  for (let round = 0; round < 8; round++) {
    let best = { powerW: 0, kgS: b.fullKgS, mapKpa: car.barometerKpa }
    let bestRpm = car.powerRpm
    for (let share = 0.6; share <= 1.0001; share += 0.02) {
      const at = openPower(car, share * car.redlineRpm)
      if (at.powerW > best.powerW) [best, bestRpm] = [at, share * car.redlineRpm]
    }
    car.powerRpm = bestRpm
    b.fullKgS = best.kgS
    if (powerKw === null) continue
    const losses = (lostJ({ ...car, barometerKpa: RATED_KPA }, bestRpm, best.mapKpa, best.kgS) * bestRpm) / 120
    const wanted = (powerKw * 1000 + losses) / (best.powerW + losses)
    const fill = Math.min(1.12, Math.max(0.78, b.fill * wanted))
    car.workScale = Math.min(1.15, Math.max(0.88, (car.workScale * wanted * b.fill) / fill))
    b.fill = fill
  }
}

/** Sizes the throttle for its drop at full power, leak and valve for the idle air. */
function fitAir(car: BenchCar): void {
  const { breathing: b, idleMapKpa } = car
  const flowPerM2 = (ratio: number, upstreamKpa: number) =>
    ((upstreamKpa * 1000) / Math.sqrt(R_GAS * (car.ambientC + 273.15))) * CRITICAL_FLOW.at(ratio)
  const beforeKpa = car.barometerKpa + (car.blower?.place === 'blow-through' ? car.blower.fullKpa : 0)
  car.throttleAreaM2 = b.fullKgS / flowPerM2((beforeKpa - OPEN_DROP_KPA) / beforeKpa, beforeKpa) / plateShare(100)
  const boost = new Boost(car.blower, car.barometerKpa, b.fullKgS, car.powerRpm)
  boost.step(10, 0, car.idleRpm)
  const idleAir = idleAirKgS(car)
  const idleArea = idleAir / flowPerM2(idleMapKpa / boost.afterTimes / boost.beforeKpa, boost.beforeKpa)
  car.plateLeakM2 = idleArea * 0.62
  // at a quarter open the valve carries the rest of a warm idle
  car.idleValveAreaM2 = (idleArea - car.plateLeakM2) / 0.25
}
const idleAirKgS = (car: BenchCar): number =>
  airKgSOf(trueVe(car, car.idleRpm, car.idleMapKpa), car.displacementM3, car.idleRpm, car.idleMapKpa, warmChargeK(car, 0.02))

/** an idle stands well after best torque, so that spark can hold the speed */
const IDLE_OFF_BEST_DEG = 14
/** Burnt gas costs what balances the surveyed idle; where that is not enough, friction does. */
function fitIdle(car: BenchCar): void {
  const { idleRpm, idleMapKpa } = car
  const kgS = idleAirKgS(car)
  const airG = (kgS * 1000 * 120) / idleRpm
  const best = bestAdvanceDeg(idleRpm, idleMapKpa, car.barometerKpa)
  const workJ = indicatedWorkJ({
    airG,
    fuelG: airG / car.fuel.stoichAfr,
    stoichAfr: car.fuel.stoichAfr,
    heatJKg: car.fuel.heatJKg,
    thermalShare: thermalShare(car.compressionRatio, idleRpm) * car.workScale,
    advanceDeg: best - IDLE_OFF_BEST_DEG,
    bestAdvanceDeg: best,
  })
  const over = trueResidual(car, idleRpm, idleMapKpa) - DILUTION_FROM
  const lost = lostJ(car, idleRpm, idleMapKpa, kgS)
  car.dilutionLoss = Math.min(MOST_DILUTION / over, Math.max(0, (1 - lost / workJ) / over))
  const left = workJ * (1 - car.dilutionLoss * over)
  const frictionJ = fmepKpa(idleRpm, car.breathing.strokeM, idleMapKpa) * 1000 * car.displacementM3 * car.frictionScale
  car.frictionScale *= Math.min(1.4, Math.max(0.6, 1 + (left - lost) / frictionJ))
}
const DILUTION_FROM = 0.1
const MOST_DILUTION = 0.6

/** Share of the work left with a share of burnt gas in the charge (Heywood, sections 6.4 and 9.4.3). */
export const dilutionShare = (car: Pick<BenchCar, 'dilutionLoss'>, residual: number): number =>
  1 - Math.min(0.85, car.dilutionLoss * Math.max(0, residual - DILUTION_FROM))
