import type { Frame } from '../bench/rig.ts'
import { standardAtmosphere } from '../air/standard-atmosphere.ts'
import type { Facts } from '../survey/facts.ts'

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
  sweep: { rising: boolean; top: number; jumpPct: number; tops: number[]; restsPct: number[] }
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
  sweep: { rising: false, top: 0, jumpPct: 0, tops: [], restsPct: [] },
})

const SMOOTH = 0.2
const SHUT_PCT = 2
const OPEN_PCT = 97
const MAX_JUMP_PCT = 25
const MIN_BATTERY_V = 12.2
const STATION_KPA = 2.5
const ATMOSPHERE_KPA = 5
const COLD_AGREE_K = 5
const COLD_ENGINE_C = 45

const blend = (old: number, next: number): number => (Number.isNaN(old) ? next : old + (next - old) * SMOOTH)

/** Takes one frame into the watch; pure, so that a replayed log is watched the same way. */
export function observe(watch: SanityWatch, frame: Frame): SanityWatch {
  const sweep = { ...watch.sweep, tops: watch.sweep.tops, restsPct: watch.sweep.restsPct }
  const step = Math.abs(frame.throttlePct - watch.throttlePct)
  if (watch.frames > 0 && sweep.rising) sweep.jumpPct = Math.max(sweep.jumpPct, step)
  if (!sweep.rising && frame.throttlePct > SHUT_PCT) Object.assign(sweep, { rising: true, top: frame.throttlePct, jumpPct: 0 })
  else if (sweep.rising) {
    sweep.top = Math.max(sweep.top, frame.throttlePct)
    if (frame.throttlePct <= SHUT_PCT) {
      if (sweep.top >= OPEN_PCT) {
        sweep.tops = [...sweep.tops, sweep.top].slice(-4)
        sweep.restsPct = [...sweep.restsPct, frame.throttlePct].slice(-4)
      }
      sweep.rising = false
    }
  }
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
    throttlePct: frame.throttlePct,
    sweep,
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
  const { tops, restsPct } = watch.sweep
  const twoAgree =
    tops.length >= 2 &&
    Math.abs(tops[tops.length - 1] - tops[tops.length - 2]) <= 1 &&
    Math.abs(restsPct[restsPct.length - 1] - restsPct[restsPct.length - 2]) <= 1
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
      state: !seenAny || tops.length < 2 ? 'waiting' : twoAgree && watch.sweep.jumpPct <= MAX_JUMP_PCT ? 'pass' : 'fail',
      seen: `${watch.throttlePct.toFixed(0)} % now, ${tops.length} sweep${tops.length === 1 ? '' : 's'}${tops.length ? `, last top ${tops[tops.length - 1].toFixed(0)} %` : ''}`,
      limit: `shut under ${SHUT_PCT} %, open over ${OPEN_PCT} %, twice alike, no jump over ${MAX_JUMP_PCT} %`,
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
      seen: watch.faultFlags.join(', ') || 'none',
      limit: 'none',
    },
  ]
}
