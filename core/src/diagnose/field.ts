import { knownAt } from '../tune/index.ts'
import { factorSpd, whitened } from '../kernel/index.ts'
import type { Block } from './blocks.ts'
import type { DiagnosedCar } from './car.ts'

/** How much of what a block wants is the table's, its own noise, and a slow wander. */
export interface Sizes {
  tablePct: number
  noisePct: number
  wanderPct: number
}
/** A known shape of need, one number a block, with how large its size may be beforehand. */
export interface Shape {
  values: Float64Array
  sigma: number
}
/** Marks seen through one field, made white: how well any few of them explain the blocks follows without another look at these. */
interface Looked {
  sizes: Sizes
  /** log of the marginal likelihood with no mark, without its constant */
  logEvidence: number
  /** marks x marks, and marks x need */
  gram: Float64Array
  along: Float64Array
}
/** An explanation: a few marks, by their place in the list, and how likely it is beforehand, as a natural log. */
export interface Model {
  marks: readonly number[]
  logPrior: number
}
export interface Weighed {
  logEvidence: number
  sizes: Sizes
  /** size of each of its marks, with its standard error */
  marks: { size: number; se: number }[]
}

/** A table bends over so much speed and pressure. */
const TABLE_RPM = 750
const TABLE_KPA = 12.5
/** and is rough from cell to cell, by such a share of that, over such a share of these */
const ROUGH = 0.35
const ROUGH_OVER = 0.35
const WANDER_S = 90
/** the noise of a block of so many seconds; a shorter one's is larger, and one's that scatters more */
const NOISE_OF_S = 4
/** a table that was proven is off by no less, % */
const LEAST_TABLE_PCT = 0.6
/** what was known of a cell from one log is off by so many times its standard error */
const KNOWN_OFF = 1.6
const KNOWN_PCT = 4
const TABLE_PCT = [0.5, 1, 2, 4, 7, 12, 20]
const NOISE_PCT = [0.2, 0.4, 0.8, 1.6]
const WANDER_PCT = [0.1, 0.35, 0.8]
/** what a cause does at a place differs from its mark by such a share of it */
const MARK_OFF = 0.06

/**
 * What a sound car's need looks like: a table that is off smoothly by some per cent, no more than is known of it, noise of each block, and a slow
 * wander. How much of each is taken from the log itself. Every cause is held against this: a shape that the field explains as well is no cause.
 * @source Gaussian process regression with a squared-exponential covariance, and evidence by the marginal likelihood: Rasmussen and Williams,
 * Gaussian Processes for Machine Learning, 2.7 and 5.4
 */
export class Field {
  private readonly n: number
  private readonly spreads = new WeakMap<readonly Shape[], Float64Array>()
  private readonly place: Float64Array
  private readonly time: Float64Array
  private readonly need: Float64Array
  /** variance of each block's noise beside a long, quiet one's */
  private readonly noisier: Float64Array
  /** how far the table may be off at each block, by what was known of it before, % */
  private readonly mostPct: Float64Array
  /** most of what was driven had been driven before */
  readonly known: boolean

  constructor(blocks: readonly Block[], known?: DiagnosedCar['known']) {
    const n = (this.n = blocks.length)
    this.place = new Float64Array(n * n)
    this.time = new Float64Array(n * n)
    for (let i = 0; i < n; i++)
      for (let j = 0; j <= i; j++) {
        const [a, b] = [blocks[i], blocks[j]]
        const d2 = ((a.rpm - b.rpm) / TABLE_RPM) ** 2 + ((a.mapKpa - b.mapKpa) / TABLE_KPA) ** 2
        this.place[i * n + j] = (Math.exp(-d2 / 2) + ROUGH ** 2 * Math.exp(-d2 / (2 * ROUGH_OVER ** 2))) / (1 + ROUGH ** 2)
        this.time[i * n + j] = Math.exp(-Math.abs(a.timeS - b.timeS) / WANDER_S)
      }
    this.need = Float64Array.from(blocks, (b) => b.needPct)
    const usual = Math.max(1e-3, [...blocks.map((b) => b.scatterPct)].sort((a, b) => a - b)[n >> 1])
    this.noisier = Float64Array.from(
      blocks,
      (b) => (Math.max(1, b.scatterPct / usual) ** 2 * NOISE_OF_S ** 2) / Math.min(NOISE_OF_S, b.seconds) ** 2,
    )
    this.mostPct = Float64Array.from(blocks, (b) =>
      known ? Math.max(LEAST_TABLE_PCT, KNOWN_OFF * knownAt(known, b).standardErrorPct) : Infinity,
    )
    this.known = this.mostPct.slice().sort()[n >> 1] < KNOWN_PCT
  }

  /** What the table may be off by at each block when it is off by so much where nothing is known of it, %. */
  tableAt(tablePct: number): Float64Array {
    return this.mostPct.map((most) => Math.min(tablePct, most))
  }

  private look(sizes: Sizes, nuisance: readonly Shape[], marks: readonly Shape[], extra?: (i: number, j: number) => number): Looked {
    const { n, place, time } = this
    const k = this.spreadOf(nuisance).slice()
    const table = this.tableAt(sizes.tablePct)
    const w2 = sizes.wanderPct ** 2
    for (let i = 0; i < n; i++) {
      const row = i * n
      for (let j = 0; j <= i; j++) k[row + j] += table[i] * table[j] * place[row + j] + w2 * time[row + j]
      if (extra) for (let j = 0; j <= i; j++) k[row + j] += extra(i, j)
      k[row + i] += sizes.noisePct ** 2 * this.noisier[i]
    }
    factorSpd(k, n)
    const white = whitened(k, this.need)
    let logEvidence = 0
    for (let i = 0; i < n; i++) logEvidence -= white[i] ** 2 / 2 + Math.log(k[i * n + i])
    const z = marks.map((m) => whitened(k, m.values))
    const p = z.length
    const gram = new Float64Array(p * p)
    for (let a = 0; a < p; a++) for (let b = 0; b <= a; b++) gram[a * p + b] = gram[b * p + a] = dot(z[a], z[b])
    return { sizes, logEvidence, gram, along: Float64Array.from(z, (v) => dot(v, white)) }
  }

  /** Covariance of what a sound table may show; the same list is asked for again and again. */
  private spreadOf(nuisance: readonly Shape[]): Float64Array {
    const known = this.spreads.get(nuisance)
    if (known) return known
    const { n } = this
    const k = new Float64Array(n * n)
    for (const { values, sigma } of nuisance)
      for (let i = 0; i < n; i++) {
        const v = sigma * sigma * values[i]
        for (let j = 0; j <= i; j++) k[i * n + j] += v * values[j]
      }
    this.spreads.set(nuisance, k)
    return k
  }

  /** The sizes that explain the blocks best with some shapes allowed everywhere, each in its turn over a few steps. */
  fitted(nuisance: readonly Shape[]): Sizes {
    let best: Looked | null = null
    const better = (sizes: Sizes) => {
      const tried = this.look(sizes, nuisance, [])
      if (!best || tried.logEvidence > best.logEvidence) best = tried
      return best.sizes
    }
    let sizes = better({ tablePct: 2, noisePct: 0.6, wanderPct: 0.35 })
    for (const noisePct of NOISE_PCT) sizes = better({ ...sizes, noisePct })
    for (const tablePct of TABLE_PCT) sizes = better({ ...sizes, tablePct })
    for (const wanderPct of WANDER_PCT) sizes = better({ ...sizes, wanderPct })
    for (const noisePct of NOISE_PCT) sizes = better({ ...sizes, noisePct })
    return sizes
  }

  /**
   * Weighs explanations against each other, over every size that the table may be off by.
   * @param nuisance what the table may lean by when it is off by so much
   * @param extra added to the covariance: something that is not a fixed shape, such as bursts
   */
  weighing(
    marks: readonly Shape[],
    { noisePct, wanderPct }: Pick<Sizes, 'noisePct' | 'wanderPct'>,
    nuisance: (tablePct: number) => readonly Shape[],
    extra?: (i: number, j: number) => number,
    tables: readonly number[] = TABLE_PCT,
  ): (model: Model) => Weighed {
    const looked = tables.map((tablePct) => this.look({ tablePct, noisePct, wanderPct }, nuisance(tablePct), marks, extra))
    return (model) => weighed(looked, marks, model)
  }

  /**
   * The same explanation when its marks are only nearly what the cause does: together they may be off at a place by a share of what they add there. Where the
   * explanation was weighed before, so that its sizes are known.
   */
  loosely(
    marks: readonly Shape[],
    nuisance: (tablePct: number) => readonly Shape[],
    { marks: found, sizes }: Weighed,
    logPrior: number,
  ): Weighed {
    const { n, place } = this
    const off = Float64Array.from({ length: n }, (_, i) => MARK_OFF * marks.reduce((sum, m, k) => sum + m.values[i] * found[k].size, 0))
    const extra = (i: number, j: number) => place[i * n + j] * off[i] * off[j]
    const at = TABLE_PCT.indexOf(sizes.tablePct)
    const tables = TABLE_PCT.slice(Math.max(0, at - 1), at + 1)
    return this.weighing(marks, sizes, nuisance, extra, tables)({ marks: marks.map((_, k) => k), logPrior })
  }
}

/** @source Bayesian linear regression, its evidence and its posterior: MacKay, Information Theory, Inference, and Learning Algorithms, chapter 28 */
function weighed(looked: readonly Looked[], all: readonly Shape[], { marks, logPrior }: Model): Weighed {
  const [p, m] = [all.length, marks.length]
  const each = looked.map((at) => {
    // precision of the sizes: what the blocks tell, and what is known beforehand
    const a = new Float64Array(m * m)
    let log = at.logEvidence + logPrior
    for (let i = 0; i < m; i++) {
      for (let j = 0; j < m; j++) a[i * m + j] = at.gram[marks[i] * p + marks[j]]
      const { sigma } = all[marks[i]]
      a[i * m + i] += 1 / sigma ** 2
      log -= Math.log(sigma)
    }
    factorSpd(a, m)
    const x = whitened(
      a,
      marks.map((k) => at.along[k]),
    )
    for (let i = 0; i < m; i++) log += x[i] ** 2 / 2 - Math.log(a[i * m + i])
    return { at, a, x, log }
  })
  const { at, a, x } = each.reduce((best, e) => (e.log > best.log ? e : best))
  const size = Float64Array.from(x)
  for (let i = m - 1; i >= 0; i--) {
    for (let k = i + 1; k < m; k++) size[i] -= a[k * m + i] * size[k]
    size[i] /= a[i * m + i]
  }
  const found = Array.from(size, (v, i) => {
    const unit = new Float64Array(m)
    unit[i] = 1
    return { size: v, se: Math.sqrt(whitened(a, unit).reduce((sum, w) => sum + w * w, 0)) }
  })
  return { logEvidence: logSum(each.map((e) => e.log)) - Math.log(TABLE_PCT.length), sizes: at.sizes, marks: found }
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i]
  return sum
}

/** log of a sum of exponentials */
export function logSum(logs: readonly number[]): number {
  const top = Math.max(...logs)
  return top === -Infinity ? top : top + Math.log(logs.reduce((sum, v) => sum + Math.exp(v - top), 0))
}
/** log of twice the normal distribution below z: what is gained by knowing the sign. */
export function logHalf(z: number): number {
  if (z < -5) return -z * z * 0.5 - Math.log(-z * 1.2533)
  // Abramowitz and Stegun 26.2.17
  const t = 1 / (1 + 0.2316419 * Math.abs(z))
  const tail =
    Math.exp((-z * z) / 2) * 0.39894228 * t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))))
  return Math.log(2 * (z > 0 ? 1 - tail : tail))
}
