import { at, type Context, finding, latest, type Rule } from '../kernel/index.ts'
import { THRESHOLD_RATIO } from './limits.ts'

/**
 * Threshold between noise and signal, V: the geometric mean stands the same ratio from both.
 * @returns clear tells how many times the threshold stands over the noise, and the signal over the threshold
 */
export function thresholdFor(noiseV: number, crankingV: number): { thresholdV: number; clear: number } {
  const thresholdV = Math.sqrt(noiseV * crankingV)
  return { thresholdV, clear: thresholdV > 0 ? crankingV / thresholdV : 0 }
}

/** Knock frequencies of a bore, kHz: first circumferential mode and the two next. Source: Draper (1938), about 900 / (pi r) with r in mm. */
export function knockFrequenciesKhz(boreMm: number): [number, number, number] {
  const first = 900 / ((Math.PI * boreMm) / 2)
  return [first, 1.66 * first, 2.08 * first]
}

export type IgnitionUse = 'usable' | 'modify' | 'replace'
/** What the ignition now fitted is good for, as a speed signal and for timing control, with why (handbook 03). */
export const ignitionUses: Record<
  NonNullable<NonNullable<Context['facts']['ignition']>['kind']>,
  { signal: [IgnitionUse, string]; control: [IgnitionUse, string] }
> = {
  points: {
    signal: ['modify', 'bounce is filtered at the unit'],
    control: ['replace', 'they bounce and wear: the pulse wanders by degrees'],
  },
  'electronic-inductive': {
    signal: ['usable', 'from coil negative'],
    control: ['replace', 'its module keeps the dwell and often the advance to itself'],
  },
  magnetic: {
    signal: ['usable', 'from coil negative or the pick-up'],
    control: ['modify', 'weights and plate locked so that nothing moves'],
  },
  hall: { signal: ['usable', 'a clean square wave'], control: ['usable', 'where its window suits; advance locked'] },
  capacitive: {
    signal: ['modify', 'tach output only: the coil carries hundreds of volts'],
    control: ['modify', 'the unit triggers the box; the box keeps its energy'],
  },
  'crank-trigger': { signal: ['usable', 'the most exact'], control: ['usable', 'with cam sync a coil for each cylinder'] },
}

export const signalRules: Rule[] = [
  {
    id: 'spark.threshold',
    where: at('spark', 'trigger'),
    check: (c) => {
      const scope = latest(c.readings, 'spark.signal')
      if (!scope) return null
      const { thresholdV, clear } = thresholdFor(scope.value.noiseV, scope.value.crankingV)
      return clear < THRESHOLD_RATIO
        ? finding(
            'warn',
            'The pick-up signal stands close to its noise',
            `${scope.value.crankingV} V cranking over ${scope.value.noiseV} V noise: a threshold of ${thresholdV.toFixed(2)} V is only ${clear.toFixed(1)} times clear, ${THRESHOLD_RATIO} wanted.`,
            'Smaller air gap, twisted pair, shield grounded at one end, away from plug leads. Then measure again.',
          )
        : null
    },
  },
  {
    id: 'spark.ignition-use',
    where: at('spark', 'trigger'),
    check: ({ facts, spark }) => {
      const kind = facts.ignition?.kind
      if (!kind || spark.trigger !== 'speed-signal') return null
      const [use, why] = ignitionUses[kind].signal
      return use === 'modify'
        ? finding(
            'note',
            'The signal of this ignition needs care',
            `${kind.replace('-', ' ')}: ${why}.`,
            'Take it from there and nowhere else.',
          )
        : null
    },
  },
]
