import { CoreError } from '../kernel/index.ts'
import type { LogData } from '../logfile/index.ts'
import { defaultDelay, type DelayModel, delayS, fitDelay, fuelCutEvents } from './delay.ts'
import { lastTrueS, windowTrend } from './steady.ts'

/** Why a row of a log tells nothing about the table. One row has one reason: the first that applies, in this order. */
export const excludedReasons = [
  'unreadable',
  'cranking',
  'fuel-cut',
  'after-fuel-cut',
  'cold-engine',
  'battery',
  'sensor-range',
  'after-start',
  'gap',
  'transient-map',
  'transient-speed',
  'off-grid',
] as const
type ExcludedReason = (typeof excludedReasons)[number]

export interface SampleLimits {
  /** coolant must be at least this warm: the end of warm-up enrichment, and never under 70 degC */
  coolantMinC: number
  mapSlopeKpaS: number
  rpmSlopePerS: number
  smoothS: number
  steadyS: number
  afterCutS: number
  crankingRpm: number
  afterStartS: number
  batteryMinV: number
  batteryMaxV: number
  lambdaMin: number
  lambdaMax: number
}
export const defaultLimits: SampleLimits = {
  coolantMinC: 72,
  mapSlopeKpaS: 6,
  rpmSlopePerS: 200,
  smoothS: 0.5,
  steadyS: 1,
  afterCutS: 1,
  crankingRpm: 400,
  afterStartS: 20,
  batteryMinV: 11,
  batteryMaxV: 16,
  lambdaMin: 0.62,
  lambdaMax: 1.6,
}

/** The rows of a log as the solve needs them: where the engine was when the fuel was metered, and what was still missing then. */
export interface Samples {
  /** 0 = used, else 1 + index in `excludedReasons` */
  fate: Uint8Array
  causeRpm: Float32Array
  causeMapKpa: Float32Array
  /** throttle when the fuel was metered, %; null: the log does not tell */
  causeThrottlePct: Float32Array | null
  /** total error as a fraction: positive = fuel must be added */
  error: Float32Array
  /** lambda measured less target, at the cause's operating point; NaN where unknown */
  overTarget: Float32Array
  /** what the unit had learned when the fuel was metered, %; null: the log does not tell */
  learnedPct: Float32Array | null
  stepS: Float32Array
  used: number
  delay: DelayModel
  /** channels the solve would have wanted and had to do without */
  missing: string[]
}

const MAX_STEP_S = 0.5
type Log = Pick<LogData, 'timeS' | 'channels'>

/** What stands around each row: smoothed means, and when the last disturbance of each kind was. */
interface History {
  meanRpm: Float32Array
  meanMapKpa: Float32Array
  cut: Uint8Array
  cranks: Uint8Array
  started: boolean
  lastCutS: Float64Array
  lastMapMoveS: Float64Array
  lastRpmMoveS: Float64Array
  lastCrankS: Float64Array
  lastJumpS: Float64Array
}

/** Rows with the fuel cut off: by the log's own flag, else a shut throttle with the sensor reading air. */
function fuelCutRows({ timeS, channels }: Log): Uint8Array {
  const { fuelCut, throttlePct, lambda } = channels
  const cut = new Uint8Array(timeS.length)
  if (fuelCut) for (let i = 0; i < cut.length; i++) cut[i] = fuelCut[i] >= 0.5 ? 1 : 0
  else if (throttlePct) for (let i = 0; i < cut.length; i++) cut[i] = throttlePct[i] < 2 && lambda![i] > 1.6 ? 1 : 0
  return cut
}

function historyOf(log: Log, limits: SampleLimits): History {
  const { timeS } = log
  const n = timeS.length
  const rpm = log.channels.rpm!
  const mapKpa = log.channels.mapKpa!
  const rpmTrend = windowTrend(timeS, rpm, limits.smoothS)
  const mapTrend = windowTrend(timeS, mapKpa, limits.smoothS)
  const mapMoves = new Uint8Array(n)
  const rpmMoves = new Uint8Array(n)
  const cranks = new Uint8Array(n)
  const jump = new Uint8Array(n)
  for (let i = 0; i < n; i++) {
    mapMoves[i] = Math.abs(mapTrend.slope[i]) < limits.mapSlopeKpaS ? 0 : 1
    rpmMoves[i] = Math.abs(rpmTrend.slope[i]) < limits.rpmSlopePerS ? 0 : 1
    cranks[i] = rpm[i] < limits.crankingRpm ? 1 : 0
    jump[i] = i > 0 && timeS[i] - timeS[i - 1] > 2 * MAX_STEP_S ? 1 : 0
  }
  const cut = fuelCutRows(log)
  return {
    meanRpm: rpmTrend.mean,
    meanMapKpa: mapTrend.mean,
    cut,
    cranks,
    started: cranks.includes(1),
    lastCutS: lastTrueS(timeS, cut),
    lastMapMoveS: lastTrueS(timeS, mapMoves),
    lastRpmMoveS: lastTrueS(timeS, rpmMoves),
    lastCrankS: lastTrueS(timeS, cranks),
    lastJumpS: lastTrueS(timeS, jump),
  }
}

/** The moment whose fuel a row's lambda tells of: between two rows, one transport delay earlier. */
class Cause {
  row = 0
  timeS = 0
  private next = 0
  private share = 0
  constructor(private readonly times: Float64Array) {}

  /** Delays change slowly, so the pointer moves forward nearly always and back a few rows now and then. */
  moveTo(timeS: number, latest: number): void {
    const { times } = this
    while (this.row < latest && times[this.row + 1] <= timeS) this.row++
    while (this.row > 0 && times[this.row] > timeS) this.row--
    this.next = Math.min(times.length - 1, this.row + 1)
    const span = times[this.next] - times[this.row]
    this.share = span > 0 ? Math.min(1, Math.max(0, (timeS - times[this.row]) / span)) : 0
    this.timeS = timeS
  }
  /** A channel at the cause; where one of the two rows has nothing, the other's. */
  at(values: Float32Array): number {
    const a = values[this.row]
    const b = values[this.next]
    if (a !== a) return b
    if (b !== b) return a
    return a + (b - a) * this.share
  }
}

/** Why a row tells nothing: the first reason that applies, in the order of `excludedReasons`; null when it is used. */
function reasonOf(i: number, cause: Cause, error: number, log: Log, history: History, limits: SampleLimits): ExcludedReason | null {
  const { coolantC, batteryV, lambda } = log.channels
  const { timeS: causeS } = cause
  if (!Number.isFinite(error)) return 'unreadable'
  if (history.cranks[i]) return 'cranking'
  if (history.cut[i]) return 'fuel-cut'
  if (history.lastCutS[i] >= causeS - limits.afterCutS) return 'after-fuel-cut'
  if (coolantC && !(cause.at(coolantC) >= limits.coolantMinC)) return 'cold-engine'
  if (batteryV && !(batteryV[i] >= limits.batteryMinV && batteryV[i] <= limits.batteryMaxV)) return 'battery'
  if (lambda![i] < limits.lambdaMin || lambda![i] > limits.lambdaMax) return 'sensor-range'
  if (history.started && history.lastCrankS[i] >= causeS - limits.afterStartS) return 'after-start'
  if (causeS < log.timeS[0] || history.lastJumpS[i] > causeS - limits.steadyS) return 'gap'
  if (history.lastMapMoveS[cause.row] >= causeS - limits.steadyS) return 'transient-map'
  if (history.lastRpmMoveS[cause.row] >= causeS - limits.steadyS) return 'transient-speed'
  return null
}
const fateOf = (reason: ExcludedReason): number => 1 + excludedReasons.indexOf(reason)

/**
 * Judges every row and works out its total error at the delayed operating point.
 *
 *     error = lambda / target x (1 + correction) x (1 + learned) x (1 + enrichment) - 1
 *
 * with operating point, target and corrections taken at the time the fuel was metered, one transport delay before the sensor reads it.
 * @param targetLambdaAt target from the tune in force, used when the log does not carry one
 * @throws CoreError COLUMN_MISSING when engine speed, manifold pressure, lambda or any target is not there
 */
export function judgeSamples(log: Log, limits: SampleLimits, targetLambdaAt?: (rpm: number, mapKpa: number) => number): Samples {
  const { timeS, channels } = log
  const n = timeS.length
  const { rpm, mapKpa, lambda, lambdaTarget, fuelCut } = channels
  if (!rpm) throw new CoreError('COLUMN_MISSING', 'engine speed')
  if (!mapKpa) throw new CoreError('COLUMN_MISSING', 'manifold pressure')
  if (!lambda) throw new CoreError('COLUMN_MISSING', 'lambda or air-fuel ratio')
  if (!lambdaTarget && !targetLambdaAt) throw new CoreError('COLUMN_MISSING', 'target lambda (the log has none and no tune was given)')
  const events = fuelCut ? fuelCutEvents({ timeS, rpm, mapKpa, lambda, fuelCut }) : []
  const delay = events.length ? fitDelay(events) : defaultDelay
  const history = historyOf(log, limits)
  const { meanRpm, meanMapKpa } = history
  const factors = [channels.correctionPct, channels.learnedPct, channels.enrichmentPct].filter((f) => f !== undefined)

  const fate = new Uint8Array(n)
  const causeRpm = new Float32Array(n).fill(NaN)
  const causeMapKpa = new Float32Array(n).fill(NaN)
  const error = new Float32Array(n).fill(NaN)
  const overTarget = new Float32Array(n).fill(NaN)
  const learnedPct = channels.learnedPct ? new Float32Array(n) : null
  const causeThrottlePct = channels.throttlePct ? new Float32Array(n) : null
  const stepS = new Float32Array(n)
  const cause = new Cause(timeS)
  let used = 0
  for (let i = 0; i < n; i++) {
    stepS[i] = Math.min(MAX_STEP_S, i > 0 ? timeS[i] - timeS[i - 1] : (timeS[1] ?? 0) - timeS[0])
    if (!(Number.isFinite(meanRpm[i]) && Number.isFinite(meanMapKpa[i]) && Number.isFinite(lambda[i]))) {
      fate[i] = fateOf('unreadable')
      continue
    }
    cause.moveTo(timeS[i] - delayS(delay, Math.max(200, meanRpm[i]), Math.max(10, meanMapKpa[i])), i)
    causeRpm[i] = cause.at(meanRpm)
    causeMapKpa[i] = cause.at(meanMapKpa)
    const wanted = lambdaTarget ? cause.at(lambdaTarget) : targetLambdaAt!(causeRpm[i], causeMapKpa[i])
    let total = lambda[i] / wanted
    for (const pct of factors) total *= 1 + cause.at(pct) / 100
    if (learnedPct) learnedPct[i] = cause.at(channels.learnedPct!)
    if (causeThrottlePct) causeThrottlePct[i] = cause.at(channels.throttlePct!)
    error[i] = total - 1
    overTarget[i] = lambda[i] - wanted
    const reason = reasonOf(i, cause, error[i], log, history, limits)
    if (reason) fate[i] = fateOf(reason)
    else used++
  }
  const missing = (['correctionPct', 'coolantC'] as const).filter((name) => !channels[name])
  return { fate, causeRpm, causeMapKpa, causeThrottlePct, error, overTarget, learnedPct, stepS, used, delay, missing }
}
