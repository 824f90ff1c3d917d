import { at, type Context, finding, type Gate, kPa, readingsOf, type Rule, say, type Saying, tuneInCar } from '../../kernel/index.ts'
import { controlsTiming, currentTiming, TIMING_PROVED_DEG } from '../../spark/index.ts'
import { currentLearn } from '../current.ts'
import { UNSAFE_BAROMETER_SHARE } from '../limits.ts'
import { KNOCK_BACK_DEG } from './limits.ts'
import { firstKnockDeg, judgeTrial, type Trial, type TrialPoint, underKnockDeg } from './trial.ts'

/** A trial as it stands: a held speed and load of the tune now in the car, with its holds. */
export interface TrialAt {
  rpm: number
  mapKpa: number
  mapDeg: number
  trial: Trial
}

interface HeldAt extends Omit<TrialAt, 'trial'> {
  points: TrialPoint[]
}
/** Holds on the tune now in the car by their place, the one held last first. */
function heldAt(c: Context): HeldAt[] {
  const tune = tuneInCar(c.build)
  const places = new Map<string, HeldAt>()
  for (const { value } of readingsOf(c.readings, 'learn.trial-point')) {
    if (value.tuneId !== tune?.id) continue
    const { rpm, mapKpa, mapDeg } = value
    const key = `${rpm} ${mapKpa}`
    const place = places.get(key) ?? { rpm, mapKpa, mapDeg, points: [] }
    places.delete(key)
    places.set(key, place)
    place.points.push(value)
  }
  return [...places.values()].toReversed()
}
const judged = ({ points, ...place }: HeldAt): TrialAt => ({ ...place, trial: judgeTrial(points, place.mapDeg) })

/** Trials on the tune now in the car, the one held last first. */
export const trialsOf = (c: Context): TrialAt[] => heldAt(c).map(judged)

/** Why no hold may be made on a road there; null: a grade will do. */
export const dynoOnly = (c: Context, mapKpa: number): Saying | null =>
  mapKpa > UNSAFE_BAROMETER_SHARE * c.resolved.barometerKpa
    ? say`${kPa(mapKpa)} is high load: on a dynamometer only, with the engine cooled between holds`
    : null

/** What must be known before the spark is moved under load: a late or lean engine is burnt by it. */
export function trialGates(c: Context): Gate[] {
  const timing = currentTiming(c)
  const timed = timing !== null && timing.enough && timing.worstErrorDeg <= TIMING_PROVED_DEG
  const learned = currentLearn(c)?.value
  const lean = learned?.unsafeCells ?? 0
  const mixed = learned !== undefined && !learned.suspect && lean === 0
  return [
    {
      id: 'trial-timing',
      label: 'Timing proved with the light',
      met: timed,
      why: timed
        ? 'the spark comes where the unit commands it'
        : 'read the timing with a light first: an unknown offset is added to every hold',
      station: 'spark',
    },
    {
      id: 'trial-mixture',
      label: 'Mixture of this tune known and not lean',
      met: mixed,
      why: mixed
        ? 'the last log on this tune is sound, and no cell is lean under load'
        : lean
          ? `${lean} ${lean === 1 ? 'cell reads' : 'cells read'} lean at high load`
          : 'bring a log of this tune first: a lean cell knocks early and melts',
      station: 'learn',
    },
  ]
}
/** Whether a spark trial makes sense on this car: the unit must time the spark. */
export const mayTrial = (c: Context): boolean => controlsTiming(c)

export const trialRules: Rule[] = [
  {
    id: 'learn.trial-knock',
    where: at('learn', 'spark'),
    check: (c) => {
      const knocked = heldAt(c)
        .map(({ points, ...place }) => ({ ...place, knockDeg: firstKnockDeg(points) }))
        .find((t) => t.knockDeg !== null && underKnockDeg(t.knockDeg) < Math.floor(t.mapDeg))
      if (!knocked) return null
      return finding(
        'stop',
        'It knocks at the advance of the map, or close over it',
        say`At ${knocked.rpm.toFixed(0)} rpm, ${kPa(knocked.mapKpa)} it knocked at ${knocked.knockDeg!.toFixed(0)}°; the map holds ${knocked.mapDeg.toFixed(0)}°, and ${KNOCK_BACK_DEG}° under the first knock is wanted.`,
        `Take ${underKnockDeg(knocked.knockDeg!).toFixed(0)}° into the map and put that version in the car before it is driven hard.`,
      )
    },
  },
  {
    id: 'learn.trial-on-road',
    where: at('learn', 'spark'),
    check: (c) => {
      const tune = tuneInCar(c.build)
      const road = readingsOf(c.readings, 'learn.trial-point').find(
        (r) => r.value.tuneId === tune?.id && r.value.on === 'grade' && dynoOnly(c, r.value.mapKpa),
      )
      return road
        ? finding(
            'warn',
            'A spark trial at high load was held on a road',
            say`${road.value.rpm.toFixed(0)} rpm, ${dynoOnly(c, road.value.mapKpa)!}.`,
            'Knock is not heard over the road, and the engine is not cooled. Repeat it on a dynamometer.',
          )
        : null
    },
  },
]
