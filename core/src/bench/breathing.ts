import { volumeRatioAt } from '../spark/index.ts'
import { smooth, type Random } from '../kernel/index.ts'

/**
 * How the bench engine breathes, from its hardware alone: valves, cam, runners, exhaust. Nothing here knows what a tune takes an engine to do.
 * VE is referred to manifold pressure and charge temperature.
 */
export interface Breathing {
  boreM: number
  strokeM: number
  compressionRatio: number
  cylinderM3: number
  /** crank degrees between inlet opening and exhaust closing, at 0.15 mm lift */
  overlapDeg: number
  /** inlet valve closes, crank degrees after bottom centre */
  inletClosesDegAbdc: number
  /** inlet valve diameter over bore, and greatest lift over valve diameter */
  valveToBore: number
  liftToValve: number
  /** mean flow coefficient of the open inlet valve */
  flowCoefficient: number
  /** speed at which the runner's own frequency helps most, rpm, and by how much, as a share */
  tunedRpm: number
  tunedGain: number
  /** exhaust over the barometer at the air flow of full power, kPa, and that flow, kg/s */
  backKpa: number
  fullKgS: number
  /** inlet path before the valve against its drawing: what no formula tells, as a factor */
  fill: number
  /** teeth by which the cam stands late on its chain, crank degrees */
  camLateDeg: number
}

const SOUND_M_S = 345
/** residual gas before it meets the fresh charge, K: what expansion and port walls leave of the exhaust's heat */
const RESIDUAL_K = 1000
/** the engines behind the residual correlation turned no slower */
const FOX_FROM_REV_S = 10
/** crank degrees before the valve's closing at which hardly anything passes it any more */
const CLOSING_TAIL_DEG = 22
/** mean inlet Mach index at which half of the charge is lost, and how sharply (Taylor, fig. 6-13 read at 0.5, 0.75 and 1.0) */
const MACH = { half: 1.15, power: 4.5 }
/** a slow charge is warmed by valve and walls on its way in, as a share, less and less with the Mach index (Heywood, fig. 6-9) */
const WARMED = { most: 0.09, mach: 0.18 }
/** a runner's wave is felt over so wide a band of speed, in natural logarithms, and starves beside it by so much of its gain */
const WAVE = { width: 0.32, beside: 0.45 }

/** Speed at which a runner and its cylinder at mid stroke, as a Helmholtz resonator, swing 2.1 times as fast as the crank turns (Engelman, ASME 73-WA/DGP-2). */
export function tunedRpm(runnerM: number, runnerAreaM2: number, cylinderM3: number, compressionRatio: number): number {
  const volume = (cylinderM3 * (compressionRatio + 1)) / (2 * (compressionRatio - 1))
  return ((60 / 2.1) * SOUND_M_S * Math.sqrt(runnerAreaM2 / (runnerM * volume))) / (2 * Math.PI)
}

/** Mean inlet Mach index: piston speed through the valve's effective opening against the speed of sound (Taylor, section 6; Heywood, 6.3.2). */
export const inletMach = (b: Pick<Breathing, 'valveToBore' | 'flowCoefficient' | 'strokeM'>, rpm: number): number =>
  (2 * b.strokeM * rpm) / 60 / (b.valveToBore ** 2 * b.flowCoefficient * SOUND_M_S)

/**
 * Share of burnt gas in the trapped charge: what flows back through the overlap, and what the clearance keeps.
 * @source Fox, Cheng and Heywood, SAE 931025, with bore in mm, pressures in bar, speed in rev/s
 */
export function residualShare(b: Breathing, rpm: number, mapKpa: number, exhaustKpa: number): number {
  const boreMm = b.boreM * 1000
  const factor = (1.45 / boreMm) * (107 + 7.8 * b.overlapDeg + b.overlapDeg * b.overlapDeg) * b.valveToBore * b.valveToBore * b.liftToValve
  const ratio = mapKpa / exhaustKpa
  const back = Math.sqrt(Math.max(0, exhaustKpa - mapKpa) / 100)
  const overlap = 1.266 * (factor / Math.max(FOX_FROM_REV_S, rpm / 60)) * ratio ** -0.87 * back
  const clearance = (0.632 * ratio ** -0.74) / b.compressionRatio
  return Math.min(0.62, overlap + clearance)
}

/** Exhaust pressure at an air flow, kPa. */
export const exhaustKpaAt = (b: Breathing, barometerKpa: number, airKgS: number, blocked = 1): number =>
  barometerKpa + 0.5 + b.backKpa * blocked * (airKgS / b.fullKgS) ** 2

/** VE, %, and the residual share that goes with it, at an exhaust pressure. */
export function breathe(
  b: Breathing,
  rpm: number,
  mapKpa: number,
  exhaustKpa: number,
  chargeK: number,
): { vePct: number; residual: number } {
  const residual = residualShare(b, rpm, mapKpa, exhaustKpa)
  const r = b.compressionRatio
  const mach = inletMach(b, rpm)
  // a late valve gives charge back until the column behind it has learned to push
  const full = volumeRatioAt(180, r)
  const early = volumeRatioAt(180 - Math.max(0, b.inletClosesDegAbdc + b.camLateDeg - CLOSING_TAIL_DEG), r) / full
  const ram = smooth(0.04, 0.5, mach)
  const trapped = early + (1 - early) * ram
  const passes = (1 - WARMED.most * Math.exp(-mach / WARMED.mach)) / (1 + (mach / MACH.half) ** MACH.power)
  const off = Math.log(rpm / b.tunedRpm) / WAVE.width
  const wave = Math.exp(-0.5 * off * off) - WAVE.beside * Math.exp(-0.5 * (Math.abs(off) - 2.2) ** 2)
  const swept = (trapped * r) / (r - 1) / (1 + ((residual / (1 - residual)) * RESIDUAL_K) / chargeK)
  return { vePct: 100 * swept * passes * (1 + b.tunedGain * wave * ram) * b.fill, residual }
}

/** A part-load surface that no drawing explains: three wide swellings placed by the seed, small wide open and larger toward idle. */
export function unexplained(random: Random, sigma: number, topRpm: number, barometerKpa: number): (rpm: number, mapKpa: number) => number {
  const swellings = [0, 1, 2].map(() => ({
    size: sigma * Math.max(-2, Math.min(2, random.normal())),
    rpm: (0.12 + 0.8 * random.next()) * topRpm,
    mapKpa: (0.3 + 0.5 * random.next()) * barometerKpa,
    rpmWidth: (0.16 + 0.14 * random.next()) * topRpm,
    mapWidth: (0.16 + 0.12 * random.next()) * barometerKpa,
  }))
  return (rpm, mapKpa) => {
    let sum = 0
    for (const s of swellings) sum += s.size * Math.exp(-(((rpm - s.rpm) / s.rpmWidth) ** 2) - ((mapKpa - s.mapKpa) / s.mapWidth) ** 2)
    return 1 + sum * (1 - smooth(0.75 * barometerKpa, 0.95 * barometerKpa, mapKpa))
  }
}
