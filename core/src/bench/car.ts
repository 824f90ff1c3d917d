import { peakPowerRpm, peakTorqueRpm, vePeakPct } from '../air/index.ts'
import { chargeTemperatureC, fuels } from '../injection/index.ts'
import { type ChoiceTable, CoreError } from '../kernel/index.ts'
import { type Facts, idleTargetRpm, resolveFacts } from '../survey/index.ts'
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
  /** indicated work over the textbook's, from the power the survey speaks of */
  workScale: number
  /** share of the work that burnt gas left in the cylinder costs at the surveyed idle */
  dilutionLoss: number
  idleMapKpa: number
  accessoryNm: number
  chargeHeatShare: number
  fuel: { stoichAfr: number; heatJKg: number; densityKgL: number }
  injectorGPerMs: number
  basePressureKpa: number
  pipeM3: number
  sensorLagS: number
  heatCapacityJK: number
  thermostatC: number
  starterNm: number
  dynamo: boolean
  /** true VE on an even grid, %, rows by MAP; see `trueVe` */
  ve: { rpmStep: number; mapStep: number; columns: number; rows: number; cells: Float64Array }
}

const VE_COLUMNS = 48
const VE_ROWS = 40
const VE_MAP_TOP_KPA = 120

/**
 * The engine's own VE, built another way than the base tune's: a bell over speed with an intake ripple, and residual gas growing with the
 * inverse of manifold pressure. Two smooth humps placed by the seed make it this engine and no other; a base tune cannot know them.
 */
function makeVe(
  seed: number,
  cam: 'stock' | 'mild' | 'hot' | 'wild',
  peakPct: number,
  torqueRpm: number,
  powerRpm: number,
  powerPct: number,
  idlePct: number,
  idleRpm: number,
  idleMapKpa: number,
  redlineRpm: number,
  barometerKpa: number,
) {
  const random = new Random(seed ^ 0x5eed)
  const topRpm = redlineRpm * 1.15
  const columns = VE_COLUMNS
  const rows = VE_ROWS
  const cells = new Float64Array(columns * rows)
  const width = (powerRpm - torqueRpm) / Math.sqrt(2 * Math.log(peakPct / powerPct))
  const lowWidth = torqueRpm * (cam === 'stock' ? 1.6 : cam === 'mild' ? 1.35 : cam === 'hot' ? 1.15 : 1)
  const humps = [0, 1].map(() => ({
    pct: (random.next() < 0.5 ? -1 : 1) * (3 + 4 * random.next()),
    rpm: idleRpm + random.next() * (powerRpm - idleRpm),
    mapKpa: 40 + random.next() * 50,
    rpmWidth: 900 + 700 * random.next(),
    mapWidth: 22 + 14 * random.next(),
  }))
  const overall = 1 + 0.03 * (2 * random.next() - 1)
  const speed = (rpm: number) =>
    peakPct *
    Math.exp(-0.5 * ((rpm - torqueRpm) / (rpm > torqueRpm ? width : lowWidth)) ** 2) *
    (1 + 0.012 * Math.sin((rpm / torqueRpm) * 7))
  // residuals: VE = open x (1 - c (pb/p - 1)), c fixed by the idle point and fading with speed
  const idleC = (1 - idlePct / speed(idleRpm)) / (barometerKpa / idleMapKpa - 1)
  const fastC = 0.055
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const rpm = (column * topRpm) / (columns - 1)
      const map = Math.max(12, (row * VE_MAP_TOP_KPA) / (rows - 1))
      const c = fastC + (idleC - fastC) * Math.exp(-((Math.max(0, rpm - idleRpm) / (0.45 * torqueRpm)) ** 1.4))
      let ve = speed(Math.max(150, rpm)) * Math.max(0.25, 1 - c * (barometerKpa / map - 1))
      for (const hump of humps)
        ve *= 1 + (hump.pct / 100) * Math.exp(-(((rpm - hump.rpm) / hump.rpmWidth) ** 2) - ((map - hump.mapKpa) / hump.mapWidth) ** 2)
      cells[row * columns + column] = ve * overall
    }
  return { rpmStep: topRpm / (columns - 1), mapStep: VE_MAP_TOP_KPA / (rows - 1), columns, rows, cells }
}

/** True VE, %, at an operating point; bilinear on the even grid, clamped. */
export function trueVe(car: BenchCar, rpm: number, mapKpa: number): number {
  const { rpmStep, mapStep, columns, rows, cells } = car.ve
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

/**
 * A bench car for a build: same engine on paper, but with its own VE, from the seed.
 * Friction is set so that torque balances at the surveyed idle; throttle and valve so that the air it needs there can pass.
 * @throws CoreError FACT_MISSING when cylinders, displacement or injectors are not known
 */
export function benchCarFor(facts: Facts, choices: ChoiceTable, seed: number): BenchCar {
  const r = resolveFacts({ facts })
  if (r.cylinders === null) throw new CoreError('FACT_MISSING', 'number of cylinders')
  if (r.displacementCc === null) throw new CoreError('FACT_MISSING', 'displacement')
  const plan = choices.plan ?? {}
  if (plan.injectorCcMin === undefined || plan.injectorRatedKpa === undefined || plan.fuelPressureKpa === undefined)
    throw new CoreError('FACT_MISSING', 'injector flow and fuel pressure')
  const fuel = fuels[r.fuelKind]
  const random = new Random(seed)
  const idleRpm = idleTargetRpm(r)
  const peak = vePeakPct(r.camClass, plan.route ?? 'throttle-body')
  const powerRpm = peakPowerRpm(r.camClass, r.redlineRpm)
  const idlePct = peak.idle[0] + (peak.idle[1] - peak.idle[0]) * (0.3 + 0.4 * random.next())
  const ve = makeVe(
    seed,
    r.camClass,
    peak.torque,
    peakTorqueRpm(r.camClass, r.redlineRpm),
    powerRpm,
    peak.power,
    idlePct,
    idleRpm,
    r.idleMapKpa,
    r.redlineRpm,
    r.barometerKpa,
  )
  const displacementM3 = r.displacementCc / 1e6
  const ambientC = 20
  const car: BenchCar = {
    seed,
    cylinders: r.cylinders,
    displacementM3,
    compressionRatio: r.compressionRatio,
    octaneRon: r.octaneRon,
    automatic: r.automatic,
    redlineRpm: r.redlineRpm,
    idleRpm,
    barometerKpa: r.barometerKpa,
    highestMapKpa: r.barometerKpa + (facts.induction?.boostKpa ?? 0),
    ambientC,
    manifoldM3: displacementM3 * (plan.route === 'multi-port' ? 1.3 : 1),
    inertiaKgM2: 0.04 + 0.05 * displacementM3 * 1000,
    throttleAreaM2: 0,
    plateLeakM2: 0,
    idleValveAreaM2: 0,
    workScale: 1,
    dilutionLoss: 0,
    idleMapKpa: r.idleMapKpa,
    accessoryNm: 3,
    chargeHeatShare: 0.3,
    fuel: { stoichAfr: fuel.stoichAfr, heatJKg: fuel.heatMjKg * 1e6, densityKgL: fuel.densityKgL },
    injectorGPerMs:
      ((plan.injectorCcMin * Math.sqrt(plan.fuelPressureKpa / plan.injectorRatedKpa) * fuel.densityKgL) / 60000) *
      (1 + 0.02 * (2 * random.next() - 1)),
    basePressureKpa: plan.fuelPressureKpa,
    pipeM3: displacementM3 * 1.1,
    sensorLagS: 0.06 + 0.05 * random.next(),
    heatCapacityJK: 14000 + 9000 * displacementM3 * 1000,
    thermostatC: 82,
    starterNm: 40 + 32 * displacementM3 * 1000,
    dynamo: facts.electrics?.charging === 'dynamo',
    ve,
  }
  fitAirAndWork(car, powerRpm, r.powerKw)
  return car
}

/**
 * Sizes the throttle for 4 kPa depression at full power, leak and valve for the idle air, the work for the power surveyed (a maker's figure may be a
 * fifth off), and the loss to burnt gas for the torque balance at idle.
 */
function fitAirAndWork(car: BenchCar, powerRpm: number, powerKw: number | null): void {
  const { idleMapKpa } = car
  const warmK = chargeTemperatureC(car.ambientC + 8, 86, car.chargeHeatShare) + 273.15
  const ambientK = car.ambientC + 273.15
  const airKgS = (rpm: number, mapKpa: number) =>
    ((trueVe(car, rpm, mapKpa) / 100) * mapKpa * 1000 * car.displacementM3 * (rpm / 120)) / (R_GAS * warmK)
  const flowPerM2 = (ratio: number) => ((car.barometerKpa * 1000) / Math.sqrt(R_GAS * ambientK)) * CRITICAL_FLOW.at(ratio)
  const openKpa = car.barometerKpa - 4
  car.throttleAreaM2 = airKgS(powerRpm, openKpa) / flowPerM2(openKpa / car.barometerKpa)
  const idleAir = airKgS(car.idleRpm, idleMapKpa)
  const idleArea = idleAir / flowPerM2(idleMapKpa / car.barometerKpa)
  car.plateLeakM2 = idleArea * 0.62
  // at a quarter open the valve carries the rest of a warm idle
  car.idleValveAreaM2 = (idleArea - car.plateLeakM2) / 0.25

  const workJ = (rpm: number, mapKpa: number, lambda: number, offBestDeg: number) => {
    const airG = (airKgS(rpm, mapKpa) * 1000 * 120) / rpm
    const best = bestAdvanceDeg(rpm, mapKpa, car.barometerKpa)
    return indicatedWorkJ({
      airG,
      fuelG: airG / (car.fuel.stoichAfr * lambda),
      stoichAfr: car.fuel.stoichAfr,
      heatJKg: car.fuel.heatJKg,
      thermalShare: thermalShare(car.compressionRatio, rpm),
      advanceDeg: best - offBestDeg,
      bestAdvanceDeg: best,
    })
  }
  const lostJ = (rpm: number, mapKpa: number) =>
    (fmepKpa(rpm) + Math.max(0, car.barometerKpa + 2 - mapKpa)) * 1000 * car.displacementM3 + car.accessoryNm * 4 * Math.PI
  if (powerKw !== null) {
    const wantedJ = (powerKw * 1000 * 120) / powerRpm + lostJ(powerRpm, openKpa)
    car.workScale = Math.min(1.2, Math.max(0.85, wantedJ / workJ(powerRpm, openKpa, 0.88, 0)))
  }
  // an idle stands well after best torque, so that spark can hold the speed
  const idleJ = workJ(car.idleRpm, idleMapKpa, 1, 14) * car.workScale
  car.dilutionLoss = Math.min(0.75, Math.max(0, 1 - lostJ(car.idleRpm, idleMapKpa) / idleJ))
}

/** Share of the work left with the burnt gas that a manifold pressure leaves in the cylinder: all of it wide open (Heywood, sections 6.4 and 9.4). */
export const dilutionShare = (car: BenchCar, mapKpa: number): number =>
  1 - Math.min(0.85, (car.dilutionLoss * Math.max(0, car.barometerKpa / mapKpa - 1)) / (car.barometerKpa / car.idleMapKpa - 1))
