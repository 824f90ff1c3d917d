import {
  asSaying,
  at,
  type Context,
  type EntryKind,
  finding,
  kPa,
  readingsOf,
  type Requirement,
  type Rule,
  type Said,
  say,
  type Saying,
  type StoredReading,
  type Where,
} from '../../kernel/index.ts'
import { KNOCK_BACK_DEG, mayTrial } from '../trial/index.ts'
import { LEAN_LAMBDA, RICH_LAMBDA, OPENED_PCT, SURGE_RPM } from './limits.ts'
import { UNSAFE_BAROMETER_SHARE } from '../limits.ts'
import type { Moment } from './moment.ts'

/** What can be felt, heard or smelt, in the words on its button. */
export const feltKinds = { ping: 'Ping', stumble: 'Stumble', surge: 'Surge', smell: 'Smell of fuel', miss: 'Miss' } as const
export type FeltKind = keyof typeof feltKinds

/** Where a moment leads: what the instruments make of it, the next test, and what may close it. */
export interface FeltLead {
  seen: Said
  test: string
  where: Where
  /** kinds of entry, taken since, that say that it is gone or what it was */
  closes: readonly EntryKind[]
}
const lambda = (value: number): string => `${value.toFixed(2)} lambda`
/** How far it was leaner than is felt, lambda; null: it was not, or nothing told it. */
const leanBy = ({ leanLambda }: Moment): number | null => (leanLambda !== null && leanLambda > LEAN_LAMBDA ? leanLambda : null)
const richBy = ({ richLambda }: Moment): number | null => (richLambda !== null && richLambda > RICH_LAMBDA ? richLambda : null)

function stumbleLead(m: Moment): FeltLead {
  const stepped = m.stepPct !== null && m.stepPct >= OPENED_PCT
  const [lean, rich] = [leanBy(m), richBy(m)]
  const closes = ['learn.result'] as const
  if (stepped && (lean ?? rich) !== null)
    return {
      seen: `the foot opened by ${m.stepPct!.toFixed(0)} % and it went ${lean !== null ? `lean by ${lambda(lean)}` : `rich by ${lambda(rich!)}`}`,
      test: `${lean !== null ? 'More' : 'Less'} fuel for acceleration: drive throttle steps, which tell how much; one change, then the same step again.`,
      where: at('learn', 'log', 'throttle-steps'),
      closes,
    }
  if (m.stepPct === null || m.leanLambda === null)
    return {
      seen: `the log does not tell the ${m.stepPct === null ? 'throttle' : 'mixture'}`,
      test: 'Mark it again with throttle and lambda in the log: without both nothing is told.',
      where: at('learn', 'log'),
      closes,
    }
  if (lean !== null)
    return {
      seen: `with a still foot it was lean by ${lambda(lean)}`,
      test: 'That is the table at this place, or fuel that does not arrive: drive it steadily there, and read the pressure under load.',
      where: at('learn', 'drive'),
      closes,
    }
  return {
    seen: stepped ? 'the foot opened and the mixture stayed where it was wanted' : 'neither foot nor mixture moved much',
    test: stepped
      ? 'Not fuel: look at the spark there, and at a plate that sticks.'
      : 'Nothing that was measured shows it: look at plugs, leads and mounts, and mark it again when it comes.',
    where: stepped ? at('learn', 'spark') : at('start', 'crank'),
    closes: [...closes, 'start.cylinders'],
  }
}
function pingLead(m: Moment, c: Context): FeltLead {
  const lean = leanBy(m)
  const advance = m.advanceDegBtdc === null ? 'an advance that the log does not tell' : `${m.advanceDegBtdc.toFixed(0)}°`
  return {
    seen: `spark at ${advance}${lean === null ? '' : `, and lean by ${lambda(lean)}`}`,
    test:
      lean === null
        ? `Draw the spark back by ${KNOCK_BACK_DEG}° there before it is driven hard again; then a spark trial at that place says how much it bears.`
        : 'Lean first: bring the mixture right there, then listen again before the spark is touched.',
    where: mayTrial(c) ? at('learn', 'spark') : at('spark', 'light'),
    closes: ['learn.trial-point', 'learn.result', 'spark.moved'],
  }
}
function surgeLead(m: Moment): FeltLead {
  const lean = leanBy(m)
  return {
    seen: `the speed came and went by ${m.hunts.toFixed(0)} rpm${m.hunts < SURGE_RPM ? ', which is little' : ''}${lean === null ? '' : `, lean by up to ${lambda(lean)}`}`,
    test:
      lean === null
        ? 'The mixture held: look at a closed loop that is too quick, at misfire, and at the idle if it is near it.'
        : 'Lean at a light load surges: hold it there steadily and bring the log.',
    where: at('learn', 'drive'),
    closes: ['learn.result', 'idle.verdict'],
  }
}
function missLead(m: Moment): FeltLead {
  const lean = leanBy(m)
  return {
    seen: lean === null ? 'the mixture read as wanted' : `the sensor read lean by ${lambda(lean)}: a charge that did not burn reads so too`,
    test: 'Find the cylinder: feel each port after an idle, or take them out one by one; then its plug, lead and injector.',
    where: at('start', 'crank'),
    closes: ['start.cylinders'],
  }
}
const smellLead = (): FeltLead => ({
  seen: 'a smell of fuel is a leak until it is found to be none',
  test: 'Engine off, no flame, no key: every joint by hand and with a light, cold and hot, before it runs again.',
  where: at('fuel', 'proof', 'fuel.leak-check'),
  closes: ['fuel.leak-check', 'fuel.recheck'],
})
const leads: Readonly<Record<FeltKind, (m: Moment, c: Context) => FeltLead>> = {
  ping: pingLead,
  stumble: stumbleLead,
  surge: surgeLead,
  smell: smellLead,
  miss: missLead,
}

type Felt = StoredReading<'learn.felt'>
export const feltLead = (felt: Felt['value'], c: Context): FeltLead => leads[felt.what](felt.moment, c)
/** What was done or held proves nothing by itself: that it was done since is enough. */
const ACTS: readonly EntryKind[] = ['learn.trial-point', 'spark.moved']
/** Entries taken since it was felt that may close it: proofs that stand, logs that were believed, acts. A wet joint closes no smell. */
export function closers(c: Context, felt: Felt): StoredReading[] {
  const { closes } = feltLead(felt.value, c)
  const believed = (r: StoredReading) => r.kind !== 'learn.result' || r.value.suspect === undefined
  return c.readings
    .slice(c.readings.findIndex((r) => r.id === felt.id) + 1)
    .filter((r) => closes.includes(r.kind) && believed(r) && (ACTS.includes(r.kind) || c.standings.get(r.id)?.stands === true))
}
/** Moments that nothing has closed, oldest first: a closing whose reading has fallen since opens it again. */
export function openFelt(c: Context): Felt[] {
  const closings = readingsOf(c.readings, 'learn.felt-closed')
  return readingsOf(c.readings, 'learn.felt').filter((felt) => {
    const by = closings.filter((r) => r.value.feltId === felt.id).map((r) => r.value.readingId)
    return by.length === 0 || !closers(c, felt).some((r) => by.includes(r.id))
  })
}
export const feltSays = ({ what, moment: { rpm, mapKpa } }: Felt['value']): Saying =>
  say`${feltKinds[what]} at ${rpm.toFixed(0)} rpm${mapKpa === null ? '' : say`, ${kPa(mapKpa)}`}`

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
          ? say`${feltSays(worst.value)} is not settled`
          : say`${feltSays(worst.value)}, and ${open.length - 1} more, are not settled`,
        say`It showed: ${asSaying(lead.seen)}.`,
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
    action: open.length ? say`Settle what was felt: ${feltSays(open[0].value)}` : 'Settle what was felt',
    where: at('learn', 'log', 'learn.felt'),
  }
}
