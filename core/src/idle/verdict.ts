import { CoreError } from '../kernel/index.ts'
import { usualStepS } from '../logfile/index.ts'
import type { IdleOptions, IdleSeen, IdleVerdict } from './answer.ts'
import { heldByLoop } from './beside.ts'
import { catches, catchesSaid } from './catches.ts'
import { MAX_STEP_S, MIN_TOTAL_S, WARM_C } from './limits.ts'
import { identifyPlant } from './loop.ts'
import { measureIdle } from './measure.ts'
import { overTarget } from './over-target.ts'
import { idleRulesInOrder, type Judged } from './rules.ts'
import { idleRuns, type Log, type Run } from './runs.ts'
import { sureGood, sureOf, SURER_IN_S, wantsOf } from './sureness.ts'

/** How far above its lowest rest the throttle was left at the end, %. */
function restsApart(runs: readonly Run[]): number {
  const levels = runs.flatMap((run) => (run.restsAtPct === null ? [] : [run.restsAtPct]))
  const apart = levels.length < 2 ? 0 : levels.at(-1)! - Math.min(...levels)
  return Math.max(0, apart)
}
const seenOf = (log: Log, run: Run): IdleSeen => {
  const m = measureIdle(log, [run])
  return {
    fromS: log.timeS[run.from],
    toS: log.timeS[run.to - 1],
    warm: run.warm,
    meanRpm: m.meanRpm,
    rpmStdDev: m.rpmStdDev,
    valveMeanPct: m.valveMeanPct,
    mapMeanKpa: m.mapMeanKpa,
    lambdaMean: m.lambdaMean,
    coolantMeanC: m.coolantMeanC,
  }
}
/**
 * What kind of idle a log or the last of a stream shows (handbook 06), how sure that is, what may be behind it, and the next move.
 * @throws CoreError COLUMN_MISSING when there is no engine speed
 */
export function judgeIdle(log: Log, options: IdleOptions = {}): IdleVerdict {
  const { timeS, channels } = log
  if (!channels.rpm) throw new CoreError('COLUMN_MISSING', 'engine speed')
  const all = idleRuns(log, options.targetRpm)
  const runs = all.filter((run) => run.warm)
  const seconds = runs.reduce((sum, run) => sum + timeS[run.to - 1] - timeS[run.from], 0)
  const stepS = usualStepS(timeS)
  const tooSlow = stepS > MAX_STEP_S
  const idles = all.map((run) => seenOf(log, run))
  const coldC = idles.at(-1)?.warm === false ? idles.at(-1)!.coolantMeanC : null
  const targetRpm = options.targetRpm ?? null
  if (seconds < MIN_TOTAL_S || tooSlow)
    return {
      verdict: 'not-enough-data',
      meanRpm: null,
      rpmStdDev: null,
      periodS: null,
      amplitudeRpm: null,
      valveMeanPct: null,
      lambdaMean: null,
      correctionMeanPct: null,
      seconds,
      targetRpm,
      sureness: 1,
      causes: [],
      wants: [tooSlow ? `rows at most ${MAX_STEP_S} s apart` : `${(MIN_TOTAL_S - seconds).toFixed(0)} s more of warm idle`],
      notes: [],
      idles,
      loop: null,
      next: tooSlow
        ? `The rows stand ${stepS.toFixed(1)} s apart: a swing of one second does not show. Log at least ${1 / MAX_STEP_S} rows a second; 10 are better.`
        : coldC !== null && seconds === 0
          ? `It idles, but cold: ${coldC.toFixed(0)} °C now, and warm begins at ${WARM_C} °C. Let it warm up.`
          : `Only ${seconds.toFixed(0)} s of warm idle with the throttle at rest; log ${MIN_TOTAL_S} s or more without touching anything.`,
    }
  const measures = measureIdle(log, runs, options.authorityPct)
  const m: Judged = {
    ...measures,
    overRpm: targetRpm === null ? null : overTarget(measures.meanRpm, targetRpm, options.offsetsRpm ?? []),
    reach: options.reach,
    restsApartPct: restsApart(all),
  }
  const caught = catches(log)
  const base = {
    meanRpm: m.meanRpm,
    rpmStdDev: m.rpmStdDev,
    periodS: m.swing?.periodS ?? null,
    amplitudeRpm: m.swing?.amplitudeRpm ?? m.rpmStdDev * Math.SQRT2,
    valveMeanPct: m.valveMeanPct,
    lambdaMean: m.lambdaMean,
    correctionMeanPct: m.correctionMeanPct,
    seconds,
    targetRpm,
    idles,
    loop: m.swing ? identifyPlant(log, runs, m.swing) : null,
    wants: wantsOf(m),
    notes: [...(caught ? [catchesSaid(caught)] : []), ...heldByLoop(m)],
  }
  return { ...base, ...judged(m, 1) }
}

/** The first rule that finds something, or a good idle. @param seen share of the sureness that the way of looking leaves */
export function judged(m: Judged, seen: number): Pick<IdleVerdict, 'verdict' | 'causes' | 'next' | 'sureness'> {
  const enough = seen * (1 - 0.5 * 2 ** (-m.seconds / SURER_IN_S))
  for (const rule of idleRulesInOrder) {
    const found = rule(m)
    if (found) {
      const { verdict, causes, next, margin } = found
      return { verdict, causes, next, sureness: enough * sureOf(margin) }
    }
  }
  const unsaid = m.overRpm === null ? ' Say its target speed: whether it is on it cannot be told without.' : ' Nothing to do.'
  return {
    verdict: 'good',
    causes: [],
    sureness: enough * sureGood(m),
    next: `Idle is steady${m.valveMeanPct === null ? '' : ' and the valve has room both ways'}.${unsaid}`,
  }
}
