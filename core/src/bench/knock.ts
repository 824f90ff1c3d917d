import { volumeRatioAt } from '../spark/index.ts'
import { bilinear, lowerIndex } from '../tune/index.ts'
import type { BenchCar } from './car.ts'
import { bestAdvanceDeg } from './physics.ts'

/** polytropic exponents of compression and expansion, and what compresses the end gas */
const N_COMPRESSION = 1.32
const N_EXPANSION = 1.28
/** of the end gas: at low speed the walls take more of its heat */
const endGasN = (rpm: number): number => 1.31 + 0.06 * Math.min(1, Math.max(0, (rpm - 500) / 2500))
/** mean specific heat of the burning gas at constant volume, J/kg K */
const CV = 950
const BURN_EFFICIENCY = 0.9
/** crank degrees before top centre at which the inlet has closed in effect */
const CLOSED_DEG = 130
/** heat of evaporation of fuel over the heat capacity of a stoichiometric charge: 350 kJ/kg / (15.7 x 1.0 kJ/kg K) */
const RICH_COOLS_K = 22
const WIEBE = { a: 5, m: 2 }
/** end gas is gone by then: a later knock is not heard */
const HEARD_SHARE = 0.85
const STEP_DEG = 1
/** crank degrees before and after top centre over which the end gas is followed */
const FOLLOWED_DEG = 60
const ATMOSPHERE_KPA = 101.325
const GRID = { rpm: [700, 1200, 1800, 2600, 3600, 5000, 7000], mapKpa: [40, 60, 80, 95, 110, 160, 220], chargeC: [30, 70] }

/** What the piston makes of a charge at each step, which hangs on the compression ratio alone. */
interface Squeeze {
  closed: number
  /** pressure of the unfired charge over what it was when the inlet closed */
  unfired: Float64Array
  /** volume over that at top centre, to the power of the expansion, inverted */
  expanded: Float64Array
}
let lastSqueeze: { compressionRatio: number; squeeze: Squeeze } | null = null
function squeezeOf(compressionRatio: number): Squeeze {
  if (lastSqueeze?.compressionRatio === compressionRatio) return lastSqueeze.squeeze
  const closed = volumeRatioAt(-CLOSED_DEG, compressionRatio)
  const volumes = Float64Array.from({ length: (2 * FOLLOWED_DEG) / STEP_DEG }, (_, k) =>
    volumeRatioAt(k * STEP_DEG - FOLLOWED_DEG, compressionRatio),
  )
  const squeeze = { closed, unfired: volumes.map((v) => (closed / v) ** N_COMPRESSION), expanded: volumes.map((v) => v ** -N_EXPANSION) }
  lastSqueeze = { compressionRatio, squeeze }
  return squeeze
}

/** Crank degrees a charge takes to burn: shorter with more turbulence for its speed, longer when thin. An engineering fit of usual two-valve heads. */
const burnDurationDeg = (rpm: number, mapKpa: number): number => 42 + 12 * Math.min(1, rpm / 4000) + 14 * Math.max(0, 1 - mapKpa / 100)

/**
 * Livengood-Wu integral of the end gas's ignition delay up to the angle at which 85 % is burnt; 1 or more is knock. Delay: Douaud and Eyzat (SAE
 * 780080), tau = 17.68 ms x (ON/100)^3.402 x p^-1.7 x exp(3800/T), p in atm, T in K. Pressure: between compression and expansion curves by the burnt
 * share, a Wiebe function (Heywood, sections 9.6.2 and 9.2; Eriksson and Nielsen, Modeling and Control of Engines and Drivelines, section 7.8).
 */
export function knockIntegral(c: {
  rpm: number
  mapKpa: number
  chargeC: number
  advanceDeg: number
  compressionRatio: number
  octaneRon: number
  stoichAfr: number
  heatJKg: number
  lambda: number
}): number {
  const { closed, unfired, expanded } = squeezeOf(c.compressionRatio)
  // fuel beyond what burns evaporates in the charge and cools it, and is heated along without giving heat
  const chargeK = c.chargeC + 273.15 - RICH_COOLS_K * Math.max(0, 1 / c.lambda - 1)
  const n = endGasN(c.rpm)
  const fuelShare = Math.min(1, c.lambda) / (1 + 1.15 * c.lambda * c.stoichAfr)
  const duration = burnDurationDeg(c.rpm, c.mapKpa)
  const centre = -c.advanceDeg + 0.5 * duration
  const vc = volumeRatioAt(centre, c.compressionRatio)
  const p2 = c.mapKpa * (closed / vc) ** N_COMPRESSION
  const t2 = chargeK * (closed / vc) ** (N_COMPRESSION - 1)
  const p3 = (p2 * (t2 + (BURN_EFFICIENCY * fuelShare * c.heatJKg) / CV)) / t2
  const p3AtTop = p3 * vc ** N_EXPANSION
  const octane = (c.octaneRon / 100) ** 3.402
  const stepMs = (STEP_DEG * 1000) / (6 * c.rpm)
  let sum = 0
  for (let k = 0; k < unfired.length; k++) {
    const burning = (k * STEP_DEG - FOLLOWED_DEG + c.advanceDeg) / duration
    const burnt = burning <= 0 ? 0 : 1 - Math.exp(-WIEBE.a * burning ** (WIEBE.m + 1))
    if (burnt > HEARD_SHARE) break
    const p = (1 - burnt) * c.mapKpa * unfired[k] + burnt * p3AtTop * expanded[k]
    const endK = chargeK * (p / c.mapKpa) ** ((n - 1) / n)
    sum += stepMs / (17.68 * octane * (p / ATMOSPHERE_KPA) ** -1.7 * Math.exp(3800 / endK))
  }
  return sum
}

/** Earliest advance without knock at lambda 1, or 0.85, crank degrees BTDC. */
export type KnockLimit = (rpm: number, mapKpa: number, chargeC: number, mixture: 'stoich' | 'rich') => number
const MIXTURES = { stoich: 1, rich: 0.85 } as const

type Burning = Pick<BenchCar, 'compressionRatio' | 'octaneRon' | 'barometerKpa' | 'fuel'>
const known = new Map<string, KnockLimit>()
const MOST_KNOWN = 32
/** Earliest advance without knock, crank degrees BTDC, on a grid; never more than 15 degrees over best torque, where nobody goes. */
export function knockLimit(car: Burning): KnockLimit {
  const { compressionRatio, octaneRon, barometerKpa, fuel } = car
  const key = [compressionRatio, octaneRon, barometerKpa, fuel.stoichAfr, fuel.heatJKg].join(' ')
  const limit = known.get(key) ?? gridOf(car)
  if (known.size >= MOST_KNOWN) known.clear()
  known.set(key, limit)
  return limit
}
function gridOf(car: Burning): KnockLimit {
  const { compressionRatio, octaneRon } = car
  const { stoichAfr, heatJKg } = car.fuel
  // the first advance that knocks: far beyond it the charge burns before it is compressed, which is no cure
  const limitAt = (rpm: number, mapKpa: number, chargeC: number, lambda: number): number => {
    const knocks = (advanceDeg: number) =>
      knockIntegral({ rpm, mapKpa, chargeC, advanceDeg, compressionRatio, octaneRon, stoichAfr, heatJKg, lambda }) >= 1
    const top = bestAdvanceDeg(rpm, mapKpa, car.barometerKpa) + 15
    let high = -15
    while (high < top && !knocks(high)) high += 2
    if (high >= top) return top
    let low = high - 2
    while (high - low > 0.25) {
      const middle = (low + high) / 2
      if (knocks(middle)) high = middle
      else low = middle
    }
    return low
  }
  const planesAt = (lambda: number) => GRID.chargeC.map((chargeC) => asAsked((rpm, mapKpa) => limitAt(rpm, mapKpa, chargeC, lambda)))
  const planes = { stoich: planesAt(MIXTURES.stoich), rich: planesAt(MIXTURES.rich) }
  const [cool, hot] = GRID.chargeC
  return (rpm, mapKpa, chargeC, mixture) => {
    const share = Math.min(1, Math.max(0, (chargeC - cool) / (hot - cool)))
    const [atCool, atHot] = planes[mixture]
    const low = atCool(rpm, mapKpa)
    return low + (atHot(rpm, mapKpa) - low) * share
  }
}

/** A plane of the grid whose points are worked out when they are first asked for: a drive comes to few of them. */
function asAsked(at: (rpm: number, mapKpa: number) => number): (rpm: number, mapKpa: number) => number {
  const columns = GRID.rpm.length
  const cells = GRID.mapKpa.flatMap(() => GRID.rpm.map(() => NaN))
  const know = (k: number): void => {
    if (Number.isNaN(cells[k])) cells[k] = at(GRID.rpm[k % columns], GRID.mapKpa[Math.floor(k / columns)])
  }
  return (rpm, mapKpa) => {
    const k = lowerIndex(GRID.mapKpa, mapKpa) * columns + lowerIndex(GRID.rpm, rpm)
    know(k)
    know(k + 1)
    know(k + columns)
    know(k + columns + 1)
    return bilinear(GRID, cells, rpm, mapKpa)
  }
}
