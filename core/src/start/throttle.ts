import { at, type Context, type EntryTable, finding, latest, type Rule } from '../kernel/index.ts'
import type { TuneParameters } from '../tune/index.ts'
import { OPEN_PCT, SHUT_PCT } from './limits.ts'
import type { ThrottleSweep } from './throttle-sweep.ts'

/**
 * Volts of the throttle's ends as two presses showed them, told from the percentages by the ends the tune has now.
 * @returns null when nothing was pressed or the tune's ends are right already
 */
export function throttleEnds(
  c: Pick<Context, 'readings'>,
  p: Pick<TuneParameters, 'throttleShutV' | 'throttleOpenV'>,
): { throttleShutV: number; throttleOpenV: number } | null {
  const seen = latest(c.readings, 'start.throttle')?.value
  if (!seen || (seen.shutPct <= SHUT_PCT && seen.shutPct >= -SHUT_PCT && seen.openPct >= OPEN_PCT)) return null
  const volts = (pct: number) => Math.round((p.throttleShutV + (pct / 100) * (p.throttleOpenV - p.throttleShutV)) * 100) / 100
  return { throttleShutV: volts(seen.shutPct), throttleOpenV: volts(seen.openPct) }
}

/** What two presses are written down as. */
export function throttleReading([a, b]: [ThrottleSweep, ThrottleSweep], problems: readonly string[]): EntryTable['start.throttle'] {
  const tenth = (value: number) => Math.round(value * 10) / 10
  return {
    shutPct: tenth(b.restPct),
    openPct: tenth(Math.min(a.topPct, b.topPct)),
    largestJumpPct: tenth(Math.max(a.largestJumpPct, b.largestJumpPct)),
    deadSpotsPct: [...new Set([...a.deadSpotsPct, ...b.deadSpotsPct])],
    problems: problems.map((p) => p.slice(0, 200)),
  }
}

export const throttleRules: Rule[] = [
  {
    id: 'start.throttle',
    where: at('start', 'key'),
    check: (c) => {
      const seen = latest(c.readings, 'start.throttle')?.value
      if (!seen?.problems.length) return null
      const worn = seen.deadSpotsPct.length > 0
      return finding(
        worn ? 'stop' : 'warn',
        worn ? 'The throttle sensor is worn' : 'The throttle does not do the same twice',
        `Two presses: ${seen.problems.join('; ')}.`,
        worn
          ? 'Its plug and wires first; then another sensor. A spot that reads shut cuts the fuel there.'
          : 'Pedal, cable, carpet and stops first; then take the ends into the tune at Base tune, or learn the zero. Press twice again.',
      )
    },
  },
]
