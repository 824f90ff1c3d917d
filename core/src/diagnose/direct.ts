import type { LogData } from '../logfile/index.ts'
import type { Samples } from '../samples/index.ts'
import type { Block } from './blocks.ts'
import type { Cause } from './causes.ts'
import * as limits from './limits.ts'

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
}

const sorted = (values: readonly number[]): Float64Array => Float64Array.from(values).sort()
/** of so many values spread over a longer list: a million are sorted for nothing */
const MOST_SORTED = 20_000
const quantile = (values: readonly number[], share: number): number => {
  const every = Math.ceil(values.length / MOST_SORTED)
  const some = sorted(every > 1 ? values.filter((_, k) => k % every === 0) : values)
  return some[Math.floor(share * (some.length - 1))]
}
const median = (values: readonly number[]): number => quantile(values, 0.5)
function rms(values: ArrayLike<number>): number {
  let sum = 0
  for (let i = 0; i < values.length; i++) sum += values[i] * values[i]
  return Math.sqrt(sum / values.length)
}
/** log likelihood ratio of a value so many sigmas beyond a sound one's mean; what lies on the sound side speaks a little against it */
const beyond = (value: number, sound: number, sigma: number): number => {
  const z = (value - sound) / sigma
  return z > 0 ? Math.min(limits.MOST_SIGN, (z * z) / 2) - 1 : -1
}
const usualStepS = (timeS: Float64Array): number => {
  const every = Math.max(1, Math.floor(timeS.length / 500))
  const steps: number[] = []
  for (let i = 1; i < timeS.length; i += every) steps.push(timeS[i] - timeS[i - 1])
  return median(steps)
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
  const still = windows.filter((w) => w.sd < limits.STUCK_SD && w.kpa > limits.STUCK_KPA && w.rpm > limits.STUCK_RPM)
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

/** Delay beyond the pipe's, from the ends of fuel cuts. */
function slow({ samples: { delay } }: Seen): Sign[] {
  const s = delay.lagS + delay.pipe / limits.DELAY_AT_FLOW
  return delay.fitted
    ? [
        {
          cause: 'sensor-slow',
          logBayes: beyond(s, limits.SOUND_DELAY_S, limits.DELAY_SIGMA_S),
          evidence: `it follows ${s.toFixed(2)} s late at 2,000 rpm and 50 kPa, over ${delay.events} ends of fuel cuts; a sound one ${limits.SOUND_DELAY_S.toFixed(2)} s`,
        },
      ]
    : []
}

/** Oxygen of fires that did not come: jumps of lambda beyond its usual noise, and a crank that shakes at idle. */
function misfire({ log: { timeS, channels }, samples }: Seen): Sign[] {
  const { rpm, lambda, throttlePct, speedKmh } = channels
  if (usualStepS(timeS) > limits.RIPPLE_STEP_S) return []
  const idle: number[] = []
  const driven: number[] = []
  const jumps: number[] = []
  for (let i = 2; i < timeS.length; i++) {
    if (samples.fate[i] !== 0 || samples.fate[i - 2] !== 0) continue
    const shake = Math.abs(rpm![i] - 2 * rpm![i - 1] + rpm![i - 2]) / Math.sqrt(6)
    if (shake !== shake) continue
    // a shut throttle in gear is no idle
    const idles =
      rpm![i] < limits.IDLES_UNDER_RPM &&
      !(throttlePct && throttlePct[i] >= limits.SHUT_PCT) &&
      !(speedKmh && speedKmh[i] > limits.STANDS_KMH)
    const list = idles ? idle : driven
    list.push(shake)
    const jump = Math.abs(lambda![i] - lambda![i - 1]) / lambda![i]
    if (jump === jump) jumps.push(jump)
  }
  const shakes = idle.length > 100 ? idle : driven
  if (shakes.length < 100 || jumps.length < 100) return []
  // one row of a gear change or of a start counts for more than all of an idle: a cylinder that misses shakes oftener than that
  const shakeRpm = rms(sorted(shakes).subarray(0, Math.ceil(limits.SHAKE_KEPT * shakes.length)))
  const middle = Math.max(1e-4, 1.4826 * median(jumps))
  const tail = rms(jumps) / middle
  const z = [
    Math.log(shakeRpm / limits.SOUND_SHAKE_RPM) / limits.SHAKE_SIGMA,
    Math.log(middle / limits.SOUND_JUMP) / limits.JUMP_SIGMA,
    Math.log(tail / limits.SOUND_TAIL) / limits.TAIL_SIGMA,
  ].map((v) => Math.min(limits.MOST_SIGMAS, Math.max(-1, v)))
  return [
    {
      cause: 'misfire',
      // one sign alone may be a noisy logger; a crank that shakes and a lambda that jumps together are not
      logBayes: (z[0] + Math.max(z[1], z[2])) ** 2 / 4 - (Math.min(z[0], Math.max(z[1], z[2])) < 1 ? 6 : 1),
      evidence: `speed shakes by ${shakeRpm.toFixed(0)} rpm${idle.length > 100 ? ' at idle' : ''}, lambda jumps by ${(100 * rms(jumps)).toFixed(1)} % from row to row`,
    },
  ]
}

/** Pressure that comes late after the throttle, or stands near the air outside with the throttle shut. */
function mapHose({ log: { timeS, channels }, barometerKpa }: Seen): Sign[] {
  const { throttlePct, mapKpa, rpm } = channels
  if (!throttlePct) return []
  const signs: Sign[] = []
  const shut: number[] = []
  for (let i = 0; i < timeS.length; i++)
    if (throttlePct[i] < 1.5 && rpm![i] > 500 && rpm![i] < 1300 && mapKpa![i] === mapKpa![i]) shut.push(mapKpa![i])
  const step = usualStepS(timeS)
  if (shut.length * step > 10) {
    const share = median(shut) / barometerKpa
    signs.push({
      cause: 'map-hose',
      logBayes: beyond(share, limits.SHUT_SHARE, limits.SHUT_SIGMA) - 1,
      evidence: `with the throttle shut at idle it reads ${median(shut).toFixed(0)} kPa, ${(100 * share).toFixed(0)} % of the air outside`,
    })
  }
  const lagged = step <= limits.RIPPLE_STEP_S ? pressureLag(timeS, throttlePct, mapKpa!, step) : null
  if (lagged !== null)
    signs.push({
      cause: 'map-hose',
      logBayes: beyond(lagged, limits.SOUND_MAP_LAG_S, limits.MAP_LAG_SIGMA_S),
      evidence: `manifold pressure comes ${(1000 * lagged).toFixed(0)} ms behind the throttle`,
    })
  return signs
}

/**
 * How late pressure follows the throttle, s: where the changes of both are most alike; null where the throttle hardly moves.
 * @source time delay by the peak of the cross-correlation: Ljung, System Identification, section 6.1
 */
function pressureLag(timeS: Float64Array, throttlePct: Float32Array, mapKpa: Float32Array, step: number): number | null {
  const n = timeS.length
  const over = Math.max(1, Math.round(limits.LAG_OVER_S / step))
  const most = Math.round(limits.MOST_MAP_LAG_S / step)
  const early = Math.round(limits.EARLY_MAP_S / step)
  const sums = new Float64Array(most + early + 1)
  let moved = 0
  for (let i = over; i < n - over; i++) {
    const foot = throttlePct[i + over] - throttlePct[i - over]
    // only what opens a nearly shut plate moves pressure at once
    if (!(Math.abs(foot) > limits.LAG_FOOT_PCT) || throttlePct[i - over] > limits.LAG_FROM_PCT) continue
    moved++
    for (let k = -early; k <= most; k++) {
      const a = i + k
      if (a - over < 0 || a + over >= n) continue
      const d = mapKpa[a + over] - mapKpa[a - over]
      if (d === d) sums[k + early] += foot * d
    }
  }
  if (moved * step < limits.LEAST_LAG_S) return null
  let top = 0
  for (let k = 1; k < sums.length; k++) if (sums[k] > sums[top]) top = k
  if (top === 0 || top === sums.length - 1) return null
  const [a, b, c] = [sums[top - 1], sums[top], sums[top + 1]]
  return (top - early + (a - c) / (2 * (a - 2 * b + c))) * step
}

/** Temperatures that cannot be: a thermostat that holds another value, a cold engine and its air that disagree, a reading that never moves. */
function temperatures({ log: { timeS, channels } }: Seen): Sign[] {
  const { coolantC, intakeAirC, rpm } = channels
  const signs: Sign[] = []
  const n = timeS.length
  if (coolantC) {
    const late: number[] = []
    for (let i = 0; i < n; i++) if (timeS[i] > 0.6 * timeS[n - 1] && rpm![i] > 500 && coolantC[i] === coolantC[i]) late.push(coolantC[i])
    // the first rows can be a filter's, not the engine's
    const first = meanOf(coolantC, 0, Math.min(n, 40))
    const long = timeS[n - 1] > limits.WARMED_AFTER_S
    let levelsRight = false
    if (late.length > 20 && long) {
      const held = median(late)
      const levelled = quantile(late, 0.9) - quantile(late, 0.1) < limits.LEVELLED_K
      const off =
        held < limits.THERMOSTAT_C.low
          ? limits.THERMOSTAT_C.low - held
          : held > limits.THERMOSTAT_C.high
            ? held - limits.THERMOSTAT_C.high
            : 0
      levelsRight = off === 0 && levelled
      if (off > 0 && levelled)
        signs.push({
          cause: 'coolant-temperature',
          logBayes: Math.min(limits.MOST_SIGN, 8 + 2 * off),
          evidence: `the coolant levels out at ${held.toFixed(0)} °C; thermostats hold ${limits.THERMOSTAT_C.low} to ${limits.THERMOSTAT_C.high}`,
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
function meanOf(values: Float32Array, from: number, to: number): number {
  let [sum, n] = [0, 0]
  for (let i = from; i < to; i++)
    if (values[i] === values[i]) {
      sum += values[i]
      n++
    }
  return sum / n
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
export const directSigns = (seen: Seen, loopOpen: boolean): Sign[] => [
  ...stuck(seen),
  ...slow(seen),
  ...misfire(seen),
  ...mapHose(seen),
  ...temperatures(seen),
  ...pegged(seen),
  ...noTrim(seen, loopOpen),
]
