import { describe, expect, it } from 'vitest'
import { madeReading, soundBuild } from '../../judge/made-up.fixture.ts'
import { contextOf, evaluate } from '../../judge/judgement.ts'
import { Random } from '../../kernel/random.ts'
import { wordsOf } from '../../kernel/say.ts'
import type { TuneSummary } from '../../kernel/build.ts'
import { computeBaseTune } from '../../tune/base-tune.ts'
import { meritOf, trialEstimate } from './estimate.ts'
import { takeTrial } from './take-trial.ts'
import { heldShares, judgeTrial, type TrialPoint, underKnockDeg } from './trial.ts'
import { dynoOnly, trialGates, trialsOf } from './trials.ts'

/** An engine of the textbook: 200 Nm at best, 2.5e-4 lost per degree squared, so that 1 % is lost 6.32 degrees off. */
const engine = (bestDeg: number, { noise = 0, knockFrom = Infinity, k = 2.5e-4, seed = 1 } = {}) => {
  const random = new Random(seed)
  return (advanceDegBtdc: number): TrialPoint => ({
    advanceDegBtdc,
    torqueNm: 200 * (1 - k * (advanceDegBtdc - bestDeg) ** 2) * (1 + noise * random.normal()),
    knock: advanceDegBtdc >= knockFrom,
    coolantC: 85,
    intakeAirC: 30,
  })
}
function run(read: (deg: number) => TrialPoint, mapDeg: number) {
  const points: TrialPoint[] = []
  let trial = judgeTrial(points, mapDeg)
  while (trial.nextDeg !== null) {
    points.push(read(trial.nextDeg))
    trial = judgeTrial(points, mapDeg)
  }
  return { ...trial, points }
}

describe('the parabola and how well it is known', () => {
  it('holds without noise give best and least: 30 and 30 - sqrt(0.01 / 2.5e-4) = 23.7', () => {
    const read = engine(30)
    const e = trialEstimate(
      [18, 21, 24, 27, 30, 33, 36].map((d) => ({ advanceDegBtdc: d, ...meritOf(read(d))! })),
      24,
    )
    expect(e.bestDeg).toBeCloseTo(30, 0)
    expect(e.leastDeg).toBeCloseTo(23.68, 0)
    expect(e.curve(18).share).toBeCloseTo(1 - 2.5e-4 * 144, 2)
  })
  it('what it says it does not know is about what it is off by', () => {
    const off = Array.from({ length: 60 }, (_, seed) => {
      const read = engine(30, { noise: 0.003, seed })
      const e = trialEstimate(
        [18, 21, 24, 27, 30].map((d) => ({ advanceDegBtdc: d, ...meritOf(read(d))! })),
        24,
      )
      return (e.leastDeg - 23.68) / e.leastSdDeg
    })
    const rms = Math.sqrt(off.reduce((sum, z) => sum + z * z, 0) / off.length)
    expect(rms).toBeGreaterThan(0.5)
    expect(rms).toBeLessThan(1.3)
  })
  it('holds that scatter ten times as much are told by themselves', () => {
    const read = engine(30, { noise: 0.03, seed: 4 })
    const held = [15, 18, 21, 24, 27, 30, 33, 36].map((d) => ({ advanceDegBtdc: d, ...meritOf(read(d))! }))
    expect(trialEstimate(held, 24).noise).toBeGreaterThan(0.012)
    expect(trialEstimate(held.slice(0, 4), 24).noise).toBe(0.003)
  })
  it('one more hold tells most on the flanks, nothing new at the top', () => {
    const read = engine(30)
    const e = trialEstimate(
      [24, 27, 30, 33, 36].map((d) => ({ advanceDegBtdc: d, ...meritOf(read(d))! })),
      30,
    )
    expect(e.tells(18)).toBeGreaterThan(3 * e.tells(30))
  })
  it('less throttle for the same speed is worth more, and repeats to one per cent', () => {
    expect(meritOf({ throttlePct: 20 })).toEqual({ merit: 5, noise: 0.01 })
    expect(meritOf({ torqueNm: 150 })).toEqual({ merit: 150, noise: 0.003 })
    expect(meritOf({})).toBeNull()
  })
})

describe('a trial, hold by hold', () => {
  it('begins six degrees under the map and goes up by three', () => {
    const read = engine(34)
    const points: TrialPoint[] = []
    const asked: (number | null)[] = []
    for (let i = 0; i < 5; i++) {
      const { nextDeg } = judgeTrial(points, 24.4)
      asked.push(nextDeg)
      points.push(read(nextDeg!))
    }
    expect(asked).toEqual([18, 21, 24, 27, 30])
  })
  it.each([
    [24, 30],
    [24, 24],
    [36, 30],
    [20, 31],
  ])('from a map of %d° with the best at %d° it ends within 2° of the least advance, in 95 of 100 trials', (mapDeg, bestDeg) => {
    const ends = Array.from({ length: 100 }, (_, seed) => run(engine(bestDeg, { noise: 0.003, seed }), mapDeg))
    expect(ends.every((t) => t.state === 'known')).toBe(true)
    expect(ends.filter((t) => Math.abs(t.resultDeg! - (bestDeg - 6.32)) <= 2).length).toBeGreaterThanOrEqual(95)
    expect(Math.max(...ends.map((t) => t.points.length))).toBeLessThanOrEqual(16)
  })
  it('ends once the least advance is known to 0.9°, one standard deviation, and not before it has to', () => {
    const known = Array.from({ length: 60 }, (_, seed) => run(engine(30, { noise: 0.003, seed }), 36).estimate!.leastSdDeg)
    expect(Math.max(...known)).toBeLessThanOrEqual(0.9)
    expect(Math.max(...known)).toBeGreaterThan(0.8)
  })
  it('four degrees under a knock, and whole: 27.5 leaves 23', () => expect([27, 27.5, 28].map(underKnockDeg)).toEqual([23, 23, 24]))
  it('off at the first knock, four degrees back, and no hold over that again', () => {
    const t = run(engine(40, { knockFrom: 27 }), 24)
    expect(t).toMatchObject({ state: 'knock', knockDeg: 27, resultDeg: 23, nextDeg: null })
    expect(t.points.at(-1)).toMatchObject({ advanceDegBtdc: 27, knock: true })
  })
  it('knock over the least advance does not stop it: it goes on below, four degrees under the knock at most', () => {
    const t = run(engine(28, { knockFrom: 30, noise: 0.003 }), 24)
    expect(t.state).toBe('known')
    expect(Math.abs(t.resultDeg! - 21.7)).toBeLessThanOrEqual(2)
    const after = t.points.slice(t.points.findIndex((p) => p.knock) + 1)
    expect(after.every((p) => p.advanceDegBtdc <= 26)).toBe(true)
  })
  it('knock at the very first hold leaves nothing but going back', () =>
    expect(run(engine(40, { knockFrom: 10 }), 24)).toMatchObject({ state: 'knock', knockDeg: 18, resultDeg: 14 }))
  it('never asks for more than twelve degrees over the map, nor fifteen under it', () => {
    const t = run(engine(40, { noise: 0.003 }), 20)
    expect(Math.max(...t.points.map((p) => p.advanceDegBtdc))).toBe(32)
    const late = run(engine(12, { noise: 0.003 }), 20)
    expect(Math.min(...late.points.map((p) => p.advanceDegBtdc))).toBe(5)
  })
  it('gives up after sixteen holds that scatter, and says by how much', () => {
    const t = run(engine(30, { noise: 0.05, seed: 3 }), 24)
    expect(t).toMatchObject({ state: 'scatters', resultDeg: null })
    expect(t.points).toHaveLength(16)
    expect(t.because).toMatch(/^16 holds and the torque scatters by \d\.\d %/)
  })
  it('leaves out what is not alike: coolant 5 °C off is, 5.1 is not; air 8 and 8.1; another measure; nothing read', () => {
    const read = engine(30)
    const first = read(18)
    const left = (more: Partial<TrialPoint>) => judgeTrial([first, { ...read(21), ...more }], 24).leftOut.map((l) => wordsOf(l.why))
    expect(left({ coolantC: 90 })).toEqual([])
    expect(left({ coolantC: 90.1 })[0]).toContain('within 5 °C')
    expect(left({ intakeAirC: 22 })).toEqual([])
    expect(left({ intakeAirC: 21.9 })[0]).toContain('within 8 °C')
    expect(left({ torqueNm: undefined, throttlePct: 20 })).toEqual(['measured otherwise than the first hold'])
    expect(left({ torqueNm: undefined })).toEqual(['neither torque nor throttle was read'])
  })
  it('holds lie on the curve’s own scale, whose best is 1: 12° off it 0.964; without a curve there is none', () => {
    const t = run(engine(30), 24)
    for (const h of heldShares(t)) expect(h.share).toBeCloseTo(1 - 2.5e-4 * (h.advanceDegBtdc - 30) ** 2, 2)
    expect(heldShares(judgeTrial([engine(30)(18)], 24))).toEqual([])
  })
  it('a gain that a brake does not tell is none', () => expect(run(engine(30.3), 24).gainPct).toBeNull())
  it('says what it gains: from 12° off best to 6.3 off, 0.964 to 0.99 of the torque, 2.7 %', () => {
    const t = run(engine(36, { noise: 0.0005 }), 24)
    expect(t.resultDeg).toBe(30)
    expect(t.gainPct!).toBeGreaterThan(2.3)
    expect(t.gainPct!).toBeLessThan(3.1)
  })
})

const { facts, choices } = soundBuild()
const tune = computeBaseTune(facts, choices)
describe('into the map', () => {
  const [i, j] = [4, 5]
  const nr = tune.axes.rpm.length
  const at = (x: number, y: number) => tune.tables.spark[y * nr + x]
  const place = { rpm: tune.axes.rpm[i], mapKpa: tune.axes.mapKpa[j] }
  const moved = (resultDeg: number) => {
    const { tune: made } = takeTrial(tune, { ...place, resultDeg })
    return (x: number, y: number) => made.tables.spark[y * nr + x] - at(x, y)
  }
  it('later: the cell takes all, each of four neighbours half, corners nothing', () => {
    const by = moved(at(i, j) - 4)
    expect(by(i, j)).toBeCloseTo(-4, 1)
    for (const [x, y] of [
      [i - 1, j],
      [i + 1, j],
      [i, j - 1],
      [i, j + 1],
    ])
      expect(by(x, y)).toBeCloseTo(-2, 1)
    expect(by(i + 1, j + 1)).toBe(0)
    expect(by(i + 2, j)).toBe(0)
  })
  it('earlier: never to a higher load, where nobody listened', () => {
    const by = moved(at(i, j) + 4)
    expect(by(i, j)).toBeCloseTo(4, 1)
    expect(by(i, j - 1)).toBeCloseTo(2, 1)
    expect(by(i, j + 1)).toBe(0)
  })
  it('tells each change, the cell’s own first, and where the table came from; stays within what a table may hold', () => {
    const made = takeTrial(tune, { ...place, resultDeg: at(i, j) + 2 })
    expect(made.changes[0]).toMatchObject({ ...place, fromDeg: at(i, j) })
    expect(made.tune.provenance.spark).toMatch(/^spark trial at \d+ rpm, \d+ kPa$/)
    expect(takeTrial(tune, { ...place, resultDeg: 200 }).changes[0].toDeg).toBe(60)
  })
})

describe('in the build', () => {
  const inCar: TuneSummary = {
    id: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80077',
    number: 1,
    name: 'base',
    origin: 'computed',
    parentId: null,
    status: 'in-car',
    createdAt: '2026-05-01T10:00:00Z',
    inCarSince: '2026-05-01T10:00:00Z',
    problems: [],
  }
  const point = (more: object) =>
    madeReading('learn.trial-point', {
      ...{ tuneId: inCar.id, rpm: 2500, mapKpa: 60, mapDeg: 24, advanceDegBtdc: 18, torqueNm: 190, knock: false, on: 'dyno' },
      ...more,
    } as never)
  const built = (readings: ReturnType<typeof point>[]) => ({
    ...soundBuild(),
    tunes: [inCar],
    readings: [...soundBuild().readings, ...readings],
  })
  it('holds of one place are one trial; the one held last comes first; those of another tune do not count', () => {
    const other = '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c8ffff'
    const c = contextOf(built([point({}), point({ advanceDegBtdc: 21 }), point({ rpm: 3500 }), point({ tuneId: other })]))
    expect(trialsOf(c).map((t) => [t.rpm, t.trial.used.length])).toEqual([
      [3500, 1],
      [2500, 2],
    ])
  })
  it('high load is for a dynamometer: 0.85 of the barometer may be held on a grade, more may not', () => {
    const c = contextOf(built([]))
    const barometer = c.resolved.barometerKpa
    expect(dynoOnly(c, 0.84 * barometer)).toBeNull()
    expect(wordsOf(dynoOnly(c, 0.86 * barometer)!)).toContain('dynamometer only')
  })
  it('is locked until the timing is proved and the mixture of this tune is known', () => {
    expect(trialGates(contextOf(built([]))).map((g) => [g.id, g.met])).toEqual([
      ['trial-timing', expect.any(Boolean)],
      ['trial-mixture', false],
    ])
    const solved = (more: object) =>
      madeReading('learn.result', {
        ...{ logId: inCar.id, tuneId: inCar.id, usedSeconds: 600, provenTimePct: 90, errorRmsPct: 1, unsafeCells: 0 },
        ...more,
      } as never)
    const mixture = (more: object) => trialGates(contextOf(built([solved(more) as never])))[1]
    expect(mixture({}).met).toBe(true)
    expect(mixture({ unsafeCells: 1 })).toMatchObject({ met: false, why: '1 cell reads lean at high load' })
    expect(mixture({ suspect: 'exhaust-leak' }).met).toBe(false)
  })
  const found = (readings: ReturnType<typeof point>[]) =>
    evaluate(built(readings))
      .stations.find((s) => s.id === 'learn')!
      .findings.map((f) => f.id)
  it('knock at the map’s own advance is a stop; over it is none', () => {
    expect(found([point({ knock: true, advanceDegBtdc: 24 })])).toContain('learn.trial-knock')
    // 28 - 4 is the map's own 24
    expect(
      found(
        [18, 21, 24]
          .map((advanceDegBtdc) => point({ advanceDegBtdc, torqueNm: 190 + advanceDegBtdc }))
          .concat(point({ knock: true, advanceDegBtdc: 28 })),
      ),
    ).not.toContain('learn.trial-knock')
  })
  it('a hold at high load on a road is named', () => {
    expect(found([point({ on: 'grade', mapKpa: 95 })])).toContain('learn.trial-on-road')
    expect(found([point({ on: 'grade', mapKpa: 60 })])).not.toContain('learn.trial-on-road')
    expect(found([point({ on: 'dyno', mapKpa: 95 })])).not.toContain('learn.trial-on-road')
  })
})
