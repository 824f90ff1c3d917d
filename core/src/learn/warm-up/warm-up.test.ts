import { describe, expect, it } from 'vitest'
import { soundBuild } from '../../judge/made-up.fixture.ts'
import { computeBaseTune, TuneParameters } from '../../tune/index.ts'
import { learnSetup } from '../setup.ts'
import { applyWarmUp, judgeWarmUp } from './warm-up.ts'

const { facts, choices } = soundBuild()
const tune = computeBaseTune(facts, choices)
const setup = learnSetup({ facts, choices }, tune)

interface Made {
  fromC?: number
  /** degC a second; one degree in three seconds makes ten blocks of a band */
  risesCS?: number
  /** fuel missing, %, at a coolant temperature and a time */
  missing?: (coolantC: number, t: number) => number
  warmS?: number
  /** where it is driven warm, and where cold */
  rpm?: (coolantC: number) => number
  given?: (coolantC: number) => number
  cranksS?: number
  /** nothing is read before */
  readsFromS?: number
}
/** An engine held at one place while it warms, ten rows a second, and held there warm for half a minute more. */
function made({ fromC = 20, risesCS = 1 / 3, missing = () => 0, warmS = 30, rpm = () => 2000, ...more }: Made = {}) {
  const { given, cranksS = 0, readsFromS = 2 } = more
  const time = Array.from({ length: Math.round(10 * ((85 - fromC) / risesCS + warmS)) }, (_, i) => i / 10)
  const coolant = (t: number) => Math.min(85, fromC + risesCS * t)
  const column = (of: (t: number) => number) => Float32Array.from(time, of)
  return {
    timeS: Float64Array.from(time),
    channels: {
      rpm: column((t) => (t < cranksS ? 200 : rpm(coolant(t)))),
      mapKpa: column(() => 50),
      lambda: column((t) => (t < readsFromS ? NaN : 1 + missing(coolant(t), t) / 100)),
      lambdaTarget: column(() => 1),
      coolantC: column(coolant),
      ...(given ? { enrichmentPct: column((t) => given(coolant(t))) } : {}),
    },
  }
}
const judged = (m: Made = {}) => judgeWarmUp(made(m), setup, tune)
const bandAt = (m: Made, fromC: number) => judged(m).bands.find((b) => b.fromC === fromC)!

describe('what a cold engine is told by', () => {
  it('is what is missing beyond what the same place lacks when warm', () => {
    // (1 + 8 %) / (1 + 8 %) = 1: the map lacks it all; (1.1448 / 1.08) = 1.06
    expect(judged({ missing: () => 8 })).toMatchObject({ says: 'right', next: null })
    const { bands, says } = judged({ missing: (c) => (c < 72 ? 14.48 : 8) })
    expect(says).toBe('off')
    for (const b of bands.filter((x) => x.toC <= 70)) expect(b.missingPct).toBeCloseTo(6, 1)
  })
  it('says what is given in a band and what would be on target', () => {
    // 40 to 50 degC lies between 25 % at 20 and 8 % at 50: 25 - 17 x 25 / 30 = 10.8 on the mean; 110.8 x 1.06 - 100 = 17.5
    const b = bandAt({ missing: (c) => (c < 72 ? 6 : 0) }, 40)
    expect(Math.abs(b.givenPct - 10.8)).toBeLessThan(0.3)
    expect(Math.abs(b.wantedPct - 17.5)).toBeLessThan(0.3)
  })
  it('over what was given, which it need not know', () => {
    const lean = (c: number) => (c < 50 ? 6 : 0)
    expect(judged({ missing: lean, given: (c) => Math.max(0, 60 - c) })).toEqual(judged({ missing: lean }))
  })
  it.each([
    ['2.2 % lean', 2.2, 'lean'],
    ['1.8 % lean', 1.8, 'right'],
    ['7.6 % richer than the target', -7.6, 'right'],
    ['8.4 % richer', -8.4, 'rich'],
  ])('%s', (_what, pct, says) => expect(bandAt({ missing: (c) => (c < 70 ? pct : 0) }, 40).says).toBe(says))
  // 10 degC in nine seconds, some of which are not read
  it.each([
    ['8.4 s of a band', 0.6, 'right'],
    ['7.5 s', 1.5, 'unsure'],
  ])('%s', (_what, lostS, says) => {
    const lost = (c: number) => (c > 44 && c < 44 + (lostS * 10) / 9 ? NaN : 0)
    expect(bandAt({ risesCS: 10 / 9, missing: lost }, 40).says).toBe(says)
  })
  it.each([
    // ten blocks of plus and minus: an error of sd / sqrt(9)
    ['known to 1.4 %', 4.2, 0, 'right'],
    ['known to 1.6 %: it may be lean', 4.8, 0, 'unsure'],
    ['known to 1.6 %, and 4 % over what is lean', 4.8, 6, 'lean'],
    ['known to 1.6 %, and 3 % over', 4.8, 5, 'unsure'],
  ])('%s', (_what, sd, mean, says) => {
    const swings = (c: number, t: number) => (c < 72 ? mean + (Math.floor((t - 2 + 1e-9) / 3) % 2 ? sd : -sd) : 0)
    const b = bandAt({ missing: swings, fromC: 20 - 2 / 3 }, 40)
    expect(b.errorPct).toBeCloseTo(sd / 3, 1)
    expect(b.says).toBe(says)
  })
  it('never a place that nobody drove warm: the map comes first', () => {
    const elsewhere = judged({ rpm: (c) => (c < 72 ? 1200 : 4500) })
    expect(elsewhere).toMatchObject({ says: 'map-first', next: null, bands: [] })
    expect(elsewhere.mapUnknownS).toBeGreaterThan(140)
    // after a change of speed some two seconds settle and two more are wanted
    const warmFor = (s: number) => judged({ rpm: (c) => (c >= 72 && c < 85 - s / 3 ? 4500 : 2000), warmS: 0 }).says
    expect(warmFor(3.1)).toBe('map-first')
    expect(warmFor(3.5)).toBe('right')
  })
  it('nor the seconds after a start, nor a log without coolant or without a cold engine', () => {
    const lost = (c: number, t: number) => (t < 21 ? 40 : 0 * c)
    expect(judged({ cranksS: 1, missing: lost })).toMatchObject({ says: 'right' })
    expect(judged({ fromC: 74 })).toMatchObject({ says: 'no-cold', bands: [], next: null })
    const { coolantC: _, ...rest } = made().channels
    expect(judgeWarmUp({ timeS: made().timeS, channels: rest }, setup, tune).says).toBe('no-cold')
  })
})

describe('the curve it asks for', () => {
  it('gives what is missing and three percent more where it is off, and nothing elsewhere', () => {
    // at 20 degC 25 % are given: 125 x (1 + 4 % + 3 %) - 100 = 33.75; from 50 degC on it is right, 8 % and 0 stay
    const { next } = judged({ fromC: 5, missing: (c) => (c < 40 ? 4 : 0) })
    expect(next!.map(([c]) => c)).toEqual([-10, 20, 50, 72])
    expect(Math.abs(next![1][1] - 33.75)).toBeLessThan(2)
    expect(Math.abs(next![2][1] - 8)).toBeLessThan(3)
    expect(next![3][1]).toBe(0)
    expect(next![0][1]).toBeGreaterThanOrEqual(45)
  })
  it('aims at three percent richer than the target', () => {
    // 20 % are given up to 70 degC: 120 x (1 + 4 % + 3 %) - 100 = 28.4
    const level = { ...tune, parameters: { ...tune.parameters, warmupPct: [[-10, 20], [70, 20], [72, 0]] as [number, number][] } } // prettier-ignore
    const { next } = judgeWarmUp(made({ missing: (c) => (c < 70 ? 4 : 0) }), setup, level)
    for (const [, pct] of next!.slice(0, 2)) expect(Math.abs(pct - 28.4)).toBeLessThan(0.45)
  })
  it('moves by 12 % of the fuel in one pass, and is never less than for a warmer engine', () => {
    // 125 x 1.12 - 100 = 40, 108 x 1.12 - 100 = 20.96, 145 / 1.12 - 100 = 29.5
    const { next } = judged({ missing: (c) => (c < 70 ? 30 : 0) })
    expect(next![1][1]).toBeCloseTo(40, 1)
    expect(next![2][1]).toBeCloseTo(21, 1)
    expect(next![0][1]).toBe(45)
    const thin = judged({ fromC: -9, missing: (c) => (c < 70 ? -30 : 0) }).next!
    expect(thin[0][1]).toBeCloseTo(29.5, 1)
    expect(thin[1][1]).toBeCloseTo(11.6, 1)
    const flat = { ...tune, parameters: { ...tune.parameters, warmupPct: [[-10, 30], [20, 29], [72, 0]] as [number, number][] } } // prettier-ignore
    const raised = judgeWarmUp(made({ missing: (c) => (c < 70 ? 30 : 0) }), setup, flat).next!
    // 129 x 1.12 - 100 = 44.5: the colder point that nobody drove follows
    expect(raised.slice(0, 2)).toEqual([
      [-10, 44.5],
      [20, 44.5],
    ])
  })
  it('holds no more than a tune may', () => {
    const holds = (pct: number) => TuneParameters.shape.warmupPct.safeParse([[0, pct], [70, 0]]).success // prettier-ignore
    expect([holds(200), holds(201)]).toEqual([true, false])
    const full = { ...tune, parameters: { ...tune.parameters, warmupPct: [[-10, 195], [40, 190], [72, 0]] as [number, number][] } } // prettier-ignore
    expect(judgeWarmUp(made({ missing: (c) => (c < 70 ? 30 : 0) }), setup, full).next!.map(([, pct]) => pct)).toEqual([200, 200, 0])
  })
  it('becomes a tune that says where it is from, and nothing else changes', () => {
    const next = applyWarmUp(tune, [[0, 30], [70, 0]], 'learned') // prettier-ignore
    expect(next.parameters).toEqual({ ...tune.parameters, warmupPct: [[0, 30], [70, 0]] }) // prettier-ignore
    expect(next.provenance.warmupPct).toBe('learned')
    expect(next.tables).toBe(tune.tables)
  })
})
