import { factorSpd, whitened } from '../kernel/index.ts'
import type { Block } from './blocks.ts'

/**
 * What a sound car's need looks like: a table that is off smoothly by some per cent, noise of each block, and a slow wander. How much of each is
 * taken from the log itself. Every cause is then held against this: a shape that the field explains as well is no cause.
 * @source Gaussian process regression with a squared-exponential covariance, and evidence by the marginal likelihood: Rasmussen and Williams,
 * Gaussian Processes for Machine Learning, 2.7 and 5.4
 */
export interface Field {
  /** Cholesky factor of the covariance, n x n */
  factor: Float64Array
  /** what the blocks want, made white */
  white: Float64Array
  /** log of the marginal likelihood, without its constant */
  logEvidence: number
  tablePct: number
  noisePct: number
  wanderPct: number
}
/** A known shape of need, one number a block, with how large its size may be beforehand. */
export interface Shape {
  values: Float64Array
  sigma: number
}

/** A table bends over so much speed and pressure. */
const TABLE_RPM = 750
const TABLE_KPA = 12.5
const WANDER_S = 90
const TABLE_PCT = [0.7, 1.4, 2.5, 4, 6]
const NOISE_PCT = [0.15, 0.3, 0.6, 1.2, 2.4]
const WANDER_PCT = [0.1, 0.35, 0.8]
/** the noise of a block of so many seconds; a shorter one's is larger */
const NOISE_OF_S = 4

function covariance(
  blocks: readonly Block[],
  sizes: Pick<Field, 'tablePct' | 'noisePct' | 'wanderPct'>,
  nuisance: readonly Shape[],
): Float64Array {
  const n = blocks.length
  const k = new Float64Array(n * n)
  const { tablePct, noisePct, wanderPct } = sizes
  for (let i = 0; i < n; i++) {
    const a = blocks[i]
    for (let j = 0; j <= i; j++) {
      const b = blocks[j]
      const d = ((a.rpm - b.rpm) / TABLE_RPM) ** 2 + ((a.mapKpa - b.mapKpa) / TABLE_KPA) ** 2
      let v = tablePct ** 2 * Math.exp(-d / 2) + wanderPct ** 2 * Math.exp(-Math.abs(a.timeS - b.timeS) / WANDER_S)
      for (const { values, sigma } of nuisance) v += sigma * sigma * values[i] * values[j]
      k[i * n + j] = v
    }
    k[i * n + i] += (noisePct ** 2 * NOISE_OF_S) / Math.min(NOISE_OF_S, a.seconds)
  }
  return k
}

/** @param extra added to the covariance: something that is not a fixed shape, such as bursts */
export function fieldOf(
  blocks: readonly Block[],
  sizes: Pick<Field, 'tablePct' | 'noisePct' | 'wanderPct'>,
  nuisance: readonly Shape[],
  extra?: (i: number, j: number) => number,
): Field {
  const n = blocks.length
  const factor = covariance(blocks, sizes, nuisance)
  if (extra) for (let i = 0; i < n; i++) for (let j = 0; j <= i; j++) factor[i * n + j] += extra(i, j)
  factorSpd(factor, n)
  const white = whitened(
    factor,
    blocks.map((b) => b.needPct),
  )
  let logEvidence = 0
  for (let i = 0; i < n; i++) logEvidence -= white[i] ** 2 / 2 + Math.log(factor[i * n + i])
  const { tablePct, noisePct, wanderPct } = sizes
  return { factor, white, logEvidence, tablePct, noisePct, wanderPct }
}

/** The field whose sizes explain the blocks best, each size in its turn over a few steps. */
export function fittedField(blocks: readonly Block[], nuisance: readonly Shape[]): Field {
  let best = fieldOf(blocks, { tablePct: 2.5, noisePct: 0.6, wanderPct: 0.35 }, nuisance)
  const better = (sizes: Pick<Field, 'tablePct' | 'noisePct' | 'wanderPct'>) => {
    const tried = fieldOf(blocks, sizes, nuisance)
    if (tried.logEvidence > best.logEvidence) best = tried
  }
  for (let pass = 0; pass < 2; pass++) {
    const { tablePct, noisePct, wanderPct } = best
    for (const v of NOISE_PCT) if (v !== noisePct) better({ tablePct: best.tablePct, noisePct: v, wanderPct: best.wanderPct })
    for (const v of TABLE_PCT) if (v !== tablePct) better({ tablePct: v, noisePct: best.noisePct, wanderPct: best.wanderPct })
    for (const v of WANDER_PCT) if (v !== wanderPct) better({ tablePct: best.tablePct, noisePct: best.noisePct, wanderPct: v })
    if (best.tablePct === tablePct && best.noisePct === noisePct && best.wanderPct === wanderPct) break
  }
  return best
}

/** How much better a shape explains the blocks than the field alone, and how large it is. */
export interface ShapeFit {
  size: number
  se: number
  /** log of the Bayes factor of "it is there, of that sign, beyond what a sound car may show" over "it is not" */
  logBayes: number
}

/**
 * @param sign +1 or -1: it can only be that way; 0: either
 * @param allowed what a sound car may show of the same shape, as a size: the field is a picture of a sound table, not the table
 */
export function fitShape(field: Field, { values, sigma }: Shape, sign: -1 | 0 | 1 = 0, allowed = 0): ShapeFit {
  const z = whitened(field.factor, values)
  let a = 0
  let b = 0
  for (let i = 0; i < z.length; i++) {
    a += z[i] * z[i]
    b += z[i] * field.white[i]
  }
  const precision = a + 1 / sigma ** 2
  const size = b / precision
  const se = 1 / Math.sqrt(precision)
  const beyond = Math.max(0, Math.abs(size) - allowed) / se
  const gain = (beyond * beyond) / 2 - Math.log(1 + sigma * sigma * a) / 2
  return { size, se, logBayes: sign === 0 ? gain : gain + logHalf((sign * size) / se) }
}
/** log of twice the normal distribution below z: what is gained by knowing the sign. */
function logHalf(z: number): number {
  if (z < -5) return -z * z * 0.5 - Math.log(-z * 1.2533)
  // Abramowitz and Stegun 26.2.17
  const t = 1 / (1 + 0.2316419 * Math.abs(z))
  const tail =
    Math.exp((-z * z) / 2) * 0.39894228 * t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))))
  return Math.log(2 * (z > 0 ? 1 - tail : tail))
}
