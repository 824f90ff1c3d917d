import type { BuildData, Context } from '../kernel/index.ts'
import type { Facts } from './facts.ts'
import { type ResolvedFacts, resolveFacts } from './resolve.ts'

declare module '../kernel/context.ts' {
  interface Context {
    facts: Facts
    /** the facts with stated assumptions put in */
    resolved: ResolvedFacts
    plan: NonNullable<BuildData['choices']['plan']>
    spark: NonNullable<BuildData['choices']['spark']>
    fuel: NonNullable<BuildData['choices']['fuel']>
    tach: NonNullable<BuildData['choices']['tach']>
  }
}

/** A build as every rule is given it, before the stations' contributions: the bench works from it, judgement from `contextOf`. */
export function toldContext(build: BuildData): Context {
  const { facts, choices } = build
  return {
    build,
    facts,
    resolved: resolveFacts(build),
    plan: choices.plan ?? {},
    spark: choices.spark ?? {},
    fuel: choices.fuel ?? {},
    tach: choices.tach ?? {},
    readings: build.readings,
    standings: new Map(),
  }
}
