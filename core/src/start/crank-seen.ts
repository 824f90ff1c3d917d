import type { Frame } from './frame.ts'

/** What a crank attempt showed by itself. */
export interface CrankSeen {
  seconds: number
  /** false: the injectors were unplugged or held shut */
  fuelled: boolean
  /** median while cranking, as the unit counted it */
  rpm: number
  dropouts: number
  spikes: number
  /** null where the device does not tell */
  pulseMs: number | null
  pressureKpa: number | null
  batteryV: number | null
  /** manifold pressure while it ran and just before it turned, kPa; null where it never caught or is not told */
  ranMapKpa: number | null
  stillMapKpa: number | null
  /** highest speed after it caught; null when it never did */
  caughtRpm: number | null
  /** seconds from catching to standing still; null while it runs */
  diedAfterS: number | null
  /** the stream broke off while the starter turned */
  streamEnded: boolean
  coolantC: number | null
  throttlePct: number | null
  /** short silences of the stream while it turned or ran, as a reset makes them */
  gaps?: number
  /** highest speed at the starter: over what a starter gives, cylinders fired */
  topCrankRpm?: number
  /** intake air at the first turn of an engine that had not run before, else null: then coolant and air need not agree */
  coldAirC?: number | null
  /** throttle with the engine still before the crank, %, if it was told */
  throttleStillPct?: number | null
  /** the last seconds of running; null while it does not run */
  run?: { seconds: number; rpm: number; spread: number; lambda: number | null; throttlePct: number | null } | null
}

const CAUGHT_RPM = 400
/** under this an engine stands, by its count, rpm */
export const STILL_RPM = 60
const GAP_S = 0.6
/** cranks that a reset parts are one attempt */
const ATTEMPT_GAP_S = 1.5
/** a silence of the stream over this is a reset, s */
const RESET_GAP_S = 0.25
/** one count that stands so far off both of its neighbours is no speed of a flywheel */
const RAGGED_SHARE = 0.3
/** seconds of running that are judged, and from when after catching */
const RUN_S = 5
const RUN_SETTLES_S = 4
const median = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0
const toldOf = (values: (number | null)[]): number[] => values.filter((v) => v !== null)
const medianTold = (values: (number | null)[]): number | null => (toldOf(values).length ? median(toldOf(values)) : null)

/**
 * The last crank attempt in a stretch of frames, oldest first; null without one.
 * @param silentS seconds since the last frame arrived, for a stream that is watched as it comes
 */
export function crankSeen(frames: readonly Frame[], silentS = 0): CrankSeen | null {
  let end = frames.length - 1
  while (end >= 0 && frames[end].state !== 'cranking') end--
  if (end < 0) return null
  let from = end
  while (from > 0 && frames[from - 1].state === 'cranking' && frames[from].timeS - frames[from - 1].timeS < ATTEMPT_GAP_S) from--
  const cranking = frames.slice(from, end + 1)
  const after = frames.slice(end + 1)
  const next = after[0]
  const gapS = next ? next.timeS - frames[end].timeS : silentS
  const top = Math.max(0, ...after.map((f) => f.rpm))
  const caught = top > CAUGHT_RPM
  const caughtAt = after.find((f) => f.rpm > CAUGHT_RPM)?.timeS
  const died = caught ? after.find((f) => f.timeS > caughtAt! && f.rpm < STILL_RPM) : undefined
  // the first half second spins up; a count that is not there yet is no dropout
  const steady = cranking.filter((f) => f.timeS - cranking[0].timeS > 0.5)
  const rpm = median(steady.map((f) => f.rpm))
  const lowest = toldOf(cranking.map((f) => f.batteryV))
  const turning = [...steady, ...after.filter((f) => f.rpm > STILL_RPM)]
  const still = frames.slice(Math.max(0, from - STILL_FRAMES), from).filter((f) => f.rpm < STILL_RPM)
  const ranBefore = frames.slice(0, from).some((f) => f.rpm > CAUGHT_RPM)
  return {
    seconds: cranking[cranking.length - 1].timeS - cranking[0].timeS,
    fuelled: !cranking.some((f) => f.fuelHeld),
    rpm,
    dropouts: steady.filter((f, i) => i > 0 && f.rpm < STILL_RPM && steady[i - 1].rpm >= STILL_RPM).length,
    spikes: turning.filter((_, i) => isolated(turning, i)).length,
    pulseMs: medianTold(steady.map((f) => f.pulseMs)),
    pressureKpa: medianTold(steady.map((f) => f.fuelPressureKpa)),
    batteryV: lowest.length ? Math.min(...lowest) : null,
    ranMapKpa: medianTold(after.filter((f) => f.rpm > CAUGHT_RPM).map((f) => f.mapKpa)),
    stillMapKpa: frames[from - 1]?.mapKpa ?? null,
    caughtRpm: caught ? top : null,
    diedAfterS: died ? died.timeS - caughtAt! : null,
    streamEnded: gapS > GAP_S,
    coolantC: cranking[0].coolantC,
    throttlePct: medianTold(cranking.map((f) => f.throttlePct)),
    gaps: turning.filter((f, i) => i > 0 && f.timeS - turning[i - 1].timeS > RESET_GAP_S).length,
    topCrankRpm: percentile(
      steady.map((f) => f.rpm),
      0.95,
    ),
    coldAirC: ranBefore ? null : cranking[0].intakeAirC,
    throttleStillPct: medianTold(still.map((f) => f.throttlePct)),
    run: caught && !died ? runOf(after, caughtAt!) : null,
  }
}
const STILL_FRAMES = 60
const percentile = (values: number[], p: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * p))] ?? 0

/** A count that both of its neighbours contradict in the same direction: pulses too many or missing, not a flywheel. */
function isolated(frames: readonly Frame[], i: number): boolean {
  const [before, now, next] = [frames[i - 1]?.rpm, frames[i].rpm, frames[i + 1]?.rpm]
  if (before === undefined || next === undefined || now < STILL_RPM || before < STILL_RPM || next < STILL_RPM) return false
  const [a, b] = [now / before - 1, now / next - 1]
  return a * b > 0 && Math.min(Math.abs(a), Math.abs(b)) > RAGGED_SHARE
}

function runOf(after: readonly Frame[], caughtAtS: number): CrankSeen['run'] {
  const end = after[after.length - 1].timeS
  const last = after.filter((f) => f.timeS > Math.max(caughtAtS + RUN_SETTLES_S, end - RUN_S) && f.rpm > STILL_RPM)
  const seconds = last.length > 1 ? last[last.length - 1].timeS - last[0].timeS : 0
  if (seconds < 1) return null
  const speeds = last.map((f) => f.rpm)
  const mean = speeds.reduce((a, v) => a + v, 0) / speeds.length
  return {
    seconds,
    rpm: mean,
    spread: (percentile(speeds, 0.95) - percentile(speeds, 0.05)) / mean,
    lambda: medianTold(last.map((f) => f.lambda)),
    throttlePct: medianTold(last.map((f) => f.throttlePct)),
  }
}
