import type { Signs, SignValue } from './causes.ts'
import { type CrankSeen, STILL_RPM } from './crank-seen.ts'
import {
  ATMOSPHERE_KPA,
  COLD_APART_K,
  COLD_MORE_RPM,
  CRANK_LIGHT_DEG,
  HIGH_IDLE,
  HIGH_PRESSURE_SHARE,
  LEAST_STARTER_RPM,
  LOW_CRANK_V,
  LOW_IDLE,
  LOW_PRESSURE_SHARE,
  NO_PRESSURE_SHARE,
  NO_VACUUM_KPA,
  RAGGED_COUNTS,
  RAN_LAMBDA,
  ROUGH_SPREAD,
  SHUT_PCT,
  SLOW_CRANK_RPM,
  SPUTTER_TIMES,
} from './limits.ts'

/** What only a person can tell, and what was read beside the stream. */
export interface CrankAsked {
  heard?: SignValue<'heard'>
  plugs?: SignValue<'plugs'>
  /** the light while cranking: degrees early (positive) of what was commanded, or that it did not flash */
  light?: number | 'dark'
  clicks?: SignValue<'clicks'>
  valve?: SignValue<'valve'>
  ports?: SignValue<'ports'>
  glass?: SignValue<'glass'>
  /** the engine has not run for hours: coolant and air are alike */
  stood?: boolean
}
/** What the car should show. */
export interface StartWanted {
  setKpa: number
  barometerKpa?: number
  /** warm idle of this engine, rpm */
  idleRpm?: number
}

const SHUT_THROTTLE_PCT = 10

/** What an attempt showed, as signs; what nobody knows is left out. */
export function signsOf(seen: CrankSeen, { stood = false, light, ...told }: CrankAsked, wanted: StartWanted): Signs {
  return {
    stream: seen.streamEnded ? 'ended' : (seen.gaps ?? 0) > 0 ? 'gaps' : 'whole',
    fired: firedOf(seen),
    ...told,
    ...(light === undefined ? {} : { light: lightSign(light) }),
    ...turning(seen),
    ...pressures(seen, wanted),
    ...sensors(seen, stood),
    ...(seen.run ? running(seen.run, wanted) : {}),
  }
}
function lightSign(light: number | 'dark'): Signs['light'] {
  if (light === 'dark') return 'dark'
  if (Math.abs(light) <= CRANK_LIGHT_DEG) return 'right'
  return light > 0 ? 'early' : 'late'
}
function turning(seen: CrankSeen): Signs {
  const slow = (seen.batteryV !== null && seen.batteryV < LOW_CRANK_V) || (seen.rpm > STILL_RPM && seen.rpm < SLOW_CRANK_RPM)
  const none = seen.rpm < STILL_RPM && seen.caughtRpm === null
  const ragged = seen.dropouts > 0 || seen.spikes > RAGGED_COUNTS
  return {
    turns: slow ? 'slowly' : 'well',
    speed: none ? 'none' : ragged ? 'ragged' : 'steady',
    ...(seen.pulseMs !== null && seen.caughtRpm === null ? { pulse: seen.pulseMs <= 0 ? 'none' : 'there' } : {}),
  }
}
function pressures(seen: CrankSeen, wanted: StartWanted): Signs {
  const signs: Signs = {}
  if (seen.pressureKpa !== null) {
    const share = seen.pressureKpa / wanted.setKpa
    signs.pressure =
      share < NO_PRESSURE_SHARE ? 'none' : share < LOW_PRESSURE_SHARE ? 'low' : share > HIGH_PRESSURE_SHARE ? 'high' : 'right'
  }
  if (seen.stillMapKpa === null) return signs
  if (seen.ranMapKpa !== null && (seen.throttlePct ?? 0) < SHUT_THROTTLE_PCT)
    signs.vacuum = seen.stillMapKpa - seen.ranMapKpa < NO_VACUUM_KPA ? 'none' : 'seen'
  if (wanted.barometerKpa !== undefined)
    signs.still = Math.abs(seen.stillMapKpa - wanted.barometerKpa) > ATMOSPHERE_KPA ? 'off' : 'barometer'
  return signs
}
function sensors(seen: CrankSeen, stood: boolean): Signs {
  const signs: Signs = {}
  if (seen.throttleStillPct != null) signs.throttle = Math.abs(seen.throttleStillPct) > SHUT_PCT ? 'off' : 'zero'
  if (seen.coldAirC != null && seen.coolantC !== null) {
    const over = seen.coolantC - seen.coldAirC
    // a warm engine is warmer than the air; one that has stood is not, and none is colder
    if (over < -COLD_APART_K) signs.cold = 'reads cold'
    else if (stood) signs.cold = over > COLD_APART_K ? 'reads hot' : 'agrees'
  }
  return signs
}
function running(run: NonNullable<CrankSeen['run']>, { idleRpm }: StartWanted): Signs {
  const signs: Signs = {}
  if (run.lambda !== null) signs.mixture = run.lambda > RAN_LAMBDA.high ? 'lean' : run.lambda < RAN_LAMBDA.low ? 'rich' : 'burns'
  if (idleRpm !== undefined && (run.throttlePct ?? 0) < SHUT_THROTTLE_PCT)
    signs.idles = run.rpm > HIGH_IDLE * idleRpm + COLD_MORE_RPM ? 'high' : run.rpm < LOW_IDLE * idleRpm ? 'low' : 'at target'
  return signs
}
function firedOf({ caughtRpm, diedAfterS, run, topCrankRpm, rpm }: CrankSeen): Signs['fired'] {
  if (caughtRpm !== null) return diedAfterS !== null ? 'died' : run && run.spread > ROUGH_SPREAD ? 'rough' : 'runs'
  return topCrankRpm !== undefined && topCrankRpm > SPUTTER_TIMES * Math.max(rpm, LEAST_STARTER_RPM) ? 'sputters' : 'never'
}
