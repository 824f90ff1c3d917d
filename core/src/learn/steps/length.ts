import {
  HELD_S,
  KICK_PCT,
  KNOWN_TO_TIMES,
  LATE_S,
  LEAST_LENGTH_S,
  LEAST_STEPS,
  LENGTHS_AN_OCTAVE,
  MAP_APART_PCT,
  MIXES_S,
  MOST_LENGTH_S,
  MOST_TIMES,
  OCTAVES,
  RIGHT_PCT_S,
  STEP_WARM_C,
  STILL_BEFORE_S,
} from './limits.ts'
import { beyondMap, type Log, mean, type Opening, openingsIn, rowsBetween, sum, type Traces, tracesOf } from './traces.ts'

/** How long the fuel for a step of a cold engine lasts, beside how long it is wanted. */
export interface StepLength {
  steps: number
  /** coolant over them on the mean, degC */
  coolantC: number
  /** time constant by which the fuel for a step decays in the tune, s, and the one that fits the steps best, with 95 % about it */
  standsS: number
  fitsS: number
  fromS: number
  toS: number
  /** fuel that comes too early or too late over a step however much is given in all, %·s */
  misplacedPctS: number
  says: 'too-few' | 'unsure' | 'right' | 'too-short' | 'too-long'
  /** what is proposed: a warm engine gets as much as it did, a cold one as much as it wants */
  next: { lengthS: number; warmTimes: number; coldTimes: number } | null
}

/** Rows of an opening, and what was given at each beyond what was given before it. */
interface Given {
  rows: number[]
  dtS: number[]
  pct: Float64Array
}
function givenOver({ timeS, given }: Traces, { atS, still }: Opening): Given {
  const rows = rowsBetween(timeS, atS - STILL_BEFORE_S, atS + HELD_S)
  const before = mean(still.map((k) => given![k]))
  return { rows, dtS: rows.map((k, n) => (n ? timeS[k] - timeS[k - 1] : 0)), pct: Float64Array.from(rows, (k) => given![k] - before) }
}
/** What would have been given, had each kick lasted for so long. */
function lasting({ dtS, pct }: Given, standsS: number, lengthS: number): Float64Array {
  const made = new Float64Array(pct.length)
  for (let n = 1; n < made.length; n++) {
    const kick = pct[n] > pct[n - 1] * Math.exp(-dtS[n] / standsS) + KICK_PCT ? pct[n] : 0
    made[n] = Math.max(made[n - 1] * Math.exp(-dtS[n] / lengthS), kick)
  }
  return made
}
/** What a sensor shows of it that is so late and mixes over so long. */
function shown(values: Float64Array, { dtS }: Given, lateS: number, mixesS: number): Float64Array {
  const made = new Float64Array(values.length)
  for (let n = 1; n < made.length; n++) {
    let from = n
    let left = lateS
    while (from > 0 && left >= dtS[from]) left -= dtS[from--]
    const share = from > 0 ? left / dtS[from] : 0
    const comes = values[from] - share * (values[from] - values[Math.max(0, from - 1)])
    made[n] = made[n - 1] + (comes - made[n - 1]) * (1 - Math.exp(-dtS[n] / mixesS))
  }
  return made
}

const OVER_STANDS = Array.from({ length: 2 * OCTAVES * LENGTHS_AN_OCTAVE + 1 }, (_, k) => 2 ** (k / LENGTHS_AN_OCTAVE - OCTAVES))
const STANDS = OCTAVES * LENGTHS_AN_OCTAVE
const ARRIVALS = LATE_S.flatMap((lateS) => MIXES_S.map((mixesS) => ({ lateS, mixesS })))

/** Sums of one opening for each arrival: what was wanted squared, and for each length its product with the fuel, and that squared. */
interface Sums {
  wanted: number[]
  product: number[][]
  square: number[][]
  /** the fuel itself, for each length */
  fuel: Float64Array[]
  dtS: number[]
}
function sumsOf(t: Traces, opening: Opening, standsS: number): Sums {
  const over = givenOver(t, opening)
  const { rows } = over
  const first = rows[0]
  const counts = rows.flatMap((k, n) => (t.timeS[k] >= opening.atS && Number.isFinite(t.lacks(k)) ? [n] : []))
  const beyond = (values: Float64Array): number[] => {
    const { of } = beyondMap(t, opening, (k) => values[k - first])
    return counts.map((n) => of(rows[n]))
  }
  const dot = (a: readonly number[], b: readonly number[]): number => a.reduce((all, v, n) => all + v * b[n], 0)
  const missing = beyond(Float64Array.from(rows, (k) => t.lacks(k)))
  const fuel = OVER_STANDS.map((times) => lasting(over, standsS, times * standsS))
  const sums: Sums = { wanted: [], product: [], square: [], fuel, dtS: over.dtS.map((dt, n) => (counts.includes(n) ? dt : 0)) }
  for (const { lateS, mixesS } of ARRIVALS) {
    const was = beyond(shown(over.pct, over, lateS, mixesS))
    const wanted = missing.map((v, n) => v + was[n])
    const seen = fuel.map((values) => beyond(shown(values, over, lateS, mixesS)))
    sums.wanted.push(dot(wanted, wanted))
    sums.product.push(seen.map((values) => dot(wanted, values)))
    sums.square.push(seen.map((values) => dot(values, values)))
  }
  return sums
}

/** Least squares over some openings: for each length what it leaves and how many times the fuel is wanted with it, at the arrival that fits it best. */
function fitted(openings: readonly Sums[]): { left: number[]; times: number[]; best: number; octaves: number } {
  const left = OVER_STANDS.map(() => Infinity)
  const times = OVER_STANDS.map(() => 0)
  ARRIVALS.forEach((_, a) => {
    const wanted = sum(openings.map((o) => o.wanted[a]))
    OVER_STANDS.forEach((_length, k) => {
      const square = sum(openings.map((o) => o.square[a][k]))
      const product = Math.max(0, sum(openings.map((o) => o.product[a][k])))
      const leaves = square > 0 ? wanted - product ** 2 / square : wanted
      if (leaves < left[k]) [left[k], times[k]] = [leaves, square > 0 ? product / square : 0]
    })
  })
  const best = left.indexOf(Math.min(...left))
  const [low, , high] = [left[best - 1], left[best], left[best + 1]]
  // the lowest of the parabola through three neighbours
  const bend = low - 2 * left[best] + high
  const beside = bend > 0 ? (low - high) / (2 * bend) : 0
  return { left, times, best, octaves: (best + beside) / LENGTHS_AN_OCTAVE - OCTAVES }
}

/** Over an opening, the mean of all, in what a row gives times seconds. */
const areaOver = (openings: readonly Sums[], of: (o: Sums, row: number) => number): number =>
  mean(openings.map((o) => sum(o.dtS.map((dt, row) => (dt ? dt * of(o, row) : 0)))))
/** The length that fits best of those that one pass may go to. */
function proposed(openings: readonly Sums[], { left, times }: ReturnType<typeof fitted>, standsS: number): StepLength['next'] {
  const within = OVER_STANDS.flatMap((over, k) => {
    const lengthS = over * standsS
    const onePass = Math.abs(Math.log2(over)) <= Math.log2(MOST_TIMES) + 1e-9
    return onePass && lengthS >= LEAST_LENGTH_S && lengthS <= MOST_LENGTH_S ? [k] : []
  })
  const at = within.reduce((best, k) => (left[k] < left[best] ? k : best), STANDS)
  if (at === STANDS) return null
  const warmTimes = areaOver(openings, (o, row) => o.fuel[STANDS][row]) / areaOver(openings, (o, row) => o.fuel[at][row])
  const coldTimes = Math.min(MOST_TIMES, Math.max(1 / MOST_TIMES, times[at] / warmTimes))
  return { lengthS: Math.round(100 * OVER_STANDS[at] * standsS) / 100, warmTimes, coldTimes }
}

/** What the map lacks after an opening over what it lacked before, without what is still given for the step by then, %. */
function mapApartPct(t: Traces, opening: Opening): number {
  const [lacks, gives] = [t.lacks, (k: number) => t.given![k]].map((read) => beyondMap(t, opening, read))
  return lacks.afterPct - lacks.beforePct + gives.afterPct - gives.beforePct
}
/** What the bounds of a length and what comes at the wrong moment say together. */
export function lengthSays({
  standsS,
  fitsS,
  fromS,
  toS,
  misplacedPctS,
}: Pick<StepLength, 'standsS' | 'fitsS' | 'fromS' | 'toS' | 'misplacedPctS'>): StepLength['says'] {
  const felt = misplacedPctS > RIGHT_PCT_S
  const inside = standsS >= fromS && standsS <= toS
  if (inside) return felt || toS / fromS > KNOWN_TO_TIMES ? 'unsure' : 'right'
  return !felt ? 'right' : standsS < fitsS ? 'too-short' : 'too-long'
}

/**
 * How long the fuel for a step should last, from steps of a cold engine: what was given and what was missing is what was wanted, and the kicks that were
 * given, each decaying with another time constant, are laid through it by least squares, seen late and mixed as the sensor sees. A warm film dries within
 * a fifth of a second: its steps tell the amount and not the length. The 95 % are two standard errors, by leaving each step out in turn.
 * @param standsS time constant of the tune that was driven, s
 * @returns null where the log does not tell what was given
 * @source Aquino, SAE 810494 (a film gives off fuel as an exponential); Tukey 1958 (jackknife)
 */
export function judgeLength(log: Log, standsS: number, causeMapKpa?: Float32Array): StepLength | null {
  const t = tracesOf(log, causeMapKpa)
  if (!t?.given || !t.coolantC) return null
  const openings = openingsIn(t).filter((o) => t.coolantC![o.row] < STEP_WARM_C && Math.abs(mapApartPct(t, o)) <= MAP_APART_PCT)
  const n = openings.length
  const coolantC = n ? mean(openings.map((o) => t.coolantC![o.row])) : NaN
  if (n < LEAST_STEPS) {
    const unknown = { fitsS: NaN, fromS: NaN, toS: NaN, misplacedPctS: NaN }
    return { steps: n, coolantC, standsS, ...unknown, says: 'too-few', next: null }
  }
  const sums = openings.map((o) => sumsOf(t, o, standsS))
  const all = fitted(sums)
  const without = sums.map((_, k) => fitted(sums.filter((_s, j) => j !== k)).octaves)
  const middle = mean(without)
  const error = Math.max(1 / 2 / LENGTHS_AN_OCTAVE, Math.sqrt(((n - 1) / n) * sum(without.map((o) => (o - middle) ** 2))))
  const [fromS, fitsS, toS] = [-2, 0, 2].map((errors) => standsS * 2 ** (all.octaves + errors * error))
  const [stood, fits] = [STANDS, all.best]
  const misplacedPctS = areaOver(sums, (o, row) => Math.abs(all.times[stood] * o.fuel[stood][row] - all.times[fits] * o.fuel[fits][row]))
  const says = lengthSays({ standsS, fitsS, fromS, toS, misplacedPctS })
  const next = says === 'too-short' || says === 'too-long' ? proposed(sums, all, standsS) : null
  return { steps: n, coolantC, standsS, fitsS, fromS, toS, misplacedPctS, says, next }
}
