import type { PulsePattern } from './trace.ts'

export interface Pulse {
  timeS: number
  /** place in the train, missing ones counted, from the first pulse seen */
  place: number
}
export interface Placed {
  pulses: Pulse[]
  /** when the missing ones should have come, s */
  missing: number[]
  extra: number[]
}

/** What a missing pulse and one too many cost, in the unit of a squared change of pitch over its spread. */
const MISSING_COST = 2.5
const EXTRA_COST = 3
/** No single change counts for more: a jump that nothing explains is one jump. */
const MOST_COST = 16
/** How fast a crank can gain and lose speed, degrees/s^2: 2,000 rpm/s at a start that flares, 400 rpm/s by friction and compression. */
const GAINS_DEG_S2 = 12_000
const LOSES_DEG_S2 = 2_400
/** and by how much at most from one pulse to the next, as a logarithm: two cylinders apart the starter still turns it */
const MOST_GAIN = 1.2
const MOST_LOSS = 0.25
/** bounds of the spread of neighbouring intervals that scatter and speed leave, as a logarithm */
const SPREAD = { least: 0.08, most: 0.18, ofMedian: 4 } as const
const AROUND = 4

/** An interval between two pulses read as so many places, the pulses between them taken for extra. */
interface Reading {
  from: number
  places: number
  pitchS: number
  skipped: number
}

/**
 * Puts pulses on the places of their pattern: of all readings of the train, each interval so many places, each pulse a target or one too many, the one
 * that costs least. A change of pitch costs its square over what the crank's speed may change by in that time; a gap of the wheel costs nothing where
 * the wheel has it, and a pulse in it is one too many.
 * @source G. D. Forney, The Viterbi algorithm, Proc. IEEE 61 (1973)
 */
export function placed(times: readonly number[], pattern: PulsePattern): Placed {
  const wheel = pattern.missing > 0 ? pattern.places : 1
  const teeth = pattern.missing > 0 ? pattern.places - pattern.missing : 1
  const pitchDeg = (360 * pattern.crankTurns) / pattern.places
  const usual = usualIntervals(times)
  const spread = spreadOf(times)
  const changeCost = (before: number, after: number): number => {
    const change = Math.log(after / before)
    const [rate, most] = change < 0 ? [GAINS_DEG_S2, MOST_GAIN] : [LOSES_DEG_S2, MOST_LOSS]
    const allowed = spread + Math.min(most, (rate * Math.max(before, after) * before) / pitchDeg)
    return Math.min(MOST_COST, (change / allowed) ** 2)
  }
  const readings: Reading[][] = times.map((_, j) => readingsAt(times, usual, pattern, j))
  // cost[j][r * wheel + p]: least cost of all that ends with reading r of pulse j at place p of the wheel
  const inGapCost = (place: number) => (place >= teeth ? EXTRA_COST : 0)
  const cost: Float64Array[] = [Float64Array.from({ length: wheel }, (_, place) => inGapCost(place))]
  const via: Int32Array[] = [new Int32Array(wheel).fill(-1)]
  for (let j = 1; j < times.length; j++) {
    const size = readings[j].length * wheel
    cost[j] = new Float64Array(size).fill(Infinity)
    via[j] = new Int32Array(size).fill(-1)
    readings[j].forEach(({ from, places, pitchS, skipped }, r) => {
      const before = from === 0 ? [{ pitchS: NaN }] : readings[from]
      before.forEach((earlier, e) => {
        const own = (from === 0 ? 0 : changeCost(earlier.pitchS, pitchS)) + EXTRA_COST * skipped
        for (let p = 0; p < wheel; p++) {
          const so = cost[from][e * wheel + p]
          if (so === Infinity) continue
          const to = (p + places) % wheel
          const lost = wheel === 1 ? places - 1 : teethBetween(p, places, wheel, teeth)
          const total = so + own + inGapCost(to) + MISSING_COST * lost
          const state = r * wheel + to
          if (total < cost[j][state]) {
            cost[j][state] = total
            via[j][state] = e * wheel + p
          }
        }
      })
    })
  }
  return traced(times, readings, cost, via, wheel, teeth)
}

/** Teeth passed over on the way from place p, `places` further on. */
function teethBetween(p: number, places: number, wheel: number, teeth: number): number {
  let lost = 0
  for (let k = 1; k < places; k++) if ((p + k) % wheel < teeth) lost++
  return lost
}

const median = (list: number[]): number => list.sort((a, b) => a - b)[Math.floor((list.length - 1) / 2)]

function usualIntervals(times: readonly number[]): number[] {
  return times.map((_, j) => {
    const around: number[] = []
    for (let k = Math.max(1, j - AROUND); k <= Math.min(times.length - 1, j + AROUND); k++) around.push(times[k] - times[k - 1])
    return median(around)
  })
}
function spreadOf(times: readonly number[]): number {
  const changes: number[] = []
  for (let j = 2; j < times.length; j++) changes.push(Math.abs(Math.log((times[j] - times[j - 1]) / (times[j - 1] - times[j - 2]))))
  return Math.min(SPREAD.most, Math.max(SPREAD.least, SPREAD.ofMedian * (changes.length ? median(changes) : 0)))
}

/** An interval as long as the usual one within this is read as one place only. */
const PLAIN = { low: 0.75, high: 1.3 } as const
function readingsAt(times: readonly number[], usual: readonly number[], pattern: PulsePattern, j: number): Reading[] {
  const found: Reading[] = []
  for (let skipped = 0; skipped <= 2 && j - 1 - skipped >= 0; skipped++) {
    const from = j - 1 - skipped
    const interval = times[j] - times[from]
    const ratio = interval / usual[j]
    if (skipped > 0) {
      let short = false
      for (let k = from + 1; k <= j; k++) if (times[k] - times[k - 1] < PLAIN.low * usual[j]) short = true
      if (!short) break
    }
    const counts = new Set([1])
    if (ratio > PLAIN.high) {
      for (const n of [Math.floor(ratio), Math.ceil(ratio), pattern.missing + 1]) if (n >= 1) counts.add(n)
    }
    for (const places of counts) found.push({ from, places, pitchS: interval / places, skipped })
  }
  return found
}

function traced(
  times: readonly number[],
  readings: readonly Reading[][],
  cost: readonly Float64Array[],
  via: readonly Int32Array[],
  wheel: number,
  teeth: number,
): Placed {
  let j = times.length - 1
  let state = cost[j].reduce((best, c, s) => (c < cost[j][best] ? s : best), 0)
  const path: { j: number; reading: Reading; at: number }[] = []
  while (j > 0) {
    const reading = readings[j][Math.floor(state / wheel)]
    const before = via[j][state]
    if (before < 0) break
    path.push({ j, reading, at: before % wheel })
    state = before
    j = reading.from
  }
  path.reverse()
  const pulses: Pulse[] = []
  const missing: number[] = []
  const extra: number[] = []
  const put = (pulse: Pulse, onWheel: number) => {
    if (onWheel < teeth) pulses.push(pulse)
    else extra.push(pulse.timeS)
  }
  let place = 0
  put({ timeS: times[j], place }, path.length ? path[0].at : 0)
  for (const { j: to, reading, at } of path) {
    const { from, places, pitchS } = reading
    for (let k = from + 1; k < to; k++) extra.push(times[k])
    for (let k = 1; k < places; k++) if (wheel === 1 || (at + k) % wheel < teeth) missing.push(times[from] + k * pitchS)
    place += places
    put({ timeS: times[to], place }, (at + places) % wheel)
  }
  return { pulses, missing, extra }
}
