import { at, finding, readingsOf, type Rule } from '../../kernel/index.ts'
import { MUCH_JITTER_DEG } from '../limits.ts'

/** Degrees of jitter that the reference window already allows for. */
const ALLOWED_JITTER_DEG = 2

export const scopeRules: Rule[] = [
  {
    id: 'spark.scope',
    where: at('spark', 'scope'),
    check: (c) => {
      const scope = readingsOf(c.readings, 'spark.scope').at(-1)?.value
      if (!scope) return null
      if (scope.counted && c.spark.wheel)
        return finding(
          'stop',
          'The wheel is not the one that was told',
          `Between two gaps the record has ${scope.counted.places} places with ${scope.counted.missing} missing; told are ${c.spark.wheel.teeth ?? '?'} with ${c.spark.wheel.missing ?? 0}: every speed and angle would be wrong by that.`,
          'Count the wheel again, and set plan and unit to what is there.',
        )
      const at = `${scope.pulses} pulses at ${scope.rpm.toFixed(0)} rpm`
      if (scope.missing > 0)
        return finding(
          'stop',
          'Pulses are missing',
          `${scope.missing} missing, ${at}.`,
          'Look for a broken or dirty target, a gap too large, or a threshold over the signal. Then look again.',
        )
      if (scope.extra > 0)
        return finding(
          'stop',
          'There are pulses too many',
          `${scope.extra} extra, ${at}: the unit would count more speed than there is and spark at the wrong moment.`,
          'Noise from plug leads, a second edge, or a nick in the wheel: shield, threshold, wheel. Then look again.',
        )
      if (scope.jitterDeg !== null && scope.jitterDeg > MUCH_JITTER_DEG)
        return finding(
          scope.jitterDeg > ALLOWED_JITTER_DEG ? 'stop' : 'warn',
          'The pulses scatter',
          `${scope.jitterDeg.toFixed(1)}° rms at the crank, ${at}.`,
          'A worn drive, shaft or bush; a loose pick-up; a wheel out of true. A trigger at the crank is free of the drive.',
        )
      return null
    },
  },
  {
    id: 'spark.scope-polarity',
    where: at('spark', 'scope'),
    check: (c) => {
      const scope = readingsOf(c.readings, 'spark.scope').at(-1)?.value
      if (scope?.polarity === 'unknown' && scope.unsure)
        return finding(
          'note',
          'The scope does not tell the polarity',
          `${scope.unsure.charAt(0).toUpperCase()}${scope.unsure.slice(1)}.`,
          'Prove it another way: light or lamp at a known tooth, or the angle that a light shows against the marks at two speeds.',
        )
      return scope?.polarity === 'reversed'
        ? finding(
            'stop',
            'On the scope the signal passes the target the wrong way',
            'A magnetic pulse must fall steeply through zero; a square one must change as its output was said to.',
            'Change the two wires of a magnetic pick-up over, or the edge in the unit. Then look again.',
          )
        : null
    },
  },
]
