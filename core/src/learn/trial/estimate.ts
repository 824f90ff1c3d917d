import { LOSS_PER_DEG2 } from '../../spark/index.ts'
import { NEAR_BEST_PCT, THROTTLE_REPEATS_PCT, TORQUE_REPEATS_PCT } from './limits.ts'

/** What one hold tells: its merit goes with torque; noise is that of one hold, as a share. */
export interface Held {
  advanceDegBtdc: number
  merit: number
  noise: number
}
export interface TrialEstimate {
  /** least advance within 1 % of the best torque, with one standard deviation, crank degrees BTDC */
  leastDeg: number
  leastSdDeg: number
  bestDeg: number
  /** noise of one hold as the holds themselves show it, as a share */
  noise: number
  /** merit along the advance, as a share of the best, with one standard deviation of the mean */
  curve: (advanceDegBtdc: number) => { share: number; sd: number }
  /** by how much one more hold would narrow the least advance, ° squared */
  tells: (advanceDegBtdc: number) => number
}

/** The loss per degree squared is that of most engines within a third (one standard deviation of its logarithm). */
const LOSS_SD = 0.35
const LOSS_AT = [-2.4, -1.8, -1.2, -0.6, 0, 0.6, 1.2, 1.8, 2.4]
/** Best torque is looked for so far from the map's advance, °, and is within so much of it with most maps (one standard deviation). */
const BEST_FROM_DEG = 30
const BEST_STEP_DEG = 0.5
const MAP_OFF_DEG = 10
/** the scatter of so few holds says nothing */
const SCATTER_FROM = 5

interface Node {
  best: number
  k: number
  /** merit at best */
  top: number
  topVar: number
  weight: number
}
const falls = (node: { best: number; k: number }, advance: number) => 1 - node.k * (advance - node.best) ** 2

/** Every best advance and loss that could be, each with how well it explains the holds; the height is solved for. */
function nodesOf(holds: readonly Held[], mapDeg: number, noise: (h: Held) => number): Node[] {
  const scale = Math.max(...holds.map((h) => h.merit))
  const nodes: (Node & { log: number })[] = []
  for (let best = mapDeg - BEST_FROM_DEG; best <= mapDeg + BEST_FROM_DEG; best += BEST_STEP_DEG)
    for (const z of LOSS_AT) {
      const k = LOSS_PER_DEG2 * Math.exp(LOSS_SD * z)
      let ff = 0
      let fy = 0
      let yy = 0
      for (const h of holds) {
        const f = falls({ best, k }, h.advanceDegBtdc)
        const w = 1 / (noise(h) * scale) ** 2
        ff += w * f * f
        fy += w * f * h.merit
        yy += w * h.merit * h.merit
      }
      const top = fy / ff
      const log = -0.5 * (yy - fy * top) - 0.5 * Math.log(ff) - 0.5 * z * z - 0.5 * ((best - mapDeg) / MAP_OFF_DEG) ** 2
      nodes.push({ best, k, top, topVar: 1 / ff, weight: 0, log })
    }
  const most = nodes.reduce((a, n) => Math.max(a, n.log), -Infinity)
  let sum = 0
  for (const n of nodes) sum += n.weight = Math.exp(n.log - most)
  for (const n of nodes) n.weight /= sum
  return nodes.filter((n) => n.weight > 1e-6)
}
const mean = (nodes: readonly Node[], of: (n: Node) => number) => nodes.reduce((sum, n) => sum + n.weight * of(n), 0)
const spread = (nodes: readonly Node[], of: (n: Node) => number) => {
  const m = mean(nodes, of)
  return Math.sqrt(
    Math.max(
      0,
      nodes.reduce((sum, n) => sum + n.weight * (of(n) - m) ** 2, 0),
    ),
  )
}
const leastOf = (n: Node) => n.best - Math.sqrt(NEAR_BEST_PCT / 100 / n.k)

/** How far the holds scatter about the likeliest curve, where there are enough of them; never less than they repeat to. */
function scatterOf(holds: readonly Held[], nodes: readonly Node[]): number {
  if (holds.length < SCATTER_FROM) return 0
  const likeliest = nodes.reduce((a, n) => (n.weight > a.weight ? n : a))
  const squares = holds.reduce((sum, h) => sum + (h.merit / likeliest.top - falls(likeliest, h.advanceDegBtdc)) ** 2, 0)
  return Math.sqrt(squares / (holds.length - 3))
}

/**
 * Torque over advance as a parabola with its uncertainty: merit = top (1 - k (advance - best)^2), with what is known of k before any hold. Every
 * best and k on a grid is weighed by how well it explains the holds, and the height is solved for (Bayesian regression).
 * @param holds two or more
 * @param mapDeg advance that the map holds there, crank degrees BTDC
 * @source Heywood, Internal Combustion Engine Fundamentals, section 15.3.1 (torque against spark timing); Gelman et al., Bayesian Data Analysis
 */
export function trialEstimate(holds: readonly Held[], mapDeg: number): TrialEstimate {
  const first = nodesOf(holds, mapDeg, (h) => h.noise)
  const scatter = scatterOf(holds, first)
  const noise = (h: Held) => Math.max(h.noise, scatter)
  const nodes = scatter > Math.max(...holds.map((h) => h.noise)) ? nodesOf(holds, mapDeg, noise) : first
  const leastDeg = mean(nodes, leastOf)
  const top = mean(nodes, (n) => n.top)
  const own = holds.reduce((sum, h) => sum + noise(h), 0) / holds.length
  return {
    leastDeg,
    leastSdDeg: spread(nodes, leastOf),
    bestDeg: mean(nodes, (n) => n.best),
    noise: own,
    curve: (advance) => ({
      share: mean(nodes, (n) => n.top * falls(n, advance)) / top,
      sd:
        Math.hypot(
          spread(nodes, (n) => n.top * falls(n, advance)),
          Math.sqrt(mean(nodes, (n) => n.topVar)),
        ) / top,
    }),
    tells: (advance) => {
      const at = mean(nodes, (n) => n.top * falls(n, advance))
      const along = nodes.reduce((sum, n) => sum + n.weight * (leastOf(n) - leastDeg) * (n.top * falls(n, advance) - at), 0)
      const variance = spread(nodes, (n) => n.top * falls(n, advance)) ** 2 + mean(nodes, (n) => n.topVar) + (own * top) ** 2
      return along ** 2 / variance
    },
  }
}

/** What a measured hold is worth: torque as it is; throttle that holds the same speed the less the better, by its reciprocal. */
export function meritOf(point: { torqueNm?: number; throttlePct?: number }): Pick<Held, 'merit' | 'noise'> | null {
  if (point.torqueNm !== undefined && point.torqueNm > 0) return { merit: point.torqueNm, noise: TORQUE_REPEATS_PCT / 100 }
  if (point.throttlePct !== undefined && point.throttlePct > 0) return { merit: 100 / point.throttlePct, noise: THROTTLE_REPEATS_PCT / 100 }
  return null
}
