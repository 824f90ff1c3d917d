import { fitupGates } from '../fitup/index.ts'
import { leakState, provedPressure, unanswered } from '../fuel/index.ts'
import {
  asSaying,
  type Context,
  type Gate,
  type JudgedContext,
  kPa,
  latest,
  readingsOf,
  type Said,
  say,
  sinceLast,
  type Stop,
  whyFallen,
} from '../kernel/index.ts'
import { isFitted } from '../plan/index.ts'
import { controlsTiming } from '../spark/index.ts'
import { takingWords, tuneTaking } from '../tune/index.ts'
import { wiringGates } from '../wiring/index.ts'
import { answersGate, heldAnswers, setByQuestions, unitLeft, unreleased } from '../unit/index.ts'
import { dryCrankOf } from './dry-crank.ts'

/** Dangerous steps of the first start, each opened only by recorded checks. The server refuses a step whose gates are shut. */
export type StartStep = 'key-on' | 'prime' | 'dry-crank' | 'crank'

const currentTune = ({ build }: Context) => build.tunes.find((tune) => tune.status === 'in-car') ?? null

/** A wet joint shuts the crank by its own gate; key and prime stay open to it, because a mended joint is looked at under pressure. */
const LEAK = 'fuel.leak'

/** The unit holds the tune that is in the car. */
function takenGate(c: Context): Gate {
  const tune = currentTune(c)
  const taking = tuneTaking(c)
  const ranOnIt = readingsOf(c.readings, 'start.ran').some((r) => r.value.tuneId === tune?.id) && !taking.differences
  if (setByQuestions(c))
    return ranOnIt && !heldAnswers(c).differing.length ? { ...answersGate(c), met: true, why: 'it has run on it' } : answersGate(c)
  const gate = (met: boolean, why: string): Gate => ({
    id: 'tune-taken',
    label: 'The unit holds that tune: sent, stored, key off and on, read back equal',
    met,
    why,
    station: 'start',
  })
  if (taking.taken) return gate(true, 'read back equal')
  // an engine that ran on it had it; nothing but the key's own memory was left to prove
  if (ranOnIt) return gate(true, 'it has run on it')
  // fed by hand: the values read in it and its tables given out again stand for the stream
  const left = unitLeft(c)
  if (left === null) return gate(true, 'compared by hand, value by value')
  return gate(false, taking.differences ? `${taking.differences} values came back other than sent` : `so far ${takingWords[taking.step]}`)
}
function dryCrankGate(c: Context): Gate {
  const { done, passed, problems } = dryCrankOf(c)
  const fallen = done ? null : whyFallen(c, ['start.dry-crank', 'start.ran'])
  const open: Said = done
    ? problems.join('; ')
    : fallen === null
      ? 'injectors unplugged, light on the damper'
      : say`again: ${asSaying(fallen)}`
  return {
    id: 'dry-crank',
    label: 'Cranked without fuel: speed steady, spark where it belongs',
    met: passed,
    why: passed ? (done ? 'passed' : 'it has run before') : open,
    station: 'start',
  }
}

/** Solid-core leads were no stop at Survey: they are work, and shut the crank until it is done. */
const leadGates = (c: Context): Gate[] =>
  c.facts.ignition?.leads === 'solid-core' && !isFitted(c, 'leads')
    ? [
        {
          id: 'leads',
          label: 'Resistive plug leads fitted',
          met: false,
          why: 'solid-core leads can reset the unit with the pump running: fit them, then change the fact or mark the part fitted',
          station: 'survey',
        },
      ]
    : []
/** Who chose a fixed number for the first start has set it, and recorded it among what must be released. */
const fixedTimingGates = (c: Context): Gate[] =>
  c.plan.ways?.['first-timing'] === 'a' && controlsTiming(c) && !hasRun(c)
    ? [
        {
          id: 'fixed-timing',
          label: 'Timing fixed at a low number in the unit, as chosen in Plan',
          met: unreleased(c).some((r) => r.value.what === 'fixed-timing'),
          why: 'set it in the unit and record it among the temporary answers',
          station: 'start',
        },
      ]
    : []

/** @param all stop findings of the stations before First start */
export function startGates(c: JudgedContext, all: readonly Stop[]): Record<StartStep, Gate[]> {
  const stops = all.filter((s) => s.id !== LEAK)
  const tune = currentTune(c)
  const safety = latest(c.readings, 'start.safety')
  const sanity = latest(c.readings, 'start.sanity')
  const pressure = provedPressure(c)
  const gauge = latest(c.readings, 'fuel.pressure')
  const leaks = leakState(c)
  const sanityCurrent =
    sanity !== null && sanity.value.passed && (tune?.inCarSince ? (sanity.receivedAt ?? sanity.takenAt) >= tune.inCarSince : true)
  const wired = wiringGates(c)
  const keyOn: Gate[] = [
    {
      id: 'stops',
      label: 'No stop at an earlier station',
      met: stops.length === 0,
      why: stops.length ? stops.map((s) => s.message).join('; ') : 'none left',
      station: stops[0]?.station ?? 'survey',
    },
    {
      id: 'tune',
      label: 'A tune for this engine is in the car',
      met: tune !== null,
      why: tune ? `version ${tune.number}, ${tune.name}` : 'mark a tune version as in the car',
      station: 'tune',
    },
    {
      id: 'tune-safe',
      label: 'That tune has no stop',
      met: tune !== null && !tune.problems.some((p) => p.severity === 'stop'),
      why: tune?.problems.find((p) => p.severity === 'stop')?.message ?? (tune ? 'checks passed' : 'no tune yet'),
      station: 'tune',
    },
    ...wired.key,
  ]
  const open = unanswered(c)
  const prime: Gate[] = [
    ...keyOn,
    {
      id: 'answered',
      label: 'Every question of the fuel system’s safety is answered',
      met: open.length === 0,
      why: open[0]?.action ?? 'answered',
      station: 'fuel',
    },
    {
      id: 'sanity',
      label: 'Key-on checks passed',
      met: sanityCurrent,
      why: sanity
        ? sanityCurrent
          ? 'passed and recorded'
          : sanity.value.passed
            ? 'passed with an earlier tune; repeat'
            : 'last run failed'
        : 'key on and let the app watch',
      station: 'start',
    },
    {
      id: 'safety',
      label: 'Extinguisher at hand, helper with a stop word',
      met: safety !== null,
      why: safety ? `stop word "${safety.value.stopWord}"` : 'agree and record it',
      station: 'start',
    },
  ]
  const flooded: Gate[] = floodedSince(c)
    ? [
        {
          id: 'flooded',
          label: 'Flooding cleared',
          met: false,
          why: 'pump off, plugs out, oil checked for fuel before the engine is turned',
          station: 'start',
        },
      ]
    : []
  const taken = takenGate(c)
  const isPrepared = latest(c.readings, 'start.prepared') !== null || hasRun(c)
  const prepared: Gate = {
    id: 'prepared',
    label: 'Battery charged, every connector on the list done, wheels chocked and out of gear',
    met: isPrepared,
    why: isPrepared ? 'looked at' : 'look and record it',
    station: 'start',
  }
  const crank: Gate[] = [
    ...prime,
    ...leadGates(c),
    ...wired.crank,
    ...fitupGates(c),
    ...fixedTimingGates(c),
    prepared,
    taken,
    {
      id: 'pressure',
      label: 'Fuel pressure read, and what is planned',
      met: pressure !== null,
      why: pressure
        ? say`${kPa(pressure.value.pressureKpa)}`
        : ((gauge && c.standings.get(gauge.id)?.because) ?? whyFallen(c, ['fuel.pressure']) ?? 'prime, then record the gauge'),
      station: 'start',
    },
    ...flooded,
    {
      id: 'leak',
      label: 'Leak check at pressure: dry',
      met: leaks.passed,
      why: leaks.passed ? 'dry' : leaks.wet.length ? `wet: ${leaks.wet.join(', ')}` : 'inspect every joint with a light and a dry towel',
      station: 'start',
    },
    dryCrankGate(c),
  ]
  return { 'key-on': keyOn, prime, 'dry-crank': [...prime, prepared, taken, ...flooded], crank }
}

/** A flooding that has not been cleared since: pump off, plugs out, and no fuel in the oil. Fuel in the oil does not clear it. */
export function floodedSince(c: Context): string | null {
  const flooded = latest(c.readings, 'start.flooded')
  const cleared = readingsOf(
    sinceLast(c.readings, (r) => r.kind === 'start.flooded'),
    'start.flood-cleared',
  ).some((r) => r.value.oilClean)
  return flooded && !cleared ? flooded.takenAt : null
}

/** Whether the engine has ever run, whatever was done to it since. */
export const hasRun = (c: Context): boolean => readingsOf(c.build.readings, 'start.ran').length > 0
