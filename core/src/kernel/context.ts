import type { BuildData } from './build.ts'
import type { StoredReading } from './entry.ts'
import type { Standings } from './evidence.ts'
import type { ContributionTable } from './told.ts'

/** What every rule is given: the build, and the readings that count, in the server's order. Survey adds the facts as resolved; each subject adds its choices. */
export interface Context {
  build: BuildData
  readings: readonly StoredReading[]
  /** what each entry is worth; empty before the roof is over it */
  standings: Standings
}

/** A context under the roof: it also knows what the stations contribute to each other, and how the build would be judged with a patch on it. */
export interface JudgedContext extends Context {
  /** what all stations give of one kind, in the order of the line; plain data */
  contributed: <K extends keyof ContributionTable>(kind: K) => ContributionTable[K][]
  with: (patch: object) => JudgedContext
}
