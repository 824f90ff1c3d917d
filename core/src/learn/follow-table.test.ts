import { describe, expect, it } from 'vitest'
import { Random } from '../kernel/random.ts'
import { followTable } from './follow-table.ts'

const axes = { rpm: [800, 1600, 2400, 3200], mapKpa: [30, 50, 70, 90] }
const share = (axis: number[], v: number) => {
  const i = Math.min(axis.length - 2, Math.max(0, axis.findIndex((a) => a > v) - 1))
  return { i, f: Math.min(1, Math.max(0, (v - axis[i]) / (axis[i + 1] - axis[i]))) }
}
const weights = (rpm: number, mapKpa: number): [number, number][] => {
  const x = share(axes.rpm, rpm)
  const y = share(axes.mapKpa, mapKpa)
  const a = y.i * 4 + x.i
  return [
    [a, (1 - x.f) * (1 - y.f)],
    [a + 1, x.f * (1 - y.f)],
    [a + 4, (1 - x.f) * y.f],
    [a + 5, x.f * y.f],
  ]
}
/** A unit that goes towards `want` by its weights, a share of what is left in a second, along a path; rows ten times a second. */
function learning(
  path: (t: number, r: Random) => [number, number],
  seconds: number,
  { begin = 0, want = ((_r, _m) => 0) as (rpm: number, mapKpa: number) => number, perS = 0, noisy = 0, seed = 1 } = {},
) {
  const random = new Random(seed)
  const held = new Array<number>(16).fill(begin)
  const rows = Array.from({ length: seconds * 10 }, (_, i) => {
    const [rpm, mapKpa] = path(i / 10, random)
    const w = weights(rpm, mapKpa)
    const at = w.reduce((sum, [c, s]) => sum + s * held[c], 0)
    for (const [c, s] of w) held[c] += s * (want(rpm, mapKpa) - at) * perS * 0.1
    return { t: i / 10, rpm: rpm + noisy * 10 * random.normal(), mapKpa: mapKpa + noisy * 0.4 * random.normal(), at }
  })
  const of = (k: 'rpm' | 'mapKpa' | 'at') => Float32Array.from(rows, (r) => r[k])
  return {
    held,
    log: { timeS: Float64Array.from(rows, (r) => r.t), channels: { rpm: of('rpm'), mapKpa: of('mapKpa'), learnedPct: of('at') } },
  }
}
/** everywhere, a new place each two seconds */
const wander = () => {
  let at: [number, number] = [800, 30]
  return (t: number, r: Random): [number, number] => {
    if (Math.abs(t - 2 * Math.round(t / 2)) < 0.05) at = [800 + 2400 * r.next(), 30 + 60 * r.next()]
    return at
  }
}
const worst = (cells: Float64Array, held: number[]) => Math.max(...held.map((h, c) => Math.abs(cells[c] - h)))

describe('a unit’s own table, followed through a log', () => {
  it('what stood still is known to a tenth of a per cent, wherever it was driven', () => {
    const { log, held } = learning(wander(), 300, { begin: 7 })
    expect(worst(followTable(log, axes).cells, held)).toBeLessThan(0.1)
  })
  it.each([1, 2, 3])('while it learns, what it holds at the end is told to one per cent, seed %i', (seed) => {
    const want = (rpm: number, mapKpa: number) => 12 - rpm / 250 + mapKpa / 20
    const { log, held } = learning(wander(), 400, { want, perS: 1 / 15, noisy: 1, seed })
    expect(Math.max(...held) - Math.min(...held)).toBeGreaterThan(6)
    expect(worst(followTable(log, axes).cells, held)).toBeLessThan(1)
  })
  it('what was never visited is taken as its neighbours are, and fades to nothing with distance', () => {
    const { log } = learning(() => [1000, 35], 60, { begin: 10 })
    const { cells, movedPct } = followTable(log, axes)
    expect(cells[0]).toBeGreaterThan(9)
    expect(cells[15]).toBeGreaterThan(0)
    expect(cells[15]).toBeLessThan(3)
    expect(movedPct.every((m) => Number.isNaN(m))).toBe(true)
  })
  it('a cell that learned between two visits ten seconds and more apart has moved by as much; nine seconds are one visit', () => {
    const between = (awayS: number) => (t: number) => (t < 20 || t >= 20 + awayS ? [800, 30] : [3200, 90]) as [number, number]
    const { log } = learning(between(20), 80, { want: () => 6, perS: 1 / 20 })
    // first order: 6 (1 - exp(-1)) after the first visit of 20 s, 6 (1 - exp(-3)) after the second of 40 s
    const wanted = 6 * (Math.exp(-1) - Math.exp(-3))
    expect(Math.abs(followTable(log, axes).movedPct[0] - wanted)).toBeLessThan(0.15)
    expect(followTable(learning(between(9), 80, { want: () => 6, perS: 1 / 20 }).log, axes).movedPct[0]).toBeNaN()
    expect(followTable(learning(between(11), 80, { want: () => 6, perS: 1 / 20 }).log, axes).movedPct[0]).not.toBeNaN()
  })
  it('rows without a reading, or with the engine standing, tell nothing', () => {
    const { log, held } = learning(wander(), 200, { begin: 4 })
    for (let i = 0; i < log.timeS.length; i += 3) log.channels.learnedPct[i] = NaN
    for (let i = 1; i < log.timeS.length; i += 3) {
      log.channels.rpm[i] = 0
      log.channels.learnedPct[i] = 90
    }
    expect(worst(followTable(log, axes).cells, held)).toBeLessThan(0.2)
  })
  it('a table that was loaded anew between two drives is known to 0.2 % after two seconds at a place', () => {
    const [a, b] = [learning(wander(), 120, { begin: 2 }).log, learning(() => [1600, 50], 2, { begin: 9 }).log]
    const both = (k: 'rpm' | 'mapKpa' | 'learnedPct') => Float32Array.from([...a.channels[k], ...b.channels[k]])
    const timeS = Float64Array.from([...a.timeS, ...b.timeS.map((t) => t + a.timeS.at(-1)! + 60)])
    const { cells } = followTable({ timeS, channels: { rpm: both('rpm'), mapKpa: both('mapKpa'), learnedPct: both('learnedPct') } }, axes)
    expect(Math.abs(cells[5] - 9)).toBeLessThan(0.2)
  })
})
