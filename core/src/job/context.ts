import { resolveFacts, type ResolvedFacts } from '../survey/resolve.ts'
import type { Choices } from '../plan/choices.ts'
import type { BuildData } from './build.ts'
import type { Finding, Severity, StationId } from './finding.ts'
import { inForce, type StoredReading } from './readings.ts'

/** What every rule is given: the build, its facts with assumptions put in, and the readings still in force. */
export interface Context {
  build: BuildData
  facts: BuildData['facts']
  resolved: ResolvedFacts
  plan: NonNullable<Choices['plan']>
  spark: NonNullable<Choices['spark']>
  fuel: NonNullable<Choices['fuel']>
  tach: NonNullable<Choices['tach']>
  readings: StoredReading[]
}

/** Rotor and cap are only asked after where there is a distributor to keep. */
const ROTOR_FACTS = new Set(['ignition.rotorRadiusMm', 'ignition.rotorTipWidthMm', 'ignition.terminalWidthMm'])

export function contextOf(build: BuildData): Context {
  const resolved = resolveFacts(build.facts)
  const ownPower = build.choices.plan?.overrides?.power
  if (ownPower) resolved.powerKw = ownPower.value
  if (build.choices.spark?.trigger === 'crank-cam' || build.choices.spark?.trigger === 'toothed-wheel')
    resolved.assumptions = resolved.assumptions.filter((a) => !ROTOR_FACTS.has(a.path))
  return {
    build,
    facts: build.facts,
    resolved,
    plan: build.choices.plan ?? {},
    spark: build.choices.spark ?? {},
    fuel: build.choices.fuel ?? {},
    tach: build.choices.tach ?? {},
    readings: inForce(build.readings),
  }
}

/** One finding rule: small, pure, and in its subject's folder. The list of all is in `rules.ts`. */
export interface Rule {
  id: string
  station: StationId
  /** a stop of this rule holds every later station too */
  holdsAllAfter?: boolean
  check: (context: Context) => Omit<Finding, 'id'> | null
}

export const finding = (severity: Severity, message: string, because: string, remedy: string): Omit<Finding, 'id'> => ({
  severity,
  message,
  because,
  remedy,
})
