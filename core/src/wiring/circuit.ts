import type { CircuitEdit } from './choices.ts'

export const carStates = ['off', 'accessory', 'cranking', 'idle', 'cruise'] as const
/** What the car is doing: what draws, and what feeds it, goes by this. */
export type CarState = (typeof carStates)[number]
type CircuitKind = 'feed' | 'ground' | 'signal' | 'output' | 'bus'
type Feed = 'battery' | 'keyed' | 'unit' | 'none'

/** One wire of the harness, and what it carries. */
export interface Circuit {
  id: string
  name: string
  kind: CircuitKind
  from: string
  to: string
  feed: Feed
  continuousA: number
  /** while it starts, 0.2 s, A */
  surgeA: number
  /** it may lose so much from its source, V */
  dropLimitV: number
  /** draws in these states */
  states: readonly CarState[]
  relay: boolean
  /** why a relay stands in it, or must */
  relayWhy: string | null
  /** the unit switches its ground side */
  lowSide: boolean
  /** must be live while cranking */
  cranks: boolean
  /** circuit that feeds the coil of its relay; null: the unit or the key does */
  coilFrom: string | null
  fused: boolean
  /** a weak signal: shielded or twisted, away from high tension */
  weak: boolean
  why: string
  assumed: string[]
  origin: 'plan' | 'own'
  edit: CircuitEdit
}
export type Draft = Pick<Circuit, 'id' | 'name' | 'kind' | 'from' | 'to' | 'why'> & Partial<Circuit>

export const RUNNING: readonly CarState[] = ['cranking', 'idle', 'cruise']
/** What a relay's coil draws, own figure, A. */
export const RELAY_COIL_A = 0.15
