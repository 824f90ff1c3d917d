import { learnRules, currentLearn, CONVERGED_RMS_PCT, CONVERGED_TIME_PCT } from '../learn/findings.ts'
import { fuelRules } from '../fuel/findings.ts'
import { fuelNumbers } from '../fuel/flow-findings.ts'
import { jointsOf, leakState } from '../fuel/joints.ts'
import { missingForCircuit } from '../fuel/station.ts'
import { planRules } from '../plan/findings.ts'
import { planNumbers } from '../plan/sizes.ts'
import { sparkNumbers, sparkRules } from '../spark/findings.ts'
import { sparkProcedure } from '../spark/procedure.ts'
import { currentTiming } from '../spark/timing.ts'
import { controlsTiming } from '../spark/ways.ts'
import { interferenceRules } from '../spark/interference.ts'
import { tachRules } from '../tach/tachometer.ts'
import { takingRules } from '../tune/taking.ts'
import { startRules } from '../start/findings.ts'
import { hasRun, startGates, type Stop } from '../start/gates.ts'
import { surveyRules } from '../survey/findings.ts'
import { missingFacts } from '../survey/needs.ts'
import { surveyNumbers } from '../survey/numbers.ts'
import type { BuildData } from './build.ts'
import { contextOf, type Context, type Rule } from './context.ts'
import { stations, type DerivedNumber, type Finding, type StationId, type StationState } from './finding.ts'
import { latest } from './readings.ts'

/** Every rule of the core, once. */
export const rules: readonly Rule[] = [
  ...surveyRules,
  ...planRules,
  ...fuelRules,
  ...sparkRules,
  ...interferenceRules,
  ...tachRules,
  ...takingRules,
  ...startRules,
  ...learnRules,
]

/** What clears a station: each met by facts and readings, never by a tick alone. The first unmet one is the next action. */
export interface Requirement {
  id: string
  met: boolean
  action: string
}

export interface StationReport {
  id: StationId
  number: number
  title: string
  state: StationState
  /** earlier stations it still waits for */
  waitsFor: StationId[]
  findings: Finding[]
  numbers: DerivedNumber[]
  requirements: Requirement[]
}

export interface Evaluation {
  stations: StationReport[]
  next: { station: StationId; action: string }
}

const needs: Record<StationId, StationId[]> = {
  survey: [],
  plan: ['survey'],
  fuel: ['plan'],
  spark: ['survey'],
  tune: ['plan'],
  start: ['fuel', 'spark', 'tune'],
  learn: ['start'],
  handover: ['learn'],
}

function requirements(id: StationId, c: Context, stops: Stop[]): Requirement[] {
  const { build, spark } = c
  const inCar = build.tunes.find((t) => t.status === 'in-car') ?? null
  switch (id) {
    case 'survey': {
      const missing = missingFacts(c)
      return [{ id: 'facts', met: missing.length === 0, action: missing.length ? `Enter the ${missing[0].label}: ${missing[0].why}` : '' }]
    }
    case 'plan':
      return [
        { id: 'route', met: c.plan.route !== undefined, action: 'Choose the route: throttle body, multi-port or individual runner' },
        { id: 'timing', met: c.plan.timingControl !== undefined, action: 'Decide whether the unit times the spark' },
        {
          id: 'injectors',
          met: !!(c.plan.injectors && c.plan.injectorCcMin && c.plan.injectorRatedKpa && c.plan.fuelPressureKpa),
          action: 'Enter the injectors and the fuel pressure chosen',
        },
      ]
    case 'fuel': {
      const missing = missingForCircuit(c)
      const { safety } = c.fuel
      const leaks = leakState(c)
      return [
        ...(missing.length
          ? missing.map((action, i) => ({ id: `circuit-${i}`, met: false, action }))
          : [{ id: 'circuit', met: true, action: '' }]),
        { id: 'stall-cut-off', met: safety?.stallCutOff !== undefined, action: 'Say how the pump stops when the engine does' },
        { id: 'crash-cut-off', met: safety?.crashCutOff !== undefined, action: 'Say whether an inertia or roll-over cut-off is fitted' },
        {
          id: 'arrows',
          met: latest(c.readings, 'fuel.arrows')?.value.right === true,
          action: 'Look at the flow arrows of pump, filter and check valve, and record them',
        },
        ...(jointsOf(c.fuel).some((j) => j.place === 'boot' || j.place === 'cabin')
          ? [
              {
                id: 'proof',
                met: latest(c.readings, 'fuel.proof')?.value.held === true,
                action: 'Prove the joints in closed spaces above working pressure before they are covered',
              },
            ]
          : []),
        {
          id: 'prime',
          met: latest(c.readings, 'fuel.prime') !== null,
          action: 'Prime with a key-on, no start, until the pressure stands; record it',
        },
        {
          id: 'pressure',
          met: latest(c.readings, 'fuel.pressure') !== null,
          action: 'Read the gauge with the engine off and set the regulator',
        },
        {
          id: 'leaks',
          met: leaks.passed,
          action: leaks.unseen.length
            ? `Inspect the joints at pressure with a light and a dry towel: ${leaks.unseen.length} not seen dry`
            : 'Inspect every joint at pressure with a light and a dry towel',
        },
      ]
    }
    case 'spark':
      return [
        { id: 'trigger', met: spark.trigger !== undefined, action: 'Choose how the unit will see the crank' },
        ...sparkProcedure(c)
          .filter((step) => step.required)
          .map((step) => ({ id: step.id, met: step.state === 'done', action: step.title })),
      ]
    case 'tune':
      return [
        { id: 'tune', met: build.tunes.length > 0, action: 'Compute the base tune' },
        {
          id: 'ready',
          met: build.tunes.some((t) => t.status !== 'draft' && t.status !== 'retired'),
          action: 'Look the tables over and mark the tune ready',
        },
      ]
    case 'start': {
      const gates = startGates(c, stops)
      const timing = currentTiming(c)
      return [
        { id: 'tune', met: inCar !== null, action: 'Put a tune in the car' },
        ...gates.crank
          .filter((g) => !['stops', 'tune', 'tune-safe'].includes(g.id))
          .map((g) => ({ id: g.id, met: g.met, action: `${g.label}: ${g.why}` })),
        { id: 'ran', met: hasRun(c), action: 'Crank and let it run' },
        ...(controlsTiming(c)
          ? [
              {
                id: 'timing',
                met: timing !== null && timing.enough && timing.worstErrorDeg <= 1,
                action:
                  timing === null
                    ? 'Read the timing with a light at two speeds or more'
                    : timing.enough
                      ? `${timing.fixes[0]?.title ?? 'Correct the timing'}, then read again`
                      : `Read the timing again near ${timing.nextRpm} rpm`,
              },
            ]
          : []),
      ]
    }
    case 'learn': {
      const result = currentLearn(c)
      return [
        { id: 'log', met: build.logs.some((l) => l.source === 'import') || result !== null, action: 'Drive, then bring the log' },
        {
          id: 'solve',
          met: result !== null,
          action: build.logs.length ? 'Drive with the tune now in the car, bring that log and solve it' : 'Bring a log and solve it',
        },
        {
          id: 'converged',
          met:
            result !== null &&
            (result.value.provenTimePct ?? 0) >= CONVERGED_TIME_PCT &&
            (result.value.errorRmsPct ?? 99) <= CONVERGED_RMS_PCT,
          action: 'Accept the correction, put the new version in the car and drive again',
        },
      ]
    }
    case 'handover':
      return [
        {
          id: 'signed',
          met: latest(c.readings, 'handover.signed') !== null,
          action: 'Print the report, walk through it with the owner, and record the signature',
        },
      ]
  }
}

const numbersOf: Partial<Record<StationId, (c: Context) => DerivedNumber[]>> = {
  survey: surveyNumbers,
  plan: planNumbers,
  fuel: fuelNumbers,
  spark: sparkNumbers,
}

/** Stop findings of the stations before one, in working order: while there is any, the dangerous steps of that station stay shut. */
export function stopsBefore(reports: readonly Pick<StationReport, 'id' | 'findings'>[], id: StationId): Stop[] {
  const at = reports.findIndex((report) => report.id === id)
  return reports
    .slice(0, at)
    .flatMap((report) =>
      report.findings.filter((f) => f.severity === 'stop').map((f) => ({ id: f.id, station: report.id, message: f.message })),
    )
}

/**
 * All judgement about a build, from its data alone: stations with state, findings and numbers, and the one next action.
 * Pure; nothing of it is stored.
 */
export function evaluate(build: BuildData): Evaluation {
  const c = contextOf(build)
  const found = new Map<StationId, Finding[]>(stations.map((s) => [s.id, []]))
  for (const rule of rules) {
    const result = rule.check(c)
    if (!result) continue
    found.get(rule.station)!.push({ id: rule.id, ...result })
    if (rule.holdsAllAfter && result.severity === 'stop')
      for (const later of stations.slice(stations.findIndex((s) => s.id === rule.station) + 1))
        found.get(later.id)!.push({ id: rule.id, ...result })
  }
  const tune = build.tunes.find((t) => t.status === 'in-car') ?? build.tunes.at(-1)
  for (const problem of tune?.problems ?? [])
    found.get('tune')!.push({
      id: `tune.${problem.code}`,
      severity: problem.severity,
      message: problem.message,
      because: problem.because,
      remedy: problem.remedy,
    })

  const rank = { stop: 0, warn: 1, note: 2 }
  for (const list of found.values()) list.sort((a, b) => rank[a.severity] - rank[b.severity])
  const judged = stations.map(({ id }) => ({ id, findings: found.get(id)! }))
  const states = new Map<StationId, StationState>()
  const reports = stations.map(({ id, number, title }): StationReport => {
    const findings = found.get(id)!
    const needed = requirements(id, c, stopsBefore(judged, id))
    const waitsFor = needs[id].filter((other) => states.get(other) !== 'cleared')
    const state: StationState = findings.some((f) => f.severity === 'stop')
      ? 'blocked'
      : needed.every((r) => r.met) && waitsFor.length === 0
        ? 'cleared'
        : waitsFor.length
          ? 'open'
          : 'ready'
    states.set(id, state)
    const numbers = numbersOf[id]?.(c) ?? []
    return { id, number, title, state, waitsFor, findings, numbers, requirements: needed }
  })
  return { stations: reports, next: nextAction(reports) }
}

function nextAction(reports: StationReport[]): Evaluation['next'] {
  for (const report of reports) {
    if (report.state === 'cleared') continue
    const stop = report.findings.find((f) => f.severity === 'stop')
    if (stop) return { station: report.id, action: stop.remedy }
    const unmet = report.requirements.find((r) => !r.met)
    if (unmet) return { station: report.id, action: unmet.action }
  }
  return { station: 'handover', action: 'Handed over. Look at the leaks, plugs and bolts again after the first week.' }
}
