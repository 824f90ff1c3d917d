import type { LogData } from '../logfile/index.ts'
import type { Samples } from '../samples/index.ts'
import { BLOCK_S, LEAST_BLOCK_S, MOST_BLOCKS } from './limits.ts'
import { median } from './traces.ts'

/** A few seconds of steady running at one place: what they want beyond the base table, and everything that could be the reason. */
export interface Block {
  timeS: number
  seconds: number
  rows: number
  rpm: number
  mapKpa: number
  /** fuel that is missing over the base, %: measured over target, with all that the unit adds */
  needPct: number
  /** scatter of single rows about the block, % */
  scatterPct: number
  /** lambda over target, %, with the trim left out */
  overPct: number
  target: number
  /** share of outside warmth that an unheated sensor has lost, 0 to 1: gas flow keeps it warm, slowly */
  tipCold: number
  pulseMs: number
  intakeAirC: number
  coolantC: number
  batteryV: number
  throttlePct: number
  fuelPressureKpa: number
  correctionPct: number
}
type Log = Pick<LogData, 'timeS' | 'channels'>

const MOST_RPM_SPREAD = 250
const MOST_KPA_SPREAD = 6
const GAP_S = 1
/** how fast an unheated sensor follows the gas, s, and the flow, rpm x kPa, that keeps it half warm */
const TIP_S = 25
const TIP_HALF_FLOW = 6e4

const carried = ['intakeAirC', 'coolantC', 'batteryV', 'throttlePct', 'fuelPressureKpa', 'correctionPct'] as const

/** Warmth that a sensor without a heater has lost at each row. */
function coldTip({ timeS, channels }: Log): Float32Array {
  const { rpm, mapKpa } = channels
  const cold = new Float32Array(timeS.length)
  let now = 0.5
  for (let i = 0; i < timeS.length; i++) {
    const flow = rpm![i] * mapKpa![i]
    const dt = i > 0 ? Math.min(5, timeS[i] - timeS[i - 1]) : 0
    if (flow === flow) now += ((TIP_HALF_FLOW / (flow + TIP_HALF_FLOW) - now) * dt) / TIP_S
    cold[i] = now
  }
  return cold
}

/**
 * Steady rows gathered into blocks of a few seconds, so that what one row's noise hides shows, and hundreds of blocks stand for hours.
 * @returns at most `MOST_BLOCKS`, spread over the log, in order of time
 */
export function blocksOf(log: Log, samples: Samples): Block[] {
  const { timeS } = log
  const stretches: [number, number][] = []
  for (let i = 0; i < timeS.length;) {
    if (samples.fate[i] !== 0) {
      i++
      continue
    }
    const from = i
    const [rpm0, map0] = [samples.causeRpm[i], samples.causeMapKpa[i]]
    for (; i < timeS.length; i++) {
      if (samples.fate[i] !== 0 || timeS[i] - timeS[from] >= BLOCK_S || (i > from && timeS[i] - timeS[i - 1] > GAP_S)) break
      if (Math.abs(samples.causeRpm[i] - rpm0) > MOST_RPM_SPREAD || Math.abs(samples.causeMapKpa[i] - map0) > MOST_KPA_SPREAD) break
    }
    if (i - from >= 3 && timeS[i - 1] - timeS[from] + samples.stepS[from] >= LEAST_BLOCK_S) stretches.push([from, i])
  }
  const every = Math.max(1, stretches.length / MOST_BLOCKS)
  const cold = coldTip(log)
  const chosen = Array.from({ length: Math.floor(stretches.length / every) }, (_, k) => stretches[Math.floor(k * every)])
  return notAlone(chosen.map(([from, to]) => meansOf(log, samples, cold, from, to)))
}
function meansOf({ timeS, channels }: Log, samples: Samples, cold: Float32Array, from: number, to: number): Block {
  let [rpm, map, need, square, over, target, tip] = [0, 0, 0, 0, 0, 0, 0]
  const sums = carried.map(() => 0)
  const counts = carried.map(() => 0)
  for (let i = from; i < to; i++) {
    const y = 100 * samples.error[i]
    const wanted = channels.lambda![i] - samples.overTarget[i]
    rpm += samples.causeRpm[i]
    map += samples.causeMapKpa[i]
    need += y
    square += y * y
    over += (100 * samples.overTarget[i]) / wanted
    target += wanted
    tip += cold[i]
    for (let c = 0; c < carried.length; c++) {
      const v = channels[carried[c]]?.[i]
      if (v === undefined || v !== v) continue
      sums[c] += v
      counts[c]++
    }
  }
  const n = to - from
  const mean = (c: number) => (counts[c] ? sums[c] / counts[c] : NaN)
  return {
    timeS: (timeS[from] + timeS[to - 1]) / 2,
    seconds: timeS[to - 1] - timeS[from] + samples.stepS[from],
    rows: n,
    rpm: rpm / n,
    mapKpa: map / n,
    needPct: need / n,
    scatterPct: Math.sqrt(Math.max(0, square / n - (need / n) ** 2)),
    overPct: over / n,
    target: target / n,
    tipCold: tip / n,
    pulseMs: middleOf(channels.pulseMs, from, to),
    intakeAirC: mean(0),
    coolantC: mean(1),
    batteryV: mean(2),
    throttlePct: mean(3),
    fuelPressureKpa: mean(4),
    correctionPct: mean(5),
  }
}
/** A pulse that was lengthened for a moment, by a load or a foot, is not what the mixture of these seconds came of. */
function middleOf(values: Float32Array | undefined, from: number, to: number): number {
  const there = values?.slice(from, to).filter((v) => v === v)
  return there?.length ? median([...there]) : NaN
}
/** A place that was hardly seen says nothing: one block there may be what is left of a gear change. */
function notAlone(blocks: readonly Block[]): Block[] {
  const near = (a: Block, b: Block) => Math.abs(a.rpm - b.rpm) < NEAR.rpm && Math.abs(a.mapKpa - b.mapKpa) < NEAR.kpa
  return blocks.filter((a) => blocks.filter((b) => near(a, b)).length >= NEAR.least)
}
const NEAR = { rpm: 500, kpa: 6, least: 4 }
