import { laminarFriction, turbulentFriction } from './line-drop.ts'

const LAMINAR_END = 2300
const TURBULENT_FROM = 4000

/**
 * Friction factor for the circuit solver: laminar to Re 2300, Haaland from 4000, and a smooth blend between, because a jump there would
 * leave some states without a solution. Where the flow is unsettled the number is a passage, not a promise.
 * @source Darcy-Weisbach; Haaland (1983); cubic blend in Re
 */
export function smoothFriction(reynolds: number, relativeRoughness: number): number {
  if (reynolds <= LAMINAR_END) return laminarFriction(reynolds)
  if (reynolds >= TURBULENT_FROM) return turbulentFriction(reynolds, relativeRoughness)
  const t = (reynolds - LAMINAR_END) / (TURBULENT_FROM - LAMINAR_END)
  const share = t * t * (3 - 2 * t)
  return (1 - share) * laminarFriction(reynolds) + share * turbulentFriction(reynolds, relativeRoughness)
}
