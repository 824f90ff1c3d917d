import { at, type Context, finding, readingsOf, type Rule, type TuneSummary } from '../kernel/index.ts'
import { PROVISIONAL_LIMIT_RPM, REV_LIMIT_FACTOR } from './limits.ts'
import { type TakingStep, takingSteps } from './taking-words.ts'

/** The limit to propose; null once the timing is proved, or where the tune's is no higher. */
export const provisionalLimit = (timingProved: boolean, revLimitRpm: number): number | null =>
  !timingProved && revLimitRpm > PROVISIONAL_LIMIT_RPM ? PROVISIONAL_LIMIT_RPM : null

export interface Taking {
  tune: TuneSummary | null
  step: TakingStep
  /** values that came back other than they were sent; null before it was read back */
  differences: number | null
  taken: boolean
  /** rev limit the unit told, rpm */
  revLimitRpm: number | null
}

/** Where the tune in the car stands. The steps count in order only: a store without a send, or a read-back without the key off between, proves nothing. */
export function tuneTaking(c: Context): Taking {
  const tune = c.build.tunes.find((t) => t.status === 'in-car') ?? null
  let step: TakingStep = 'edited'
  let differences: number | null = null
  let revLimitRpm: number | null = null
  const own = readingsOf(c.readings, 'tune.taking').filter((r) => r.value.tuneId === tune?.id)
  for (const { value, source } of own) {
    if (value.step === 'sent') [step, differences, revLimitRpm] = ['sent', null, null]
    else if (takingSteps.indexOf(value.step) === takingSteps.indexOf(step) + 1 || (value.step === 'read-back' && step === 'read-back')) {
      step = value.step
      if (value.step === 'read-back') {
        // read back with nothing compared says nothing, and a person's own count is no comparison
        differences = source === 'person' ? null : (value.differences ?? null)
        revLimitRpm = value.revLimitRpm ?? null
      }
    }
  }
  return { tune, step, differences, taken: step === 'read-back' && differences === 0, revLimitRpm }
}

/** The step to take next; null when the unit holds the tune. One that came back other than sent begins anew. */
export function nextTaking({ step, differences, taken }: Taking): Exclude<TakingStep, 'edited'> | null {
  if (taken) return null
  if (step === 'read-back' && differences === null) return 'read-back'
  return differences ? 'sent' : (takingSteps[takingSteps.indexOf(step) + 1] as Exclude<TakingStep, 'edited'>)
}

export const takingRules: Rule[] = [
  {
    id: 'start.tune-not-taken',
    where: at('start', 'taking'),
    check: (c) => {
      const { step, differences } = tuneTaking(c)
      return step === 'read-back' && differences !== null && differences > 0
        ? finding(
            'stop',
            'The unit did not keep the tune',
            `${differences} ${differences === 1 ? 'value' : 'values'} came back other than sent, after the key was off.`,
            'Send and store it again with a battery over 12 V, wait for the unit to say it has stored, then key off and read back. If it forgets again, the unit is at fault.',
          )
        : null
    },
  },
  {
    id: 'start.limit-stored',
    where: at('start', 'taking'),
    check: (c) => {
      const { revLimitRpm } = tuneTaking(c)
      const redline = c.resolved.redlineRpm
      return revLimitRpm !== null && revLimitRpm > REV_LIMIT_FACTOR * redline
        ? finding(
            'stop',
            'The rev limit in the unit is not this engine’s',
            `The unit told ${revLimitRpm} rpm; the engine’s is ${redline} rpm.`,
            'It was never set, or not stored. Send the tune again, store it, key off and on, read back.',
          )
        : null
    },
  },
]
