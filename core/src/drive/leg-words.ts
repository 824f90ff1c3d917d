import { kmh, kPa, type Said, say } from '../kernel/index.ts'
import type { PlannedLeg } from './plan.ts'

const ENDINGS = ['th', 'st', 'nd', 'rd']
const ordinal = (n: number): string => `${n}${ENDINGS[n] ?? 'th'}`
const slopeWords = (gradePct: number): string =>
  gradePct === 0 ? '' : gradePct > 0 ? `, up a climb of ${gradePct} %` : `, down a slope of ${-gradePct} %`

/** What to do on a leg, as it is read out and printed. */
export function legSays(leg: Pick<PlannedLeg, 'kind' | 'gear' | 'fromKmh' | 'toKmh' | 'gradePct' | 'load' | 'by' | 'passes'>): Said {
  const { kind, gear, fromKmh, toKmh, gradePct, load, by, passes } = leg
  if (kind === 'idle') return 'Stand, out of gear, and let it idle'
  const where = `${ordinal(gear)} gear`
  const slope = slopeWords(gradePct)
  if (kind === 'hold') return say`${where}, hold ${kmh(fromKmh)}${slope}`
  const near = by === 'pressure' ? say`${kPa(load)}` : `${load.toFixed(0)} % of throttle`
  const times = passes > 1 ? `, ${passes} times` : ''
  return say`${where}, ${kind === 'run-up' ? 'up' : 'down'} from ${kmh(fromKmh)} to ${kmh(toKmh)} with a still foot, near ${near}${slope}${times}`
}
