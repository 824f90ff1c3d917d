import { huberWeights, weightedLine } from '../kernel/index.ts'

/**
 * How late the mixture sensor tells of a change, in seconds: sensor lag, about one engine cycle from injection to exhaust, and the time
 * the gas needs through the pipe (volume over flow, and flow goes with speed and manifold pressure).
 *
 *     delay = lagS + cycles x 120 / rpm + pipe / (rpm x MAP)
 *
 * It is fitted to events whose cause lies outside the mixture loop: the end of a fuel cut, and steps of the target. The loop's own trim is
 * never used, because feedback makes cause and effect look alike.
 * Source: first-order-plus-dead-time identification from step responses (Ljung, System Identification, ch. 2); transport delay = V / Q.
 */
export interface DelayModel {
  lagS: number
  /** engine cycles, 120/rpm seconds each */
  cycles: number
  /** s rpm kPa */
  pipe: number
  events: number
  fitted: boolean
  /** variance of what it says at the usual flow, s^2, of its pipe, and of both together: events that all lie elsewhere tell little of either */
  variance?: { usual: number; pipe: number; both: number }
}
/** Flow that delays are told at, rpm kPa: 2,000 rpm and 50 kPa. */
export const USUAL_FLOW = 1e5

export const defaultDelay: DelayModel = { lagS: 0.1, cycles: 1, pipe: 6000, events: 0, fitted: false }
const MIN_EVENTS = 4
/** the end of one cut is told no better than this, s */
const EVENT_S = 0.02
const MAX_DELAY_S = 2.5

export const delayS = (model: DelayModel, rpm: number, mapKpa: number): number =>
  Math.min(MAX_DELAY_S, Math.max(0, model.lagS + (model.cycles * 120) / rpm + model.pipe / (rpm * mapKpa)))

export interface DelayEvent {
  rpm: number
  mapKpa: number
  seconds: number
}

interface Traces {
  timeS: Float64Array
  rpm: Float32Array
  mapKpa: Float32Array
  lambda: Float32Array
  fuelCut: Float32Array | null
}

/**
 * Time from the end of a cut until lambda has gone 63 % of the way from the air it showed to a burning mixture (lambda 1); null when the
 * trace is not a clean fall. The level it settles at later is not used: enrichment on tip-in makes a second step that would be read as delay.
 */
function responseS(t: Traces, start: number): number | null {
  const { timeS, lambda } = t
  const t0 = timeS[start]
  const from = lambda[start]
  if (!(from > 1.4)) return null
  const level = from + 0.632 * (1 - from)
  for (let i = start + 1; i < timeS.length && timeS[i] <= t0 + MAX_DELAY_S; i++) {
    const a = lambda[i - 1]
    const b = lambda[i]
    if (a > level && b <= level) return timeS[i - 1] + ((a - level) / (a - b)) * (timeS[i] - timeS[i - 1]) - t0
  }
  return null
}

/** Ends of fuel cuts, each with the operating point just after it and the time the sensor took to see it. */
export function fuelCutEvents(t: Traces): DelayEvent[] {
  const events: DelayEvent[] = []
  if (!t.fuelCut) return events
  for (let i = 1; i < t.timeS.length; i++) {
    if (!(t.fuelCut[i] < 0.5 && t.fuelCut[i - 1] >= 0.5)) continue
    const seconds = responseS(t, i)
    if (seconds === null) continue
    let rpm = 0
    let mapKpa = 0
    let n = 0
    for (let k = i; k < t.timeS.length && t.timeS[k] <= t.timeS[i] + seconds; k++)
      if (Number.isFinite(t.rpm[k]) && Number.isFinite(t.mapKpa[k])) {
        rpm += t.rpm[k]
        mapKpa += t.mapKpa[k]
        n++
      }
    if (n > 0) events.push({ rpm: rpm / n, mapKpa: mapKpa / n, seconds })
  }
  return events
}

/**
 * Robust least squares of lag and pipe volume over the events, one cycle being known; a part the events cannot settle keeps its default.
 * @param events delays seen, with their operating points
 */
export function fitDelay(events: DelayEvent[]): DelayModel {
  if (events.length < MIN_EVENTS) return { ...defaultDelay, events: events.length }
  const cycles = defaultDelay.cycles
  const y = events.map((e) => e.seconds - (cycles * 120) / e.rpm)
  const x = events.map((e) => 1e4 / (e.rpm * e.mapKpa))
  let w = events.map(() => 1)
  let lag = 0
  let slope = 0
  // a weak prior on the pipe keeps a cluster of like events from inventing a slope
  const prior = { slope: defaultDelay.pipe / 1e4, weight: 0.01 }
  for (let pass = 0; pass < 20; pass++) {
    slope = Math.max(0, weightedLine(x, y, w, prior).b)
    lag = Math.max(0, w.reduce((sum, weight, i) => sum + weight * (y[i] - slope * x[i]), 0) / w.reduce((sum, weight) => sum + weight, 0))
    w = huberWeights(
      y.map((v, i) => v - lag - slope * x[i]),
      1.5,
      0.01,
    )
  }
  const model = { lagS: lag, cycles, pipe: slope * 1e4, events: events.length, fitted: true }
  return { ...model, variance: varianceOf(x, y, w, { lag, slope, priorWeight: prior.weight }) }
}
/** @source variance of a fitted line and of its slope; Draper and Smith, Applied Regression Analysis */
function varianceOf(
  x: readonly number[],
  y: readonly number[],
  w: readonly number[],
  { lag, slope, priorWeight }: { lag: number; slope: number; priorWeight: number },
): DelayModel['variance'] {
  const total = (of: (i: number) => number): number => w.reduce((sum, weight, i) => sum + weight * of(i), 0)
  const weight = total(() => 1)
  const middle = total((i) => x[i]) / weight
  // an end that was taken for another is no measure of the rest
  const off = y.map((v, i) => Math.abs(v - lag - slope * x[i])).sort((p, q) => p - q)
  const row = Math.max(EVENT_S, 1.4826 * off[off.length >> 1]) ** 2
  const ofSlope = row / (total((i) => (x[i] - middle) ** 2) + priorWeight)
  const away = 1e4 / USUAL_FLOW - middle
  return { usual: row / weight + away ** 2 * ofSlope, pipe: 1e8 * ofSlope, both: 1e4 * away * ofSlope }
}
