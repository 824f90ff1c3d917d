import { standardAtmosphere } from '../air/index.ts'
import type { Facts } from '../survey/index.ts'
import { flagTitle } from './flag-kinds.ts'
import type { Frame } from './frame.ts'
import { ATMOSPHERE_KPA, COLD_AGREE_K, MAX_JUMP_PCT, MIN_BATTERY_V, OPEN_PCT, SHUT_PCT, STATION_KPA } from './limits.ts'
import { startSweepWatch, sweepProblems, type SweepWatch, watchSweep } from './throttle-sweep.ts'

/** What the app watches by itself with the key on and the engine off (handbook 06, step 2). */
export interface SanityCheck {
  id: string
  label: string
  state: 'pass' | 'fail' | 'waiting'
  seen: string
  limit: string
}

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
  const n1 = (value: number) => (Number.isNaN(value) ? '–' : value.toFixed(1))
  const cold = watch.coolantC < COLD_ENGINE_C
  const { done } = watch.sweep
  const thrown = sweepProblems(done)
  return [
    {
      id: 'link',
      label: 'Link up, engine still',
      state: decide(true, watch.rpm < 20),
      seen: seenAny ? `${watch.frames} frames, ${watch.rpm.toFixed(0)} rpm` : 'no frames yet',
      limit: 'frames arriving, 0 rpm',
    },
    {
      id: 'battery',
      label: 'Battery',
      state: decide(true, watch.batteryV >= MIN_BATTERY_V),
      seen: `${n1(watch.batteryV)} V`,
      limit: `${MIN_BATTERY_V} V or more`,
    },
    {
      id: 'map',
      label: 'Manifold pressure reads the barometer',
      state: decide(true, Math.abs(watch.mapKpa - expectedKpa) <= toleranceKpa),
      seen: `${n1(watch.mapKpa)} kPa`,
      limit: `${expectedKpa.toFixed(1)} ± ${toleranceKpa} kPa (${station !== undefined ? 'your barometer' : 'standard air at your altitude'})`,
    },
    {
      id: 'temperatures',
      label: 'Coolant and air agree',
      state: decide(
        true,
        watch.coolantC > -35 &&
          watch.coolantC < 115 &&
          watch.intakeAirC > -35 &&
          watch.intakeAirC < 60 &&
          (!cold || Math.abs(watch.coolantC - watch.intakeAirC) <= COLD_AGREE_K),
      ),
      seen: `coolant ${n1(watch.coolantC)} °C, air ${n1(watch.intakeAirC)} °C`,
      limit: cold ? `within ${COLD_AGREE_K} °C on a cold engine` : 'both sensible on a warm engine',
    },
    {
      id: 'throttle',
      label: 'Throttle, two full sweeps',
      state: !seenAny || done.length < 2 ? 'waiting' : thrown.length === 0 ? 'pass' : 'fail',
      seen:
        done.length < 2
          ? `${Number.isNaN(watch.throttlePct) ? '–' : watch.throttlePct.toFixed(0)} % now, ${done.length} of 2 presses`
          : thrown.length
            ? thrown.join('; ')
            : `${done.at(-1)!.restPct.toFixed(1)} to ${done.at(-1)!.topPct.toFixed(0)} %, smooth`,
      limit: `shut under ${SHUT_PCT} %, open over ${OPEN_PCT} %, twice alike, no dead spot, no jump over ${MAX_JUMP_PCT} %`,
    },
    {
      id: 'sensor',
      label: 'Mixture sensor hot, reads free air',
      state: !seenAny || watch.lambda === null ? 'waiting' : watch.lambda > 1.8 ? 'pass' : 'fail',
      seen: watch.lambda === null ? 'heating' : `lambda ${watch.lambda.toFixed(2)}`,
      limit: 'lambda over 1.8 in free air',
    },
    {
      id: 'flags',
      label: 'No fault flags',
      state: decide(true, watch.faultFlags.length === 0),
      seen: watch.faultFlags.map(flagTitle).join(', ') || 'none',
      limit: 'none',
    },
  ]
}
