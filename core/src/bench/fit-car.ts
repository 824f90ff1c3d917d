import { plateShare } from '../air/index.ts'
import { Boost, turbineKpa } from './boost.ts'
import { exhaustKpaAt } from './breathing.ts'
import type { BenchCar } from './car.ts'
import { bestAdvanceDeg, CRITICAL_FLOW, fmepKpa, indicatedWorkJ, R_GAS, thermalShare } from './physics.ts'
import { airKgSOf, breatheAt, LEAST_RPM, trueResidual, trueVe, warmChargeK } from './ve-grid.ts'

/** depression of the open throttle at full power, kPa */
const OPEN_DROP_KPA = 4
/** full-load mixture and spark at which makers rate power: a blown engine gives up both to knock */
const RATED = { natural: { lambda: 0.88, offBestDeg: 0 }, blown: { lambda: 0.8, offBestDeg: 12 } }
/** air in which power is rated, kPa, wherever the car stands */
const RATED_KPA = 100

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
  const exhaustKpa = exhaustKpaAt(car.breathing, car.barometerKpa, kgS) + turbineKpa(car.blower, mapKpa - car.barometerKpa)
  const friction = fmepKpa(rpm, car.breathing.strokeM, mapKpa) * car.frictionScale
  return (friction + exhaustKpa - mapKpa) * 1000 * car.displacementM3 + car.accessoryNm * 4 * Math.PI
}

/** Factor over speed that brings the engine's full-load air to `off` times its paper's on the whole, and leaves of its own shape what stays within the bound. */
export function fullLoadKept(car: BenchCar, paper: BenchCar, off: number, bound: number): (rpm: number) => number {
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
export function fitToPower(car: BenchCar, powerKw: number | null): void {
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
export function fitAir(car: BenchCar): void {
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
export function fitIdle(car: BenchCar): void {
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
