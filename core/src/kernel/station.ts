import type { z } from 'zod'
import type { CautionId } from './cautions.ts'
import type { JudgedContext } from './context.ts'
import type { EntrySpecs } from './entry.ts'
import type { FactGroups } from './fact.ts'
import type { DerivedNumber, Finding, Where } from './finding.ts'
import type { Said } from './say.ts'
import type { ContributionTable } from './told.ts'

/** One finding rule: small, pure, in its subject's folder, listed by its station. */
export interface Rule {
  id: string
  /** the place that settles it, unless the finding names a nearer one */
  where?: Where
  /** a stop of this rule holds every later station too */
  holdsAllAfter?: boolean
  check: (context: JudgedContext) => Omit<Finding, 'id'> | null
}
/** What clears a station: each met by facts and readings, never by a tick alone. The first unmet one is the next action. */
export interface Requirement {
  id: string
  met: boolean
  action: Said
  where?: Where
  /** kinds of entry that meet it; when one has fallen, the report says why */
  proof?: readonly string[]
}
/** A stop finding of an earlier station. */
export interface Stop {
  id: string
  station: string
  message: string
}
/** One lock of a dangerous step, opened only by recorded checks. */
export interface Gate {
  id: string
  label: string
  met: boolean
  why: Said
  station: string
}
/** What one station gives to others: plain data, each kind worked out when somebody asks for it. */
export type Contributes = { [K in keyof ContributionTable]?: (context: JudgedContext) => ContributionTable[K][] }

/**
 * A station of the job line: all that a newcomer must know to add one. `evaluate`, the router, the job line, its key, the needs, the logbook's
 * words and the report read the list of these; nothing else knows how many there are.
 */
export interface Station {
  id: string
  /** place on the job line, 1 to 12 for those of the trade */
  number: number
  title: string
  question: string
  /** letter after "g" that leads to it */
  key: string
  /** stations that must be cleared before it can be */
  after: readonly string[]
  facts?: FactGroups
  /** schema of its part of the choices, under its own id */
  choices?: Readonly<Record<string, z.ZodType>>
  entries?: EntrySpecs
  rules: readonly Rule[]
  /** findings that are not one rule each, such as what the tune's own checks said */
  findings?: (context: JudgedContext) => Finding[]
  /** @param stops all stop findings of the stations before it */
  requirements: (context: JudgedContext, stops: readonly Stop[]) => Requirement[]
  numbers?: (context: JudgedContext) => DerivedNumber[]
  cautions?: readonly CautionId[]
  contributes?: Contributes
}
export const station = <const S extends Station>(declared: S): S => declared
