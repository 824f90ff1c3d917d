import { CoreError } from '../kernel/index.ts'
import type { LogData } from '../logfile/index.ts'
import { defaultDelay, type DelayModel, delayS, fitDelay, fuelCutEvents } from './delay.ts'
import { lastTrueS, windowMean, windowSlope } from './steady.ts'

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
  /** total error as a fraction: positive = fuel must be added */
  error: Float32Array
  /** lambda measured less target, at the cause's operating point; NaN where unknown */
  overTarget: Float32Array
  stepS: Float32Array
  used: number
  delay: DelayModel
  /** channels the solve would have wanted and had to do without */
  missing: string[]
}

const MAX_STEP_S = 0.5

/**
 * Judges every row and works out its total error at the delayed operating point.
 *
 *     error = lambda / target x (1 + correction) x (1 + learned) x (1 + enrichment) - 1
 *
 * with operating point, target and corrections taken at the time the fuel was metered, one transport delay before the sensor reads it.
 * @param targetLambdaAt target from the tune in force, used when the log does not carry one
 * @throws CoreError COLUMN_MISSING when engine speed, manifold pressure, lambda or any target is not there
 */
export function judgeSamples(
  log: Pick<LogData, 'timeS' | 'channels'>,
  limits: SampleLimits,
  targetLambdaAt?: (rpm: number, mapKpa: number) => number,
): Samples {
  const { timeS, channels } = log
  const n = timeS.length
  const { rpm, mapKpa, lambda } = channels
  if (!rpm) throw new CoreError('COLUMN_MISSING', 'engine speed')
  if (!mapKpa) throw new CoreError('COLUMN_MISSING', 'manifold pressure')
  if (!lambda) throw new CoreError('COLUMN_MISSING', 'lambda or air-fuel ratio')
  const target = channels.lambdaTarget
  if (!target && !targetLambdaAt) throw new CoreError('COLUMN_MISSING', 'target lambda (the log has none and no tune was given)')
  const { correctionPct, learnedPct, enrichmentPct, coolantC, batteryV, fuelCut, throttlePct } = channels
  const missing: string[] = []
  if (!correctionPct) missing.push('correctionPct')
  if (!coolantC) missing.push('coolantC')

  const cut = new Uint8Array(n)
  for (let i = 0; i < n; i++)
    // without a cut flag, a shut throttle with the sensor reading air is one
    cut[i] = fuelCut ? (fuelCut[i] >= 0.5 ? 1 : 0) : throttlePct && throttlePct[i] < 2 && lambda[i] > 1.6 ? 1 : 0
  const events = fuelCut ? fuelCutEvents({ timeS, rpm, mapKpa, lambda, fuelCut }) : []
  const delay = events.length ? fitDelay(events) : defaultDelay

  const meanRpm = windowMean(timeS, rpm, limits.smoothS)
  const meanMap = windowMean(timeS, mapKpa, limits.smoothS)
  const rpmSlope = windowSlope(timeS, rpm, limits.smoothS)
  const mapSlope = windowSlope(timeS, mapKpa, limits.smoothS)
  const mapMoves = new Uint8Array(n)
  const rpmMoves = new Uint8Array(n)
  const cranks = new Uint8Array(n)
  const jump = new Uint8Array(n)
  for (let i = 0; i < n; i++) {
    mapMoves[i] = Math.abs(mapSlope[i]) < limits.mapSlopeKpaS ? 0 : 1
    rpmMoves[i] = Math.abs(rpmSlope[i]) < limits.rpmSlopePerS ? 0 : 1
    cranks[i] = rpm[i] < limits.crankingRpm ? 1 : 0
    jump[i] = i > 0 && timeS[i] - timeS[i - 1] > 2 * MAX_STEP_S ? 1 : 0
  }
  const lastCutS = lastTrueS(timeS, cut)
  const lastMapS = lastTrueS(timeS, mapMoves)
  const lastRpmS = lastTrueS(timeS, rpmMoves)
  const lastCrankS = lastTrueS(timeS, cranks)
  const lastJumpS = lastTrueS(timeS, jump)
  const started = cranks.includes(1)

  const fate = new Uint8Array(n)
  const causeRpm = new Float32Array(n).fill(NaN)
  const causeMapKpa = new Float32Array(n).fill(NaN)
  const error = new Float32Array(n).fill(NaN)
  const overTarget = new Float32Array(n).fill(NaN)
  const stepS = new Float32Array(n)
  const reason = (name: ExcludedReason) => 1 + excludedReasons.indexOf(name)
  let used = 0
  let cause = 0
  for (let i = 0; i < n; i++) {
    stepS[i] = Math.min(MAX_STEP_S, i > 0 ? timeS[i] - timeS[i - 1] : (timeS[1] ?? 0) - timeS[0])
    if (!(Number.isFinite(meanRpm[i]) && Number.isFinite(meanMap[i]) && Number.isFinite(lambda[i]))) {
      fate[i] = reason('unreadable')
      continue
    }
    const causeS = timeS[i] - delayS(delay, Math.max(200, meanRpm[i]), Math.max(10, meanMap[i]))
    // delays change slowly, so the pointer moves forward nearly always and back a few rows now and then
    while (cause < i && timeS[cause + 1] <= causeS) cause++
    while (cause > 0 && timeS[cause] > causeS) cause--
    const next = Math.min(n - 1, cause + 1)
    const span = timeS[next] - timeS[cause]
    const f = span > 0 ? Math.min(1, Math.max(0, (causeS - timeS[cause]) / span)) : 0
    const at = (values: Float32Array) => {
      const a = values[cause]
      const b = values[next]
      return a !== a ? b : b !== b ? a : a + (b - a) * f
    }
    causeRpm[i] = at(meanRpm)
    causeMapKpa[i] = at(meanMap)
    const wanted = target ? at(target) : targetLambdaAt!(causeRpm[i], causeMapKpa[i])
    const trim = correctionPct ? 1 + at(correctionPct) / 100 : 1
    const learned = learnedPct ? 1 + at(learnedPct) / 100 : 1
    const enrichment = enrichmentPct ? 1 + at(enrichmentPct) / 100 : 1
    error[i] = (lambda[i] / wanted) * trim * learned * enrichment - 1
    overTarget[i] = lambda[i] - wanted

    const since = (last: Float64Array, settleS: number) => last[i] >= causeS - settleS
    const out: ExcludedReason | null = !Number.isFinite(error[i])
      ? 'unreadable'
      : cranks[i]
        ? 'cranking'
        : cut[i]
          ? 'fuel-cut'
          : since(lastCutS, limits.afterCutS)
            ? 'after-fuel-cut'
            : coolantC && !(at(coolantC) >= limits.coolantMinC)
              ? 'cold-engine'
              : batteryV && !(batteryV[i] >= limits.batteryMinV && batteryV[i] <= limits.batteryMaxV)
                ? 'battery'
                : lambda[i] < limits.lambdaMin || lambda[i] > limits.lambdaMax
                  ? 'sensor-range'
                  : started && since(lastCrankS, limits.afterStartS)
                    ? 'after-start'
                    : causeS < timeS[0] || lastJumpS[i] > causeS - limits.steadyS
                      ? 'gap'
                      : lastMapS[cause] >= causeS - limits.steadyS
                        ? 'transient-map'
                        : lastRpmS[cause] >= causeS - limits.steadyS
                          ? 'transient-speed'
                          : null
    if (out) fate[i] = reason(out)
    else used++
  }
  return { fate, causeRpm, causeMapKpa, error, overTarget, stepS, used, delay, missing }
}
