import { standardAtmosphere } from '../air/index.ts'
import { asSaying, degC, kPa, lambda, type Said, say, wordsOf } from '../kernel/index.ts'
import type { Facts } from '../survey/index.ts'
import { flagTitle } from './flag-kinds.ts'
import type { Frame } from './frame.ts'
import { ATMOSPHERE_KPA, COLD_AGREE_K, FREE_AIR_LAMBDA, MAX_JUMP_PCT, MIN_BATTERY_V, OPEN_PCT, SHUT_PCT, STATION_KPA } from './limits.ts'
import { startSweepWatch, sweepProblems, type SweepWatch, watchSweep } from './throttle-sweep.ts'

/** What the app watches by itself with the key on and the engine off (handbook 06, step 2). */
export interface SanityCheck {
  id: string
  label: string
  state: 'pass' | 'fail' | 'waiting'
  /** what was seen and what is wanted, as metric text and with its quantities for a person's own units */
  seen: string
  limit: string
  said: { seen: Said; limit: Said }
}
const check = (id: string, label: string, state: SanityCheck['state'], seen: Said, limit: Said): SanityCheck => ({
  id,
  label,
  state,
  seen: wordsOf(seen),
  limit: wordsOf(limit),
  said: { seen, limit },
})

export interface SanityWatch {
  frames: number
  lastTimeS: number
  batteryV: number
  mapKpa: number
  coolantC: number
  intakeAirC: number
  lambda: number | null
  rpm: number
  faultFlags: string[]
  throttlePct: number
  sweep: SweepWatch
}

export const startWatch = (): SanityWatch => ({
  frames: 0,
  lastTimeS: 0,
  batteryV: NaN,
  mapKpa: NaN,
  coolantC: NaN,
  intakeAirC: NaN,
  lambda: null,
  rpm: 0,
  faultFlags: [],
  throttlePct: 0,
  sweep: startSweepWatch(),
})

const SMOOTH = 0.2
const COLD_ENGINE_C = 45

const blend = (old: number, next: number | null): number => (next === null ? old : Number.isNaN(old) ? next : old + (next - old) * SMOOTH)

/** Takes one frame into the watch; pure, so that a replayed log is watched the same way. */
export function observe(watch: SanityWatch, frame: Frame): SanityWatch {
  return {
    frames: watch.frames + 1,
    lastTimeS: frame.timeS,
    batteryV: blend(watch.batteryV, frame.batteryV),
    mapKpa: blend(watch.mapKpa, frame.mapKpa),
    coolantC: blend(watch.coolantC, frame.coolantC),
    intakeAirC: blend(watch.intakeAirC, frame.intakeAirC),
    lambda: frame.lambda,
    rpm: frame.rpm,
    faultFlags: frame.faultFlags,
    throttlePct: frame.throttlePct ?? NaN,
    sweep: frame.throttlePct === null ? watch.sweep : watchSweep(watch.sweep, { timeS: frame.timeS, pct: frame.throttlePct }),
  }
}

/** The checks as they stand; `waiting` means the car has not shown it yet. */
export function sanityChecks(watch: SanityWatch, facts: Facts): SanityCheck[] {
  const seenAny = watch.frames >= 10
  const decide = (known: boolean, good: boolean): SanityCheck['state'] => (!seenAny || !known ? 'waiting' : good ? 'pass' : 'fail')
  const station = facts.place?.barometerKpa
  const altitudeM = facts.place?.altitudeM
  const expectedKpa = station ?? standardAtmosphere.run({ altitudeM: altitudeM ?? 100 }).pressureKpa
  const toleranceKpa = station !== undefined ? STATION_KPA : ATMOSPHERE_KPA
  const cold = watch.coolantC < COLD_ENGINE_C
  const { done } = watch.sweep
  const thrown = sweepProblems(done)
  const n1 = (value: number) => (Number.isNaN(value) ? '–' : value.toFixed(1))
  const pressure = (value: number): Said => (Number.isNaN(value) ? '–' : say`${kPa(value, 1)}`)
  const warmth = (value: number): Said => (Number.isNaN(value) ? '–' : say`${degC(value, 1)}`)
  const allThere =
    watch.coolantC > -35 &&
    watch.coolantC < 115 &&
    watch.intakeAirC > -35 &&
    watch.intakeAirC < 60 &&
    (!cold || Math.abs(watch.coolantC - watch.intakeAirC) <= COLD_AGREE_K)
  const pressed =
    done.length < 2
      ? `${Number.isNaN(watch.throttlePct) ? '–' : watch.throttlePct.toFixed(0)} % now, ${done.length} of 2 presses`
      : thrown.length
        ? thrown.join('; ')
        : `${done.at(-1)!.restPct.toFixed(1)} to ${done.at(-1)!.topPct.toFixed(0)} %, smooth`
  return [
    check(
      'link',
      'Link up, engine still',
      decide(true, watch.rpm < 20),
      seenAny ? `${watch.frames} frames, ${watch.rpm.toFixed(0)} rpm` : 'no frames yet',
      'frames arriving, 0 rpm',
    ),
    check('battery', 'Battery', decide(true, watch.batteryV >= MIN_BATTERY_V), `${n1(watch.batteryV)} V`, `${MIN_BATTERY_V} V or more`),
    check(
      'map',
      'Manifold pressure reads the barometer',
      decide(true, Math.abs(watch.mapKpa - expectedKpa) <= toleranceKpa),
      pressure(watch.mapKpa),
      say`${kPa(expectedKpa, 1)} ± ${kPa(toleranceKpa, 1)} (${station !== undefined ? 'your barometer' : 'standard air at your altitude'})`,
    ),
    check(
      'temperatures',
      'Coolant and air agree',
      decide(true, allThere),
      say`coolant ${asSaying(warmth(watch.coolantC))}, air ${asSaying(warmth(watch.intakeAirC))}`,
      cold ? say`within ${{ value: COLD_AGREE_K, dimension: 'temperatureStep' }} on a cold engine` : 'both sensible on a warm engine',
    ),
    check(
      'throttle',
      'Throttle, two full sweeps',
      !seenAny || done.length < 2 ? 'waiting' : thrown.length === 0 ? 'pass' : 'fail',
      pressed,
      `shut under ${SHUT_PCT} %, open over ${OPEN_PCT} %, twice alike, no dead spot, no jump over ${MAX_JUMP_PCT} %`,
    ),
    check(
      'sensor',
      'Mixture sensor hot, reads free air',
      !seenAny || watch.lambda === null ? 'waiting' : watch.lambda > FREE_AIR_LAMBDA ? 'pass' : 'fail',
      watch.lambda === null ? 'heating' : say`${lambda(watch.lambda, 2)}`,
      say`over ${lambda(FREE_AIR_LAMBDA, 1)} in free air`,
    ),
    check(
      'flags',
      'No fault flags',
      decide(true, watch.faultFlags.length === 0),
      watch.faultFlags.map(flagTitle).join(', ') || 'none',
      'none',
    ),
  ]
}
