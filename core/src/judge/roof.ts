import { z } from 'zod'
import { BenchChoices } from '../bench/index.ts'
import {
  type BuildData,
  type Contributes,
  counting,
  type DerivedNumber,
  type EntryKind,
  type EntrySpec,
  type FactGroup,
  factsSchema,
  finding,
  type Finding,
  type JudgedContext,
  mergePatch,
  type Requirement,
  type Rule,
  type Said,
  type Station,
  standingsOf,
  type StationState,
  type Standings,
  type Stop,
  type StoredReading,
  type Where,
  whyFallen,
  wordsOf,
} from '../kernel/index.ts'
import { toldContext } from '../survey/index.ts'
import { rehearsalSchema } from './views.ts'

export interface StationReport {
  id: string
  number: number
  title: string
  question: string
  /** letter after "g" that leads to it */
  key: string
  state: StationState
  /** earlier stations it still waits for */
  waitsFor: string[]
  findings: Finding[]
  numbers: DerivedNumber[]
  /** `void`: why an earlier proof no longer stands */
  requirements: { id: string; met: boolean; action: string; said: Said; where?: Where; void?: string; voidSaid?: Said }[]
}
export interface NextAction {
  station: string
  action: string
  said: Said
  /** one tap leads there */
  where: Where
}
export interface Evaluation {
  stations: StationReport[]
  next: NextAction
  /** rules that threw, for the server's log; each also stands as a stop */
  failures: { rule: string; error: string }[]
  /** what every entry is worth, by its id */
  standings: Standings
}

const RANK = { stop: 0, warn: 1, note: 2 } as const

/** Stop findings of the stations before one, in working order: while there is any, the dangerous steps of that station stay shut. */
export function stopsBefore(reports: readonly Pick<StationReport, 'id' | 'findings'>[], id: string): Stop[] {
  const at = reports.findIndex((report) => report.id === id)
  return reports
    .slice(0, at)
    .flatMap((report) =>
      report.findings.filter((f) => f.severity === 'stop').map((f) => ({ id: f.id, station: report.id, message: f.message })),
    )
}

/** A rule that throws says so, as a stop that holds what comes after: nobody knows what it would have said. */
function checked(rule: Rule, c: JudgedContext, failures: Evaluation['failures']): { found: Omit<Finding, 'id'> | null; holds: boolean } {
  try {
    return { found: rule.check(c), holds: rule.holdsAllAfter === true }
  } catch (error) {
    failures.push({ rule: rule.id, error: error instanceof Error ? (error.stack ?? error.message) : String(error) })
    return {
      found: finding(
        'stop',
        'A check could not be made',
        `The check ${rule.id} failed on this build, so what it guards is not known.`,
        'Nothing dangerous until it can be made. Look at what was entered last, and report it with the build.',
      ),
      holds: true,
    }
  }
}

/** Everything that follows from a list of stations: schemas, entries, rules, and judgement as a fold over them. */
export function roofOver<const L extends readonly Station[]>(stations: L) {
  const rules: readonly Rule[] = stations.flatMap((s) => s.rules)
  const entryKinds = Object.assign({}, ...stations.map((s) => s.entries ?? {})) as { readonly [K in EntryKind]: EntrySpec }
  const Facts = factsSchema(Object.assign({}, ...stations.map((s) => s.facts ?? {})) as Record<string, FactGroup>) as unknown as z.ZodType<
    BuildData['facts']
  >
  const choiceParts = Object.assign({}, ...stations.map((s) => s.choices ?? {})) as Record<string, z.ZodType>
  const Choices = z.strictObject(
    Object.fromEntries(
      Object.entries({ ...choiceParts, bench: BenchChoices as z.ZodType, rehearsal: rehearsalSchema(choiceParts) }).map(([id, schema]) => [
        id,
        schema.optional(),
      ]),
    ),
  ) as unknown as z.ZodType<BuildData['choices']>
  const line = stations.map((s) => s.id)

  /** A build under the roof: told, resolved, and with what the stations give each other, each kind worked out once when asked for. */
  function contextOf(build: BuildData): JudgedContext {
    const given = new Map<string, unknown[]>()
    const told = toldContext(build)
    // worked out when somebody asks: most of what is judged with a patch on it looks at no entry
    let standings: Standings | null = null
    let readings: StoredReading[] | null = null
    const context: JudgedContext = {
      ...told,
      get standings() {
        return (standings ??= standingsOf(told, entryKinds))
      },
      get readings() {
        return (readings ??= counting(build, context.standings))
      },
      contributed: (kind) => {
        const list = (given.get(kind) ??
          stations.flatMap((s) => (s.contributes as Contributes | undefined)?.[kind]?.(context) ?? [])) as never[]
        given.set(kind, list)
        return [...list]
      },
      with: (patch) => contextOf(mergePatch(build, patch) as BuildData),
    }
    return context
  }

  /** All judgement about a build, from its data alone: stations with state, findings and numbers, and the one next action. Pure; nothing of it is stored. */
  function evaluate(build: BuildData): Evaluation {
    const c = contextOf(build)
    const failures: Evaluation['failures'] = []
    const found = new Map<string, Finding[]>(line.map((id) => [id, []]))
    stations.forEach((s, i) => {
      for (const rule of s.rules) {
        const { found: answer, holds } = checked(rule, c, failures)
        if (!answer) continue
        const held = holds && answer.severity === 'stop' ? line.slice(i) : [s.id]
        const where = answer.where ?? rule.where ?? { station: s.id }
        for (const id of held) found.get(id)!.push({ id: rule.id, ...answer, where })
      }
      found.get(s.id)!.push(...(s.findings?.(c) ?? []))
    })
    for (const list of found.values()) list.sort((a, b) => RANK[a.severity] - RANK[b.severity])
    const judged = line.map((id) => ({ id, findings: found.get(id)! }))
    const states = new Map<string, StationState>()
    const reports = stations.map((s): StationReport => {
      const findings = found.get(s.id)!
      const requirements = s.requirements(c, stopsBefore(judged, s.id))
      const waitsFor = s.after.filter((other) => states.get(other) !== 'cleared')
      const state = stateOf(findings, requirements, waitsFor)
      states.set(s.id, state)
      return {
        id: s.id,
        number: s.number,
        title: s.title,
        question: s.question,
        key: s.key,
        state,
        waitsFor: [...waitsFor],
        findings,
        numbers: s.numbers?.(c) ?? [],
        requirements: requirements.map(({ id, met, action, where, proof }): StationReport['requirements'][number] => {
          const report = { id, met, action: wordsOf(action), said: action, ...(where && { where }) }
          const fell = met || !proof ? null : whyFallen(c, proof)
          return fell === null ? report : { ...report, void: wordsOf(fell), voidSaid: fell }
        }),
      }
    })
    return { stations: reports, next: nextAction(reports), failures, standings: c.standings }
  }
  return { stations, rules, entryKinds, Facts, Choices, contextOf, evaluate }
}

function stateOf(findings: readonly Finding[], requirements: readonly Requirement[], waitsFor: readonly string[]): StationState {
  if (findings.some((f) => f.severity === 'stop')) return 'blocked'
  if (waitsFor.length) return 'open'
  return requirements.every((r) => r.met) ? 'cleared' : 'ready'
}

function nextAction(reports: readonly StationReport[]): NextAction {
  for (const { id, state, findings, requirements } of reports) {
    if (state === 'cleared') continue
    const stop = findings.find((f) => f.severity === 'stop')
    if (stop) return { station: id, action: stop.remedy, said: stop.said.remedy, where: stop.where ?? { station: id } }
    const unmet = requirements.find((r) => !r.met)
    if (unmet) return { station: id, action: unmet.action, said: unmet.said, where: unmet.where ?? { station: id } }
  }
  const done = 'Handed over. Look at the leaks, plugs and bolts again after the first week.'
  return { station: reports.at(-1)!.id, action: done, said: done, where: { station: reports.at(-1)!.id } }
}
