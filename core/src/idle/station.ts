import { at, type Context, latest, proved, type Requirement, station } from '../kernel/index.ts'
import { idleEntries, type Regime, regimeWords } from './entries.ts'
import { idleRules, learnsIdle } from './findings.ts'
import { goodIdle, warmDays } from './history.ts'
import { WARM_IDLES } from './limits.ts'

/** The idle judged good in a regime, on what is in the car now: what this station gives to those behind it. */
export function idleRequirement(c: Context, regime: Regime): Requirement {
  const good = goodIdle(c, regime)
  return {
    id: regime === 'neutral' ? 'idle-good' : `idle-${regime}`,
    proof: ['idle.verdict'],
    met: good !== null && good.changed.length === 0,
    action:
      good === null
        ? `Let it idle warm, ${regimeWords[regime]}, for a minute, and have it judged`
        : good.changed.length
          ? `Have the idle judged again, ${regimeWords[regime]}: the tune in the car idles otherwise than the one that was judged`
          : '',
    where: at('idle', 'trace'),
  }
}

function requirements(c: Context & { resolved: { automatic: boolean } }): Requirement[] {
  const days = warmDays(c.readings)
  return [
    {
      id: 'zero',
      proof: ['idle.zero'],
      met: proved(c, 'idle.zero') !== null,
      action: 'Learn the throttle’s zero, and see that a shut throttle reads 0',
      where: at('idle', 'air'),
    },
    {
      id: 'leak-test',
      proof: ['idle.leak-test'],
      met: proved(c, 'idle.leak-test') !== null,
      action: 'Look for vacuum leaks: hoses one at a time, or smoke',
      where: at('idle', 'leaks'),
    },
    idleRequirement(c, 'neutral'),
    ...(c.resolved.automatic ? [idleRequirement(c, 'in-gear')] : []),
    idleRequirement(c, 'loads'),
    ...(learnsIdle(c)
      ? [
          {
            id: 'idle-days',
            met: days.agree,
            action: `Have the warm idle judged on ${WARM_IDLES} different days (${days.days} so far): a learned idle is believed when they agree`,
            where: at('idle', 'days'),
          },
          {
            id: 'battery-off',
            proof: ['idle.battery-off'],
            met: proved(c, 'idle.battery-off') !== null,
            action: 'Battery off and on again, warm it up, and see that the idle comes back',
            where: at('idle', 'days'),
          },
        ]
      : []),
  ]
}

export const idle = station({
  id: 'idle',
  number: 9,
  title: 'Idle',
  question: 'Where does its idle air come from, and does it hold its speed whatever is on?',
  key: 'i',
  after: ['start'],
  entries: idleEntries,
  rules: idleRules,
  requirements,
  cautions: ['moving', 'leak-spray', 'in-gear'],
  contributes: {
    tasks: (c) => [
      {
        id: 'idle',
        title: 'Idle set',
        station: 'idle',
        kind: 'work',
        base: 1,
        after: ['first-start'],
        provenDone: goodIdle(c, 'neutral') ? latest(c.readings, 'idle.verdict')?.takenAt : undefined,
      },
    ],
  },
})
