import type { LogData } from '../logfile/index.ts'
import { BANKS_SECONDS, DRIFT_PCT, LEAN_STEADY_PCT, METERS_AGREE_PCT, SATURATED_SHARE, UNIFORM_MIN_PCT } from './limits.ts'
import type { LearnResult } from './result.ts'
import type { Samples } from '../samples/index.ts'

interface Verdict {
  code: string
  message: string
}

const MIN_CELLS = 8

/** Slope, and its share of explained variance, of y over x. */
function lineFit(x: number[], y: number[]): { slope: number; r2: number } {
  const n = x.length
  const mx = x.reduce((a, b) => a + b, 0) / n
  const my = y.reduce((a, b) => a + b, 0) / n
  let sxx = 0,
    sxy = 0,
    syy = 0
  for (let i = 0; i < n; i++) {
    sxx += (x[i] - mx) ** 2
    sxy += (x[i] - mx) * (y[i] - my)
    syy += (y[i] - my) ** 2
  }
  return sxx > 0 && syy > 0 ? { slope: sxy / sxx, r2: (sxy * sxy) / (sxx * syy) } : { slope: 0, r2: 0 }
}

/** What the whole pattern says, beyond single cells (handbook 07, step 7): some errors must not be learned into the table. @param now row from which on the loop is looked at */
export function judgeWhole(log: Pick<LogData, 'timeS' | 'channels'>, samples: Samples, result: LearnResult, now = 0): Verdict[] {
  const verdicts: Verdict[] = []
  const solid = result.cells.filter((c) => c.state === 'proven' || c.state === 'needs-correction')
  if (result.totals.used === 0) {
    const [reason, count] = Object.entries(result.totals.excluded).sort((a, b) => b[1] - a[1])[0] ?? ['no rows', 0]
    return [
      {
        code: 'no-usable-samples',
        message: `No row could be used. Most were left out for "${reason}" (${count} of ${result.totals.samples}).`,
      },
    ]
  }
  if (!result.delay.fitted)
    verdicts.push({
      code: 'delay-assumed',
      message: `Too few ends of fuel cuts (${result.delay.events}) to measure the sensor's delay; a usual one is assumed.`,
    })
  for (const channel of samples.missing)
    verdicts.push({
      code: `missing-${channel === 'correctionPct' ? 'correction' : 'coolant'}`,
      message:
        channel === 'correctionPct'
          ? 'The log has no closed-loop correction. What the loop was adding or taking is not counted: trust this only if the loop was off.'
          : 'The log has no coolant temperature, so warm-up enrichment could not be left out. Use only the warm part of the log.',
    })
  const unsafe = result.cells.filter((c) => c.state === 'unsafe')
  // a table that is lean wants fuel of the steady rows too; where it does not, it was lean only while the throttle opened or after a cut
  const moment = unsafe.filter((c) => c.correctionPct !== null && c.correctionPct < LEAN_STEADY_PCT)
  const first = (cells: typeof unsafe) => `first: ${cells[0].rpm} rpm, ${cells[0].mapKpa} kPa`
  const some = (cells: typeof unsafe) => `${cells.length} ${cells.length === 1 ? 'cell' : 'cells'}`
  const steady = unsafe.filter((c) => !moment.includes(c))
  if (steady.length)
    verdicts.push({
      code: 'unsafe-lean',
      message: `Leaner than target by more than 0.05 lambda at high load in ${some(steady)} (${first(steady)}). Add fuel there before driving it again.`,
    })
  if (moment.length)
    verdicts.push({
      code: 'unsafe-lean-moment',
      message: `Lean at high load for half a second or more in ${some(moment)} (${first(moment)}), though the steady mixture there is within ${LEAN_STEADY_PCT} %: it comes as the throttle opens or after a fuel cut. More acceleration fuel, not more in the table; no full pulls until it is gone.`,
    })

  if (solid.length >= MIN_CELLS) {
    const values = solid.map((c) => c.correctionPct!)
    const mean = values.reduce((a, b) => a + b, 0) / values.length
    const spread = Math.sqrt(values.reduce((a, b) => a + (b - mean) ** 2, 0) / values.length)
    if (Math.abs(mean) >= UNIFORM_MIN_PCT && spread < Math.abs(mean) / 3)
      verdicts.push({
        code: 'uniform-error',
        message: `All cells are off by about the same ${mean > 0 ? '+' : ''}${mean.toFixed(1)} % (spread ${spread.toFixed(1)} %). That is injector flow or fuel pressure: mend the constant, not the table.`,
      })
  }
  const correction = log.channels.correctionPct
  if (correction) {
    let [most, at, used] = [0, 0, 0]
    for (let i = now; i < correction.length; i++)
      if (samples.fate[i] === 0) [most, used] = [Math.max(most, Math.abs(correction[i])), used + 1]
    if (most >= 5) for (let i = now; i < correction.length; i++) if (samples.fate[i] === 0 && Math.abs(correction[i]) > most - 0.15) at++
    if (at > SATURATED_SHARE * used)
      verdicts.push({
        code: 'correction-saturated',
        message: `The closed loop stood at its limit (${most.toFixed(1)} %) in ${((100 * at) / used).toFixed(0)} % of the used time. It wanted more than it was allowed.`,
      })
  }
  const banks = banksApart(log, samples)
  if (banks) verdicts.push(banks)
  verdicts.push(...judgeResiduals(log, samples, result))
  return verdicts
}

/** Two banks that want different fuel from one table: one of them has a leak, a weak injector, or a sensor that reads wrong. */
function banksApart({ channels: { lambda, lambda2 } }: Pick<LogData, 'channels'>, samples: Samples): Verdict | null {
  if (!lambda || !lambda2) return null
  let [sum, seconds] = [0, 0]
  for (let i = 0; i < lambda.length; i++) {
    const apart = lambda2[i] / lambda[i] - 1
    if (samples.fate[i] !== 0 || !Number.isFinite(apart)) continue
    sum += apart * samples.stepS[i]
    seconds += samples.stepS[i]
  }
  const pct = (100 * sum) / seconds
  return seconds >= BANKS_SECONDS && Math.abs(pct) > METERS_AGREE_PCT
    ? {
        code: 'one-bank',
        message: `The other bank reads ${Math.abs(pct).toFixed(1)} % ${pct > 0 ? 'leaner' : 'richer'} than the first, from one table. One of them has a leak at its exhaust, an injector that gives less, or a sensor that reads wrong: change the sensors over, and see which way it goes.`,
      }
    : null
}

/** Trends left in the residual against things that are not in the table: pulse width, intake temperature, time. */
function judgeResiduals(log: Pick<LogData, 'timeS' | 'channels'>, samples: Samples, result: LearnResult): Verdict[] {
  const { pulseMs, intakeAirC } = log.channels
  const cells = result.cells.map((c) => c.neededBasePct ?? c.correctionPct ?? 0)
  const nr = result.rpm.length
  const stride = Math.max(1, Math.floor(result.totals.used / 4000))
  const left: number[] = []
  const timeS: number[] = []
  const airC: number[] = []
  const inversePulse: number[] = []
  const total: number[] = []
  let seen = 0
  for (let i = 0; i < samples.fate.length; i++) {
    if (samples.fate[i] !== 0 || seen++ % stride !== 0) continue
    // nearest-cell residuals are enough to show a trend
    const x = nearestIndex(result.rpm, samples.causeRpm[i])
    const y = nearestIndex(result.mapKpa, samples.causeMapKpa[i])
    left.push(samples.error[i] * 100 - cells[y * nr + x])
    timeS.push(log.timeS[i])
    airC.push(intakeAirC?.[i] ?? NaN)
    inversePulse.push(pulseMs ? 1 / pulseMs[i] : NaN)
    total.push(samples.error[i] * 100)
  }
  const verdicts: Verdict[] = []
  if (left.length < 200) return verdicts
  const drift = lineFit(timeS, left)
  const minutes = (timeS[timeS.length - 1] - timeS[0]) / 60
  if (drift.r2 > 0.25 && Math.abs(drift.slope * minutes * 60) > DRIFT_PCT)
    verdicts.push({
      code: 'drift',
      message: `The need drifts by ${(drift.slope * minutes * 60).toFixed(1)} % over the log with the engine warm. Look at fuel pressure and the sensor before learning from it.`,
    })
  const air = airC.every(Number.isFinite) ? lineFit(airC, left) : null
  if (air && air.r2 > 0.25 && Math.abs(air.slope) > 0.1 && drift.r2 <= 0.25)
    verdicts.push({
      code: 'intake-temperature',
      message: `The need changes by ${air.slope.toFixed(2)} % for each degree of intake air: the air temperature curve, not the table.`,
    })
  const pulse = inversePulse.every(Number.isFinite) ? lineFit(inversePulse, total) : null
  if (pulse && pulse.r2 > 0.6 && Math.abs(pulse.slope) > 8)
    verdicts.push({
      code: 'short-pulse',
      message: 'The error grows as the pulse gets shorter: injector dead time or small-pulse behaviour, not the table.',
    })
  return verdicts
}

function nearestIndex(axis: readonly number[], value: number): number {
  let best = 0
  for (let i = 1; i < axis.length; i++) if (Math.abs(axis[i] - value) < Math.abs(axis[best] - value)) best = i
  return best
}
