import {
  at,
  type Context,
  type EntryKind,
  finding,
  readingsOf,
  type Requirement,
  type Rule,
  spaced,
  type StoredReading,
  type Where,
} from '../../kernel/index.ts'
import { mayTrial } from '../trial/index.ts'
import { LEAN_LAMBDA, RICH_LAMBDA, OPENED_PCT, SURGE_RPM } from './limits.ts'
import { UNSAFE_BAROMETER_SHARE } from '../limits.ts'
import type { Moment } from './moment.ts'

/** What can be felt, heard or smelt, in the words on its button. */
export const feltKinds = { ping: 'Ping', stumble: 'Stumble', surge: 'Surge', smell: 'Smell of fuel', miss: 'Miss' } as const
export type FeltKind = keyof typeof feltKinds

/** Where a moment leads: what the instruments make of it, the next test, and what may close it. */
export interface FeltLead {
  seen: string
  test: string
  where: Where
  /** kinds of entry, taken since, that say that it is gone or what it was */
  closes: readonly EntryKind[]
}
const place = (m: Moment): string => `${m.rpm.toFixed(0)} rpm${m.mapKpa === null ? '' : `, ${m.mapKpa.toFixed(0)} kPa`}`

function stumbleLead(m: Moment): FeltLead {
  const stepped = m.stepPct !== null && m.stepPct >= OPENED_PCT
  const lean = m.leanLambda !== null && m.leanLambda > LEAN_LAMBDA
  const rich = m.richLambda !== null && m.richLambda > RICH_LAMBDA
  const closes = ['learn.result'] as const
  if (stepped && (lean || rich))
    return {
      seen: `the foot opened by ${m.stepPct!.toFixed(0)} % and it went ${lean ? 'lean' : 'rich'} by ${(lean ? m.leanLambda! : m.richLambda!).toFixed(2)} lambda`,
      test: `${lean ? 'More' : 'Less'} fuel for acceleration, a fifth at a time; one change, then the same step again.`,
      where: at('tune', 'parameters', 'accelPctPer100'),
      closes,
    }
  if (!stepped && m.stepPct !== null && lean)
    return {
      seen: `with a still foot it was lean by ${m.leanLambda!.toFixed(2)} lambda`,
      test: 'That is the table at this place, or fuel that does not arrive: drive it steadily there, and read the pressure under load.',
      where: at('learn', 'drive'),
      closes,
    }
  if (m.stepPct === null || m.leanLambda === null)
    return {
      seen: `the log does not tell the ${m.stepPct === null ? 'throttle' : 'mixture'}`,
      test: 'Mark it again with throttle and lambda in the log: without both nothing is told.',
      where: at('learn', 'log'),
      closes,
    }
  return {
    seen: stepped ? 'the foot opened and the mixture stayed where it was wanted' : 'neither foot nor mixture moved much',
    test: stepped
      ? 'Not fuel: look at the spark there, and at a plate that sticks.'
      : 'Nothing that was measured shows it: look at plugs, leads and mounts, and mark it again when it comes.',
    where: stepped ? at('learn', 'spark') : at('start', 'cylinders'),
    closes: [...closes, 'start.cylinders'],
  }
}
const leads: Readonly<Record<FeltKind, (m: Moment, c: Context) => FeltLead>> = {
  ping: (m, c) => ({
    seen: `spark at ${m.advanceDegBtdc === null ? 'an advance that the log does not tell' : `${m.advanceDegBtdc.toFixed(0)}°`}${m.leanLambda !== null && m.leanLambda > LEAN_LAMBDA ? `, and lean by ${m.leanLambda.toFixed(2)} lambda` : ''}`,
    test:
      m.leanLambda !== null && m.leanLambda > LEAN_LAMBDA
        ? 'Lean first: bring the mixture right there, then listen again before the spark is touched.'
        : 'Draw the spark back by 4° there before it is driven hard again; then a spark trial at that place says how much it bears.',
    where: mayTrial(c) ? at('learn', 'spark') : at('spark', 'light'),
    closes: ['learn.trial-point', 'learn.result', 'spark.moved'],
  }),
  stumble: stumbleLead,
  surge: (m) => ({
    seen: `the speed came and went by ${m.hunts.toFixed(0)} rpm${m.hunts < SURGE_RPM ? ', which is little' : ''}${m.leanLambda !== null && m.leanLambda > LEAN_LAMBDA ? `, lean by up to ${m.leanLambda.toFixed(2)} lambda` : ''}`,
    test:
      m.leanLambda !== null && m.leanLambda > LEAN_LAMBDA
        ? 'Lean at a light load surges: hold it there steadily and bring the log.'
        : 'The mixture held: look at a closed loop that is too quick, at misfire, and at the idle if it is near it.',
    where: at('learn', 'drive'),
    closes: ['learn.result', 'idle.verdict'],
  }),
  smell: () => ({
    seen: 'a smell of fuel is a leak until it is found to be none',
    test: 'Engine off, no flame, no key: every joint by hand and with a light, cold and hot, before it runs again.',
    where: at('fuel', 'proof', 'fuel.leak-check'),
    closes: ['fuel.leak-check', 'fuel.recheck'],
  }),
  miss: (m) => ({
    seen:
      m.leanLambda !== null && m.leanLambda > LEAN_LAMBDA
        ? `the sensor read lean by ${m.leanLambda.toFixed(2)} lambda: a charge that did not burn reads so too`
        : 'the mixture read as wanted',
    test: 'Find the cylinder: feel each port after an idle, or take them out one by one; then its plug, lead and injector.',
    where: at('start', 'cylinders'),
    closes: ['start.cylinders'],
  }),
}

type Felt = StoredReading<'learn.felt'>
/** Moments that nobody has closed, oldest first. */
export function openFelt(c: Pick<Context, 'readings'>): Felt[] {
  const closed = new Set(readingsOf(c.readings, 'learn.felt-closed').map((r) => r.value.feltId))
  return readingsOf(c.readings, 'learn.felt').filter((r) => !closed.has(r.id))
}
export const feltLead = (felt: Felt['value'], c: Context): FeltLead => leads[felt.what](felt.moment, c)
/** Entries taken since it was felt that may close it. */
export function closers(c: Context, felt: Felt): StoredReading[] {
  const { closes } = feltLead(felt.value, c)
  return c.readings.slice(c.readings.findIndex((r) => r.id === felt.id) + 1).filter((r) => closes.includes(r.kind))
}
export const feltSays = ({ what, moment }: Felt['value']): string => `${feltKinds[what]} at ${place(moment)}`

export const feltRules: Rule[] = [
  {
    id: 'learn.felt',
    where: at('learn', 'log', 'learn.felt'),
    check: (c) => {
      const open = openFelt(c)
      const worst = open.find((f) => f.value.what === 'smell') ?? open.find((f) => f.value.what === 'ping') ?? open[0]
      if (!worst) return null
      const { what, moment } = worst.value
      const hard = what === 'ping' && (moment.mapKpa ?? 0) > UNSAFE_BAROMETER_SHARE * c.resolved.barometerKpa
      const lead = feltLead(worst.value, c)
      return finding(
        what === 'smell' || hard ? 'stop' : 'warn',
        open.length === 1
          ? `${feltSays(worst.value)} is not settled`
          : `${feltSays(worst.value)}, and ${open.length - 1} more, are not settled`,
        `${lead.seen}.`.replace(/^./, (x) => x.toUpperCase()),
        lead.test,
        what === 'smell' ? lead.where : undefined,
      )
    },
  },
]
/** What was felt must be closed with a reading before the station is cleared. */
export function feltRequirement(c: Context): Requirement {
  const open = openFelt(c)
  return {
    id: 'felt',
    met: open.length === 0,
    action: open.length ? `Settle what was felt: ${feltSays(open[0].value).toLowerCase()}` : 'Settle what was felt',
    where: at('learn', 'log', 'learn.felt'),
  }
}
export const closerWords = (r: StoredReading): string => `${spaced(r.kind.split('.')[1])}, ${r.takenAt.slice(0, 10)}`
