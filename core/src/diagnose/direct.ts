import type { LogData } from '../logfile/index.ts'
import { type DelayModel, meanOf, type Samples } from '../samples/index.ts'
import type { Block } from './blocks.ts'
import type { Cause } from './causes.ts'
import * as limits from './limits.ts'
import { quantile, median, rms, sorted, type Traces } from './traces.ts'

/** What a trace itself says of a cause: log of the likelihood of what is seen with it over without it, and what that was. */
export interface Sign {
  cause: Cause
  /** causes that these traces cannot part */
  group?: readonly Cause[]
  logBayes: number
  evidence: string
}
export interface Seen {
  log: Pick<LogData, 'timeS' | 'channels'>
  samples: Samples
  blocks: readonly Block[]
  barometerKpa: number
  /** nothing is known of the table: it may be off by any amount */
  firstDrive?: boolean
  /** what the traces of the last log that was believed showed */
  before?: Traces
}

/** log likelihood ratio of a value so many sigmas beyond a sound one's mean; what lies on the sound side speaks a little against it */
const beyond = (value: number, sound: number, sigma: number): number => {
  const z = (value - sound) / sigma
  return z > 0 ? Math.min(limits.MOST_SIGN, (z * z) / 2) - 1 : -1
}
/** A sensor that stands still: nothing moves it for minutes, though the engine goes through all it has; no cut of fuel does either. */
function stuck({ log: { timeS, channels } }: Seen): Sign[] {
  const { lambda, mapKpa, rpm, fuelCut, pulseMs } = channels
  const windows: { sd: number; kpa: number; rpm: number; mean: number; seconds: number }[] = []
  for (let i = 0; i < timeS.length;) {
    const from = i
    const means: number[] = []
    let [lo, hi, slow, fast] = [Infinity, -Infinity, Infinity, -Infinity]
    while (i < timeS.length && timeS[i] - timeS[from] < limits.STUCK_WINDOW_S) {
      const begin = timeS[i]
      let [sum, n] = [0, 0]
      for (; i < timeS.length && timeS[i] - begin < 1; i++) {
        if (!(rpm![i] > 500) || lambda![i] !== lambda![i]) continue
        sum += lambda![i]
        n++
        if (mapKpa![i] < lo) lo = mapKpa![i]
        if (mapKpa![i] > hi) hi = mapKpa![i]
        if (rpm![i] < slow) slow = rpm![i]
        if (rpm![i] > fast) fast = rpm![i]
      }
      if (n > 0) means.push(sum / n)
    }
    if (means.length < limits.STUCK_WINDOW_S / 2) continue
    const mean = means.reduce((a, b) => a + b, 0) / means.length
    windows.push({ sd: rms(means.map((m) => m - mean)) / mean, kpa: hi - lo, rpm: fast - slow, mean, seconds: means.length })
  }
  // what has stuck does not come loose: where it moves again it was only held well, and after it moved a while more is wanted
  const moved = windows.findLastIndex((w) => w.sd > limits.MOVES_SD)
  const since = windows.slice(moved + 1).filter((w) => w.sd < limits.STUCK_SD && w.kpa > limits.STUCK_KPA && w.rpm > limits.STUCK_RPM)
  const still = moved >= 0 && since.length < limits.STUCK_AFTER_WINDOWS ? [] : since
  const seconds = still.reduce((sum, w) => sum + w.seconds, 0)
  let [cuts, blind] = [0, 0]
  const off = (i: number) => (fuelCut ? fuelCut[i] >= 0.5 : pulseMs ? pulseMs[i] < 0.05 && rpm![i] > 900 : false)
  for (let i = 1; i < timeS.length; i++) {
    if (!off(i) || off(i - 1)) continue
    let end = i
    while (end + 1 < timeS.length && off(end + 1)) end++
    if (timeS[end] - timeS[i] >= limits.CUT_S) {
      cuts++
      let most = 0
      for (let k = i; k < timeS.length && timeS[k] < timeS[end] + 1; k++) if (lambda![k] > most) most = lambda![k]
      if (most < limits.CUT_SEEN_LAMBDA) blind++
    }
    i = end
  }
  const told = cuts >= 2 ? (blind / cuts > 0.8 ? Math.min(12, 4 * blind) : -6) : 0
  return [
    {
      cause: 'sensor-stuck',
      logBayes: still.length ? Math.min(limits.MOST_SIGN, 6 * still.length + Math.max(0, told)) : told > 0 ? told - 2 : -3,
      evidence: still.length
        ? `lambda stood at ${still[0].mean.toFixed(3)} within ${(100 * Math.max(...still.map((w) => w.sd))).toFixed(2)} % for ${(seconds / 60).toFixed(0)} min, while the engine went through ${Math.max(...still.map((w) => w.kpa)).toFixed(0)} kPa${cuts ? `; ${blind} of ${cuts} fuel cuts left no mark on it` : ''}`
        : `${blind} of ${cuts} fuel cuts left no mark on lambda`,
    },
  ]
}

/** A value against what is usual; or, where the log before was believed, against what it showed then. */
const against = (value: number, then: number | undefined, usual: { sound: number; sigma: number }, repeats: number): number =>
  then === undefined ? beyond(value, usual.sound, usual.sigma) : beyond(value, then, repeats)
const asThen = (then: string | undefined, usual: string): string => (then === undefined ? usual : `${then} in the log before`)

/**
 * What a sensor lags more than a sound one, and one standard error: least squares over the two numbers that the ends of fuel cuts tell, the delay at a
 * usual flow and the pipe, each beside what it is on a sound car. Cuts that all end at one flow tell their sum alone.
 * @source generalised least squares; Aitken 1935
 */
export function addedLag(
  delay: DelayModel,
  delayS: number,
  sound: { usualS: number; sigmaS: number; pipe: number; pipeSigma: number },
): { lagS: number; errorS: number } {
  const { usual = 0, pipe = 0, both = 0 } = delay.variance ?? {}
  const [v, p] = [usual + sound.sigmaS ** 2, pipe + sound.pipeSigma ** 2]
  // the lag is in the one and not in the other
  const left = v - both ** 2 / p
  return { lagS: delayS - sound.usualS - (both / p) * (delay.pipe - sound.pipe), errorS: Math.sqrt(left) }
}
/** Delay beyond the pipe's, from the ends of fuel cuts. */
function slow({ samples: { delay }, before }: Seen, { delayS }: Traces): Sign[] {
  if (delayS === undefined) return []
  const then = before?.delayS
  const ofPipe =
    before?.pipe === undefined
      ? { pipe: limits.SOUND_PIPE, pipeSigma: limits.PIPE_SIGMA }
      : { pipe: before.pipe, pipeSigma: limits.PIPE_REPEATS }
  const usual =
    then === undefined ? { usualS: limits.SOUND_DELAY_S, sigmaS: limits.DELAY_SIGMA_S } : { usualS: then, sigmaS: limits.DELAY_REPEATS_S }
  const { lagS, errorS } = addedLag(delay, delayS, { ...usual, ...ofPipe })
  return [
    {
      cause: 'sensor-slow',
      logBayes: beyond(lagS, 0, errorS),
      evidence: `it follows ${delayS.toFixed(2)} s late at 2,000 rpm and 50 kPa, over ${delay.events} ends of fuel cuts; ${asThen(then?.toFixed(2), `a sound one ${limits.SOUND_DELAY_S.toFixed(2)} s`)}; beyond its pipe ${lagS.toFixed(2)} ± ${errorS.toFixed(2)} s`,
    },
  ]
}

/** Oxygen of fires that did not come: jumps of lambda beyond its usual noise, and a crank that shakes at idle. */
function misfire({ before }: Seen, { shake }: Traces): Sign[] {
  if (!shake) return []
  const then = before?.shake
  const z = [
    Math.log(shake.rpm / (then?.rpm ?? limits.SOUND_SHAKE_RPM)) / (then ? limits.SHAKE_REPEATS : limits.SHAKE_SIGMA),
    Math.log(shake.jump / (then?.jump ?? limits.SOUND_JUMP)) / (then ? limits.JUMP_REPEATS : limits.JUMP_SIGMA),
    Math.log(shake.tail / (then?.tail ?? limits.SOUND_TAIL)) / (then ? limits.TAIL_REPEATS : limits.TAIL_SIGMA),
  ].map((v) => Math.min(limits.MOST_SIGMAS, Math.max(-1, v)))
  return [
    {
      cause: 'misfire',
      logBayes: then
        ? (Math.max(0, z[0]) ** 2 + Math.max(0, z[1], z[2]) ** 2) / 2 - (z[0] < 1 ? 6 : 1)
        : // one sign alone may be a noisy logger; a crank that shakes and a lambda that jumps together are not
          (z[0] + Math.max(z[1], z[2])) ** 2 / 4 - (Math.min(z[0], Math.max(z[1], z[2])) < 1 ? 6 : 1),
      evidence: `speed shakes by ${shake.rpm.toFixed(1)} rpm, ${asThen(then?.rpm.toFixed(1), `${limits.SOUND_SHAKE_RPM} as a rule`)}; lambda jumps by ${(100 * shake.jump * shake.tail).toFixed(1)} % from row to row`,
    },
  ]
}

/** Pressure that comes late after the throttle, or stands near the air outside with the throttle shut. */
function mapHose({ before, barometerKpa }: Seen, { shutShare, mapLagS }: Traces): Sign[] {
  const signs: Sign[] = []
  if (shutShare !== undefined)
    signs.push({
      cause: 'map-hose',
      // an engine that runs badly idles with more air: what changed since the log before says little alone
      logBayes:
        Math.max(
          beyond(shutShare, limits.SHUT_SHARE, limits.SHUT_SIGMA),
          before?.shutShare === undefined ? -1 : Math.min(limits.SHUT_CHANGED, beyond(shutShare, before.shutShare, limits.SHUT_REPEATS)),
        ) - 1,
      evidence: `with the throttle shut at idle it reads ${(shutShare * barometerKpa).toFixed(0)} kPa, ${(100 * shutShare).toFixed(0)} % of the air outside${before?.shutShare === undefined ? '' : `; ${(100 * before.shutShare).toFixed(0)} % in the log before`}`,
    })
  if (mapLagS !== undefined)
    signs.push({
      cause: 'map-hose',
      logBayes: against(
        mapLagS,
        // it cannot come before the throttle: what was read as earlier is noise, and no less late than at once
        before?.mapLagS === undefined ? undefined : Math.max(0, before.mapLagS),
        { sound: limits.SOUND_MAP_LAG_S, sigma: limits.MAP_LAG_SIGMA_S },
        limits.MAP_LAG_REPEATS_S,
      ),
      evidence: `manifold pressure comes ${(1000 * mapLagS).toFixed(0)} ms behind the throttle${before?.mapLagS === undefined ? '' : `; ${(1000 * before.mapLagS).toFixed(0)} ms in the log before`}`,
    })
  return signs
}

/** Temperatures that cannot be: a thermostat that holds another value, a cold engine and its air that disagree, a reading that never moves. */
function temperatures({ log: { timeS, channels }, before }: Seen, { coolantHeldC }: Traces): Sign[] {
  const { coolantC, intakeAirC, rpm } = channels
  const signs: Sign[] = []
  const n = timeS.length
  if (coolantC) {
    // the first rows can be a filter's, not the engine's
    const first = meanOf(coolantC, 0, Math.min(n, 40))
    let levelsRight = false
    if (coolantHeldC !== undefined) {
      const { low, high } = limits.THERMOSTAT_C
      const off = Math.max(0, low - coolantHeldC, coolantHeldC - high)
      const then = before?.coolantHeldC
      const moved = then === undefined ? -1 : beyond(Math.abs(coolantHeldC - then), 0, limits.THERMOSTAT_REPEATS_K)
      levelsRight = off === 0 && moved < limits.THERMOSTAT_MOVED
      if (off > 0 || moved > 0)
        signs.push({
          cause: 'coolant-temperature',
          logBayes: Math.max(moved, off > 0 ? Math.min(limits.MOST_SIGN, 8 + 2 * off) : 0),
          evidence: `the coolant levels out at ${coolantHeldC.toFixed(0)} °C; ${asThen(off > 0 ? undefined : then?.toFixed(0), `thermostats hold ${low} to ${high}`)}`,
        })
    }
    if (intakeAirC && first < limits.COLD_C) {
      const air = meanOf(intakeAirC, 0, Math.min(n, 40))
      const apart = first - air
      if (Math.abs(apart) > limits.COLD_APART_K)
        signs.push({
          // a coolant sensor that levels out where a thermostat holds was right when it was cold
          cause: levelsRight ? 'air-temperature' : 'coolant-temperature',
          logBayes: Math.min(limits.MOST_SIGN, 2 + Math.abs(apart) - limits.COLD_APART_K),
          evidence: `cold, the coolant reads ${first.toFixed(0)} °C and the air ${air.toFixed(0)} °C`,
        })
    }
  }
  if (intakeAirC && channels.mapKpa) signs.push(...soaked(timeS, intakeAirC, rpm!, channels.mapKpa))
  if (intakeAirC) {
    const values = Array.from({ length: Math.min(n, 2000) }, (_, k) => intakeAirC[Math.floor((k * n) / Math.min(n, 2000))]).filter(
      (v) => v === v,
    )
    const middle = values.length ? median(values) : 25
    const off = middle > limits.AIR_C.high ? middle - limits.AIR_C.high : middle < limits.AIR_C.low ? limits.AIR_C.low - middle : 0
    if (off > 0)
      signs.push({
        cause: 'air-temperature',
        logBayes: Math.min(limits.MOST_SIGN, 2 + off),
        evidence: `the intake air reads ${middle.toFixed(0)} °C most of the time`,
      })
  }
  return signs
}
/** An air sensor that warms where it stands: up while little air goes by, down while much does, by more than the air itself does. */
function soaked(timeS: Float64Array, intakeAirC: Float32Array, rpm: Float32Array, mapKpa: Float32Array): Sign[] {
  const flows: number[] = []
  const air: number[] = []
  let slow = rpm[0] * mapKpa[0] || 0
  for (let i = 1; i < timeS.length; i++) {
    const flow = rpm[i] * mapKpa[i]
    if (flow !== flow || intakeAirC[i] !== intakeAirC[i]) continue
    slow += ((flow - slow) * Math.min(5, timeS[i] - timeS[i - 1])) / limits.SOAK_S
    if (i % 20 || timeS[i] < limits.SOAK_AFTER_S) continue
    flows.push(slow)
    air.push(intakeAirC[i])
  }
  if (air.length < 60) return []
  const range = quantile(air, 0.95) - quantile(air, 0.05)
  const [mf, ma] = [flows, air].map((v) => v.reduce((a, b) => a + b, 0) / v.length)
  let [ff, aa, fa] = [0, 0, 0]
  for (let k = 0; k < air.length; k++) {
    ff += (flows[k] - mf) ** 2
    aa += (air[k] - ma) ** 2
    fa += (flows[k] - mf) * (air[k] - ma)
  }
  const goes = ff > 0 && aa > 0 ? fa / Math.sqrt(ff * aa) : 0
  return [
    {
      cause: 'heat-soak',
      logBayes: goes < limits.SOAK_GOES ? beyond(range, limits.SOAK_SOUND_K, limits.SOAK_SIGMA_K) : -2,
      evidence: `the air sensor goes up and down by ${range.toFixed(0)} K, up while little air goes by`,
    },
  ]
}
/** The loop at its limit, by its own column: a ceiling that it touches again and again and never passes. */
function pegged({ log: { channels }, samples, blocks, firstDrive }: Seen): Sign[] {
  const { correctionPct } = channels
  if (!correctionPct) return []
  let most = 0
  for (let i = 0; i < correctionPct.length; i++) if (samples.fate[i] === 0) most = Math.max(most, Math.abs(correctionPct[i]))
  const at = blocks.filter((b) => Math.abs(b.correctionPct) > most - limits.AT_LIMIT_PCT)
  const share =
    at.reduce((s, b) => s + b.seconds, 0) /
    Math.max(
      1,
      blocks.reduce((s, b) => s + b.seconds, 0),
    )
  const left = at.length ? median(at.map((b) => Math.abs(b.overPct))) : 0
  if (most < limits.LEAST_LIMIT_PCT || share < limits.PEGGED_SHARE || left < limits.PEGGED_LEFT_PCT) return []
  return [
    {
      cause: 'trim-pegged',
      // a wide loop at its limit on a first drive is a table that far off, and what it left was measured
      logBayes: firstDrive && most >= limits.WIDE_LIMIT_PCT ? limits.PEGGED_WIDE : Math.min(limits.MOST_PEGGED, 100 * share),
      evidence: `the correction stands at ${most.toFixed(1)} % in ${(100 * share).toFixed(0)} % of the time, with ${left.toFixed(1)} % still missing`,
    },
  ]
}

/** A loop at work that the log does not tell of: no table is right to a per cent at every place. */
export function noTrim({ log: { channels }, blocks }: Seen, loopOpen: boolean): Sign[] {
  if (channels.correctionPct || loopOpen || blocks.length < limits.LEAST_BLOCKS) return []
  // one place may be right by itself
  const spread = (of: 'rpm' | 'mapKpa') =>
    quantile(
      blocks.map((b) => b[of]),
      0.95,
    ) -
    quantile(
      blocks.map((b) => b[of]),
      0.05,
    )
  if (spread('rpm') < limits.LOOP_OVER_RPM || spread('mapKpa') < limits.LOOP_OVER_KPA) return []
  const places = sorted(blocks.map((b) => Math.abs(b.overPct)))
  const left = rms([...places.slice(0, Math.ceil(0.9 * places.length))])
  return [
    {
      cause: 'no-trim-column',
      logBayes: left < limits.LOOP_LEAVES_PCT ? limits.MOST_SIGN : -2,
      evidence: `lambda is within ${left.toFixed(1)} % of its target at ${blocks.length} places, and the log has no correction`,
    },
  ]
}

/** Everything the traces themselves say. */
export const directSigns = (seen: Seen, traces: Traces, loopOpen: boolean): Sign[] => [
  ...stuck(seen),
  ...slow(seen, traces),
  ...misfire(seen, traces),
  ...mapHose(seen, traces),
  ...temperatures(seen, traces),
  ...pegged(seen),
  ...noTrim(seen, loopOpen),
]
