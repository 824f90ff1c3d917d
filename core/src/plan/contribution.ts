import type { DerivedNumber, Said, Saying } from '../kernel/index.ts'
import type { SizeId, UnitSpec } from './choices.ts'
import type { PriceId } from './prices.ts'

/** A size that a station works out for the plan; a person's own figure may stand in its place. */
export interface SizeProposal {
  sizeId: SizeId
  label: string
  computed: number | null
  dimension: DerivedNumber['dimension']
  formula: string
  source: string
  inputs: Record<string, unknown>
  assumed?: readonly Said[]
  /** what is bought for it: the next size that shops have, never under the computed one */
  stock?: Said
}
/** Two things that must go together, and whether they do. */
export interface PairCheck {
  id: string
  label: string
  fit: 'fits' | 'work' | 'no' | 'open'
  text: Said
}
/** What something of the new system draws, A. */
export interface Load {
  name: string
  amps: number
  assumed?: string
}
/** A part that a station asks for. `spec` is what it must be, never a make. */
export interface PartNeed {
  id: string
  price: PriceId
  name: string
  spec: Saying
  quantity: number
  unit?: 'pc' | 'm'
  used: string
}
/** A task of the job: what it takes, what it waits for, and the day on which the record proves it done. */
export interface PlanTask {
  id: string
  title: string
  /** where it belongs on the job line; stations without a screen yet count too */
  station: string
  kind: 'work' | 'trade' | 'wait'
  /** base: hours of experienced hands at home; days for a trade or a wait */
  base: number
  /** tasks it waits for; those that this job does not have are left out */
  after: string[]
  /** tasks that wait for it */
  before?: string[]
  leadDays?: number
  helper?: boolean
  /** what brought this task in, when it is not part of every conversion */
  because?: string
  /** day on which the logbook proves it was done: no tick needed */
  provenDone?: string
}
/** A function this car and plan ask of a control unit, with why. */
export interface UnitFunction {
  id: string
  label: string
  why: string
  offered: (unit: UnitSpec) => boolean | undefined
}

declare module '../kernel/told.ts' {
  interface ContributionTable {
    sizes: SizeProposal
    loads: Load
    parts: PartNeed
    tasks: PlanTask
    unitFunctions: UnitFunction
    pairs: PairCheck
  }
}

/** Whether a unit has at least so many of something; not known when its sheet does not say. */
export const atLeast = (have: number | undefined, wanted: number): boolean | undefined => (have === undefined ? undefined : have >= wanted)
