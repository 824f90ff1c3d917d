import { type BuildData, type Finding, mergePatch } from '../kernel/index.ts'
import { partsCost, partsList, planHours, type RouteVariant, variantPatch } from '../plan/index.ts'
import { contextOf, evaluate } from './judgement.ts'

export interface PlanEffect {
  cost: { before: number; after: number }
  hours: { before: { low: number; high: number }; after: { low: number; high: number } }
  appears: (Finding & { station: string })[]
  clears: (Finding & { station: string })[]
}

/** What a change of choices would do to cost, hours and findings, before it is taken. Pure: nothing is stored. */
export function effectOf(build: BuildData, patch: object): PlanEffect {
  const after = mergePatch(build, patch) as BuildData
  const measure = (b: BuildData) => {
    const c = contextOf(b)
    const { low, high } = planHours(c)
    return {
      cost: partsCost(partsList(c)).total,
      hours: { low, high },
      findings: evaluate(b).stations.flatMap((s) => s.findings.map((f) => ({ ...f, station: s.id }))),
    }
  }
  const a = measure(build)
  const b = measure(after)
  const key = (f: { station: string; id: string }) => `${f.station}/${f.id}`
  const before = new Set(a.findings.map(key))
  const now = new Set(b.findings.map(key))
  return {
    cost: { before: a.cost, after: b.cost },
    hours: { before: a.hours, after: b.hours },
    appears: b.findings.filter((f) => f.severity !== 'note' && !before.has(key(f))),
    clears: a.findings.filter((f) => f.severity !== 'note' && !now.has(key(f))),
  }
}

/** Two plans side by side: what the second would change against the first, both laid over the same build. */
export function comparePlans(build: BuildData, first: RouteVariant, second: RouteVariant): PlanEffect {
  const from = mergePatch(build, variantPatch(build.choices.plan ?? {}, first)) as BuildData
  return effectOf(from, variantPatch(from.choices.plan ?? {}, second))
}
