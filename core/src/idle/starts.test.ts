import { describe, expect, it } from 'vitest'
import { soundBuild } from '../judge/made-up.fixture.ts'
import { computeBaseTune } from '../tune/index.ts'
import { startScores } from './cold-start.ts'
import { idleModeSeen } from './idle-mode.ts'
import { loadDrop } from './load-drop.ts'
import { applyStartMove } from './start-advice.ts'

const log = (seconds: number, rpm: (t: number) => number, more: Record<string, (t: number) => number> = {}) => {
  const timeS = Float64Array.from({ length: Math.round(seconds * 20) }, (_, i) => i * 0.05)
  const of = (f: (t: number) => number) => Float32Array.from(timeS, f)
  return { timeS, channels: { rpm: of(rpm), ...Object.fromEntries(Object.entries(more).map(([k, f]) => [k, of(f)])) } }
}
/** Two seconds still, cranking at 180 rpm for so long, up to a peak for a second, down to a dip for two, then steady. */
const start =
  ({
    cranksS = 1,
    peak = 1400,
    dip = 1050,
    steady = 1100,
    settlesS = 4,
  }: Partial<Record<'cranksS' | 'peak' | 'dip' | 'steady' | 'settlesS', number>>) =>
  (t: number): number => {
    const s = t - 2 - cranksS
    return t < 2 ? 0 : s < 0 ? 180 : s < 1.5 ? peak : s < settlesS ? dip : steady
  }

describe('score of a start', () => {
  it('tells time to fire, overshoot, dip and time until steady', () => {
    const [score, ...rest] = startScores(log(40, start({ cranksS: 1.2, dip: 980 }), { coolantC: () => 12 }))
    expect(rest).toEqual([])
    expect(score.secondsToFire).toBeCloseTo(1.2, 1)
    expect(score.coolantC).toBe(12)
    expect(score.steadyRpm).toBeCloseTo(1100, 0)
    expect(Math.abs(score.overshootRpm - 300)).toBeLessThan(10)
    expect(Math.abs(score.dipRpm - 120)).toBeLessThan(10)
    expect(score.secondsToSteady).toBeGreaterThan(3.8)
    expect(score.secondsToSteady).toBeLessThan(4.6)
    expect(score).toMatchObject({ good: true, found: null, moves: [] })
  })
  it.each<[string, Parameters<typeof start>[0], RegExp | null]>([
    ['1.9 s to fire', { cranksS: 1.9 }, null],
    ['2.2 s to fire', { cranksS: 2.2 }, /10 % more cranking fuel/],
    ['a dip of 140 rpm', { dip: 960 }, null],
    ['a dip of 165 rpm', { dip: 935 }, /after-start fuel/],
    ['a dip of 165 rpm from a flare under its idle', { peak: 1000, dip: 835 }, /fell 16\d rpm after firing/],
    ['a dip of 135 rpm from there', { peak: 1000, dip: 865 }, null],
    ['480 rpm over', { peak: 1580 }, null],
    ['540 rpm over', { peak: 1640 }, /5 % less valve/],
    ['steady after 7 s', { dip: 1010, settlesS: 7 }, null],
    ['steady after 9 s', { dip: 1010, settlesS: 9 }, /Steady after 9 s/],
  ])('%s', (_what, shape, move) => {
    const [score] = startScores(log(45, start(shape)))
    expect(score.good).toBe(move === null)
    if (move) expect([score.found, ...score.moves.map((m) => m.text)].join(' ')).toMatch(move)
  })
  const movesOf = (shape: Parameters<typeof start>[0], more: Parameters<typeof log>[2] = {}) =>
    startScores(log(45, start(shape), more))[0].moves.map(({ when, bends }) => ({ when, ...bends }))
  // leanest of ten seconds; one that a cold engine runs on wants air, one that is drowned less fuel
  it.each([
    [1.06, 'afterStartPct', 25],
    [1.04, 'idleValvePct', 5],
    [0.73, 'idleValvePct', 5],
    [0.71, 'afterStartPct', -16],
  ])('a dip at lambda %d bends %s by %d', (lambda, curve, points) =>
    expect(movesOf({ dip: 930 }, { lambda: (t) => (t < 15 ? lambda : 1) })[0]).toEqual({ when: null, curve, times: 1, points }),
  )
  it.each([
    // for 0.85: at lambda 0.7 and 150 % given 26 points, at 0.4 and 200 % no more than 30, at 0.71 and 5 % more than a warm engine's 17
    [0.7, 50, -26],
    [0.4, 100, -30],
    [0.71, 5, -17],
    [1.06, -40, 15],
  ])('at lambda %d with %d %% more given: %d points', (lambda, more, points) =>
    expect(movesOf({ dip: 930 }, { lambda: (t) => (t < 15 ? lambda : 1), enrichmentPct: () => more })[0]).toMatchObject({
      curve: 'afterStartPct',
      points,
    }),
  )
  it('drowned, with no after-start fuel left to take, it wants air', () =>
    expect(movesOf({ dip: 930 }, { lambda: () => 0.7 })[1]).toMatchObject({ when: 'There is none left to take', curve: 'idleValvePct' }))
  it('a sensor that wakes later is led back by the fuel given then and at first', () => {
    const woken = (atFirst: number) =>
      movesOf({ dip: 930 }, { lambda: (t) => (t < 18 ? NaN : 0.95), enrichmentPct: (t) => (t < 10 ? atFirst : 20) })[0]
    // 0.95 x 1.2 / 1.6 = 0.7125: drowned; 0.95 x 1.2 / 1.5 = 0.76: not; 0.95 x 1.2 / 1.06 = 1.075: lean
    expect(woken(60)).toMatchObject({ curve: 'afterStartPct', points: -26 })
    expect(woken(50)).toMatchObject({ curve: 'idleValvePct' })
    expect(woken(6)).toMatchObject({ curve: 'afterStartPct', points: 28 })
  })
  it('what nothing told of is asked of a hand on the throttle: fuel and air are both offered', () => {
    const moves = movesOf({ dip: 930 })
    expect(moves.map((m) => [m.curve, m.points])).toEqual([['afterStartPct', 10], ['idleValvePct', 5]]) // prettier-ignore
    expect(moves.map((m) => m.when)).toEqual(['It coughs or dies', 'It catches'])
  })
  it.each([
    // 5 % at least and 15 at most of what it moved
    [3, 5],
    [9, 9],
    [22, 15],
  ])('a valve that moved by %d %% until the speed stood starts %d %% wider', (moved, points) =>
    expect(
      movesOf({ dip: 930 }, { lambda: () => 0.9, idleValvePct: (t) => 20 + (moved * Math.max(0, Math.min(20, t - 5))) / 20 })[0],
    ).toMatchObject({ curve: 'idleValvePct', points }),
  )
  it('lean still when the fuel after a start is gone is a matter of the warm-up, before any other', () => {
    const later = (lambda: number) => movesOf({ dip: 930 }, { lambda: () => lambda, enrichmentPct: () => 40 })[0]
    // 140 % given x 0.06
    expect(later(1.06)).toMatchObject({ curve: 'warmupPct', points: 8 })
    expect(later(1.04)).toMatchObject({ curve: 'idleValvePct' })
    expect(later(1.3)).toMatchObject({ curve: 'warmupPct', points: 30 })
    expect(movesOf({ dip: 1010, settlesS: 9 }, { lambda: () => 1.06, enrichmentPct: () => 40 })[0]).toMatchObject({ curve: 'warmupPct' })
  })
  it('one thing for one start: firing before falling, falling before running up, and standing last', () => {
    const foundAt = (shape: Parameters<typeof start>[0]) => startScores(log(45, start(shape)))[0].found
    const [firing, falling, up] = [{ cranksS: 3 }, { dip: 930 }, { peak: 1700 }]
    expect(foundAt({ ...firing, ...falling, ...up })).toMatch(/^It took 3\.0 s to fire/)
    expect(foundAt({ ...falling, ...up })).toMatch(/^It fell 1[67]\d rpm/)
    expect(foundAt({ ...up, settlesS: 9 })).toMatch(/^It ran up/)
    expect(foundAt({ dip: 1010, settlesS: 9 })).toMatch(/^Steady after/)
  })
  it('slow to stand, with a mixture that is right: the valve starts by what it moved, either way', () => {
    const slow = (moved: number) =>
      movesOf({ dip: 1010, settlesS: 9 }, { idleValvePct: (t) => 40 + (moved * Math.max(0, Math.min(20, t - 5))) / 20 })[0]
    expect(slow(12)).toMatchObject({ curve: 'idleValvePct', points: 12 })
    expect(slow(-8)).toMatchObject({ curve: 'idleValvePct', points: -8 })
    expect(slow(-30)).toMatchObject({ points: -15 })
    expect(slow(0)).toBeUndefined()
  })
  it.each([
    [2.4, 1.1, 0.9],
    [3.9, 1.1, 0.9],
    [4.2, 1.25, 0.75],
  ])('%d s to fire: the plugs tell between %d and %d times the cranking fuel', (cranksS, dry, wet) => {
    const moves = movesOf({ cranksS })
    expect(moves.map((m) => [m.curve, m.times])).toEqual([['crankingPct', dry], ['crankingPct', wet]]) // prettier-ignore
    expect(moves.map((m) => m.when)).toEqual(['The plug is dry', 'The plug is wet'])
  })
  it('every start of a log is scored, one that did not fire is not', () => {
    const twice = (t: number) => (t < 3 ? (t < 2 ? 0 : 180) : t < 5 ? 0 : start({})((t - 5) % 40))
    expect(startScores(log(85, twice))).toHaveLength(2)
  })
})

describe('a move of a start in the tune', () => {
  const { facts, choices } = soundBuild()
  const tune = computeBaseTune(facts, choices)
  const moveOf = (shape: Parameters<typeof start>[0], lambda?: number) =>
    startScores(log(45, start(shape), lambda === undefined ? {} : { lambda: (t) => (t < 15 ? lambda : 1) }))[0].moves[0]
  const bent = (shape: Parameters<typeof start>[0], coolantC: number, lambda?: number) =>
    applyStartMove(tune, moveOf(shape, lambda), coolantC, 'from a start')!.tune
  it('bends its curve at the coolant of the start: 10 % more cranking fuel, ten points after the start, valve', () => {
    // 220 % at 20 degC: the point itself moves, 242; between -10 and 20 both by half: 285 x 0.1 = 28.5 more each
    expect(bent({ cranksS: 2.4 }, 20).parameters.crankingPct).toEqual([[-10, 350], [20, 242], [80, 130]]) // prettier-ignore
    expect(bent({ cranksS: 2.4 }, 5).parameters.crankingPct).toEqual([[-10, 378.5], [20, 248.5], [80, 130]]) // prettier-ignore
    // colder than its first point and warmer than its last
    expect(bent({ cranksS: 2.4 }, -20).parameters.crankingPct).toEqual([[-10, 385], [20, 220], [80, 130]]) // prettier-ignore
    expect(bent({ dip: 930 }, 90).parameters.afterStartPct).toEqual([[-10, 35], [20, 26], [80, 22]]) // prettier-ignore
    const valve = (t: typeof tune) => t.parameters.idleValvePct
    const at = valve(tune)[1][0]
    expect(valve(bent({ dip: 930 }, at, 0.9))[1][1]).toBeCloseTo(valve(tune)[1][1] + 5, 1)
    // 600 rpm over: six
    expect(valve(bent({ peak: 1700 }, at))[1][1]).toBeCloseTo(valve(tune)[1][1] - 6, 1)
    expect(bent({ cranksS: 2.4 }, 20).provenance.crankingPct).toBe('from a start')
  })
  it('says what stands at that coolant and what will: 220 and 242 % at 20 degC, 285 and 313.5 half way to 350 at -10', () => {
    const at = (coolantC: number) => applyStartMove(tune, moveOf({ cranksS: 2.4 }), coolantC, 'x')!
    expect(at(20)).toMatchObject({ fromPct: 220, toPct: 242 })
    expect(at(5).fromPct).toBeCloseTo(285, 6)
    expect(at(5).toPct).toBeCloseTo(313.5, 6)
  })
  it('takes no more than there is, and is none where nothing is left', () => {
    // drowned by 16 points at 80 degC, where 12 stand
    expect(bent({ dip: 930 }, 80, 0.71).parameters.afterStartPct).toEqual([[-10, 35], [20, 26], [80, 0]]) // prettier-ignore
    const none = { ...tune, parameters: { ...tune.parameters, afterStartPct: [[-10, 0], [80, 0]] as [number, number][] } } // prettier-ignore
    expect(applyStartMove(none, moveOf({ dip: 930 }, 0.71), 80, 'x')).toBeNull()
  })
  it('is none where the tune has no room', () => {
    const full = { ...tune, parameters: { ...tune.parameters, crankingPct: [[-10, 790], [80, 790]] as [number, number][] } } // prettier-ignore
    expect(applyStartMove(full, moveOf({ cranksS: 2.4 }), 20, 'x')).toBeNull()
  })
})

describe('a load at idle', () => {
  const fall = (least: number, backS: number) => (t: number) => (t < 10 ? 800 : t < 10 + backS ? least : 790)
  it('tells drop and time until it is back', () => {
    const drop = loadDrop(log(25, fall(700, 1)), 10)
    expect(drop.beforeRpm).toBeCloseTo(800, 0)
    expect(Math.abs(drop.dropRpm - 100)).toBeLessThan(3)
    expect(drop.backS!).toBeGreaterThan(1)
    expect(drop.backS!).toBeLessThan(1.6)
  })
  it('wants three seconds before and three after', () => {
    expect(() => loadDrop(log(12, fall(700, 1)), 10)).toThrow(/wants 3 s before it comes on and 3 s after/)
    expect(() => loadDrop(log(25, fall(700, 1)), 0)).toThrow()
  })
})

describe('the idle mode', () => {
  const frames = (valve: (t: number) => number, rpm = (t: number) => 750 + 8 * Math.sin(9 * t)) =>
    Array.from({ length: 200 }, (_, i) => ({ timeS: i * 0.05, rpm: rpm(i * 0.05), idleValvePct: valve(i * 0.05) }))
  it('is seen where the valve answers the speed', () => expect(idleModeSeen(frames((t) => 18 + 0.1 * Math.sin(9 * t)))).toBe(true))
  it('is not where the valve stands, in a stream that shows fine moves', () =>
    expect(idleModeSeen(frames((t) => (t < 4 ? 18.4 : 22)))).toBe(false))
  it('cannot be told of whole percents, of a speed that stands, or of a moment', () => {
    expect(idleModeSeen(frames(() => 22))).toBeNull()
    expect(
      idleModeSeen(
        frames(
          (t) => 18 + t / 20,
          () => 750,
        ),
      ),
    ).toBeNull()
    expect(idleModeSeen(frames((t) => 18 + t / 20).slice(0, 5))).toBeNull()
    expect(idleModeSeen([])).toBeNull()
  })
})
