import { solveSpd } from '../kernel/index.ts'
import { BALANCE_SHARE } from './limits.ts'

/** What an airflow gauge showed on every throttle, and what had been turned since the look before. */
export interface BalanceLook {
  flowsKgH: readonly number[]
  /** turns of each throttle's screw since the look before; out is more */
  turned: readonly number[]
}
/** What a screw does: to its own throttle, to the one on the same shaft, to all of them through the engine's speed; shares of the mean a turn. */
export interface ScrewGain {
  own: number
  beside: number
  all: number
  /** looks behind it: none, and it is a usual screw */
  looks: number
}
const USUAL_GAIN: ScrewGain = { own: 0.35, beside: 0.06, all: -0.03, looks: 0 }
/** How strongly the usual screw is believed against one turn seen */
const PRIOR = 0.02
/** no more than so much at a time: past it a screw is no straight line */
const MOST_TURNS = 0.75
const STEP_TURNS = 1 / 16

const mean = (list: readonly number[]): number => list.reduce((sum, v) => sum + v, 0) / list.length
/** The throttle on the same shaft: they sit in pairs along the engine. */
export const besideOf = (i: number, n: number): number | null => {
  const other = i % 2 === 0 ? i + 1 : i - 1
  return other < n ? other : null
}

const solve = (a: readonly (readonly number[])[], b: readonly number[]): number[] =>
  Array.from(solveSpd(Float64Array.from(a.flat()), Float64Array.from(b), false).x)

/** What the screws of this car do, by least squares over the looks so far, beginning from a usual screw. */
export function screwGain(looks: readonly BalanceLook[]): ScrewGain {
  const normal = [0, 1, 2].map((i) => [0, 1, 2].map((j) => (i === j ? PRIOR : 0)))
  const right = [USUAL_GAIN.own, USUAL_GAIN.beside, USUAL_GAIN.all].map((g) => g * PRIOR)
  let seen = 0
  looks.slice(1).forEach((now, k) => {
    const was = looks[k]
    const n = now.flowsKgH.length
    if (was.flowsKgH.length !== n || now.turned.length !== n || now.turned.every((t) => t === 0)) return
    seen++
    const sum = now.turned.reduce((s, t) => s + t, 0)
    now.flowsKgH.forEach((flow, i) => {
      const beside = besideOf(i, n)
      const row = [now.turned[i], beside === null ? 0 : now.turned[beside], sum]
      const change = (flow - was.flowsKgH[i]) / mean(was.flowsKgH)
      for (let a = 0; a < 3; a++) {
        for (let b = 0; b < 3; b++) normal[a][b] += row[a] * row[b]
        right[a] += row[a] * change
      }
    })
  })
  const [own, beside, all] = solve(normal, right)
  return own > 0.05 && own > Math.abs(beside) ? { own, beside, all, looks: seen } : { ...USUAL_GAIN, looks: seen }
}

export interface Balance {
  meanKgH: number
  /** widest from the mean, share of it */
  spread: number
  even: boolean
  gain: ScrewGain
  /** turns of each screw; 0: leave it */
  turns: number[]
}
/**
 * How far each screw must be turned next, so that all throttles come to their mean: the shaft's twist between neighbours is counted, what changes
 * all of them at once drops out.
 * @param looks in their order, the last one first asked
 * @source Newton's step on the measured gain; the gain by least squares
 */
export function balanceOf(looks: readonly BalanceLook[]): Balance | null {
  const last = looks.at(-1)
  if (!last || last.flowsKgH.length < 2) return null
  const { flowsKgH: flows } = last
  const meanKgH = mean(flows)
  if (!(meanKgH > 0)) return null
  const off = flows.map((f) => f / meanKgH - 1)
  const spread = Math.max(...off.map(Math.abs))
  const gain = screwGain(looks)
  const n = flows.length
  const matrix = flows.map((_, i) => flows.map((__, j) => (i === j ? gain.own : besideOf(i, n) === j ? gain.beside : 0)))
  const even = spread <= BALANCE_SHARE
  const wanted = even
    ? off.map(() => 0)
    : solve(
        matrix,
        off.map((v) => -v),
      )
  const middle = mean(wanted)
  const turns = wanted.map((t) => {
    const rounded = Math.round(Math.min(MOST_TURNS, Math.max(-MOST_TURNS, t - middle)) / STEP_TURNS) * STEP_TURNS
    return rounded === 0 ? 0 : rounded
  })
  return { meanKgH, spread, even, gain, turns }
}
