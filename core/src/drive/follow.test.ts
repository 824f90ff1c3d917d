import { describe, expect, it } from 'vitest'
import { madeFrame } from '../start/frame.fixture.ts'
import { Coverage } from './coverage.ts'
import { dynoDay } from './dyno-day.ts'
import { legStillGives, nextLeg, planDone, underWay } from './follow.ts'
import type { LoadScale } from './load.ts'
import type { PlannedCell, PlannedLeg } from './plan.ts'

const scale: LoadScale = {
  by: 'pressure',
  rpm: [1000, 2000, 3000],
  axis: [40, 60, 100],
  airKpa: (_, m) => m,
  mapKpa: (_, m) => m,
}
/** Frames twenty times a second at what a function of the time says. */
function drive(coverage: Coverage, seconds: number, of: (s: number) => object, fromS = 0): void {
  for (let i = 0; i < seconds * 20; i++) {
    const s = fromS + i / 20
    coverage.add(madeFrame({ state: 'running', coolantC: 85, batteryV: 14, lambda: 1, lambdaTarget: 1, timeS: s, ...of(s) }))
  }
}
const counted = (c: Coverage) => c.seconds.reduce((a, b) => a + b, 0)

describe('what a drive under way has given', () => {
  it('ten steady seconds at a breakpoint are its own, less what settles and what is not judged yet', () => {
    const c = new Coverage(scale, { coolantMinC: 72 })
    drive(c, 10, () => ({ rpm: 2000, mapKpa: 60 }))
    expect(c.counting).toBe(true)
    expect(c.seconds[4]).toBeGreaterThan(7)
    expect(c.seconds[4]).toBeLessThan(10)
    expect(counted(c)).toBeCloseTo(c.seconds[4], 6)
  })
  it('half-way between two breakpoints it is shared between them', () => {
    const c = new Coverage(scale, { coolantMinC: 72 })
    drive(c, 10, () => ({ rpm: 1500, mapKpa: 60 }))
    expect(c.seconds[3]).toBeCloseTo(c.seconds[4], 6)
  })
  it.each([
    ['pressure that moves by 10 kPa a second', (s: number) => ({ rpm: 2000, mapKpa: 40 + 10 * (s % 6) })],
    ['speed that rises by 300 rpm a second', (s: number) => ({ rpm: 1000 + 300 * (s % 6), mapKpa: 60 })],
    ['a cold engine', () => ({ rpm: 2000, mapKpa: 60, coolantC: 60 })],
    ['the fuel cut off', () => ({ rpm: 2000, mapKpa: 60, fuelCut: 1 })],
    ['a sensor that tells nothing', () => ({ rpm: 2000, mapKpa: 60, lambda: null })],
  ])('%s counts for nothing, and is said', (_, of) => {
    const c = new Coverage(scale, { coolantMinC: 72 })
    drive(c, 12, of)
    expect(counted(c)).toBeLessThan(0.5)
    expect(c.counting).toBe(false)
  })
  it('a session that begins again is not counted backwards', () => {
    const c = new Coverage(scale, { coolantMinC: 72 })
    drive(c, 6, () => ({ rpm: 2000, mapKpa: 60 }))
    const first = counted(c)
    drive(c, 6, () => ({ rpm: 2000, mapKpa: 60 }))
    expect(counted(c)).toBeGreaterThan(first + 3)
    expect(counted(c)).toBeLessThan(12)
  })
  it('where throttles tell the load, the throttle counts with the share of its table: none under 4 %, half at 8, all from 12', () => {
    const runner = { throttlePct: [0, 10, 20], blendFromPct: 4, blendToPct: 12 }
    const by = { rpm: scale.rpm, axis: runner.throttlePct, runner }
    const at = (throttlePct: number) => {
      const c = new Coverage(by, { coolantMinC: 72 })
      drive(c, 10, () => ({ rpm: 2000, mapKpa: 90, throttlePct }))
      return counted(c)
    }
    expect(at(3)).toBe(0)
    expect(at(8) / at(20)).toBeCloseTo(0.5, 2)
  })
})

const cell = (needS: number, where: PlannedCell['where'] = 'road'): PlannedCell => ({ usePct: 1, needS, getsS: 0, where })
const leg = (...gives: [number, number][]): PlannedLeg => ({ gives }) as PlannedLeg
describe('the next leg', () => {
  const plan = { cells: [cell(4), cell(4), cell(4, 'dyno')], legs: [leg([0, 5]), leg([1, 3], [2, 9]), leg([0, 2], [1, 2])] }
  it('is the first that still gives something missing; what is there is passed over', () => {
    expect(nextLeg(plan, [0, 0, 0], 0)).toBe(0)
    expect(nextLeg(plan, [4, 0, 0], 0)).toBe(1)
    expect(nextLeg(plan, [4, 0, 0], 2)).toBe(2)
    expect(nextLeg(plan, [4, 4, 0], 0)).toBeNull()
  })
  it('what a leg still gives is no more than is missing, and only for cells of the road', () => {
    expect(legStillGives(plan, plan.legs[0], [1, 0, 0])).toBe(3)
    expect(legStillGives(plan, plan.legs[1], [0, 0, 0])).toBe(3)
    expect(legStillGives(plan, plan.legs[0], [3.8, 0, 0])).toBe(0)
  })
  it('half of the wanted seconds is half of the drive, more in one cell does not stand for another', () => {
    expect(planDone(plan, [4, 0, 0])).toBe(0.5)
    expect(planDone(plan, [40, 0, 0])).toBe(0.5)
    expect(planDone(plan, [4, 4, 0])).toBe(1)
  })
})

describe('what is left for a dynamometer', () => {
  const cells = (where: string) =>
    Array.from({ length: 9 }, (_, c) => ({ needS: c === 4 || c === 0 ? 4 : 0, where: c === 4 || c === 0 ? where : 'seldom' }))
  const day = (where: string, seen: Parameters<typeof dynoDay>[2]['seen'] = null) =>
    dynoDay(scale, cells(where), { barometerKpa: 100, redlineRpm: 3300, idleRpm: 500, seen })
  it('light load before heavy, as steady states', () =>
    expect(day('dyno').holds).toEqual([
      { rpm: 1000, load: 40, seconds: 4 },
      { rpm: 2000, load: 60, seconds: 4 },
    ]))
  it('by hand: cells 1,000 and 500 rpm wide at 120 rpm a second are 8.3 and 4.2 s, more than the 3 s wanted: one pull', () => {
    const { pulls, fromRpm, toRpm, minutes } = day('road')
    expect([pulls, fromRpm]).toEqual([1, 1000])
    expect(toRpm).toBeCloseTo(3135, 6)
    expect(minutes).toBeCloseTo(((3135 - 1000) / 120 + 90) / 60, 6)
  })
  it('a thin cell at full load that wants 20 s more takes five pulls through its 4.2 s; proven ones none', () => {
    const seen = (state: 'thin' | 'proven') => Array.from({ length: 9 }, () => ({ state, missingSeconds: 20 }))
    expect(day('road', seen('thin')).pulls).toBe(5)
    expect(day('road', seen('proven')).pulls).toBe(0)
  })
})

it('over 1,200 rpm the car is taken to move; standing, or with nothing heard, it is not', () =>
  expect([underWay({ rpm: 1210 }), underWay({ rpm: 1190 }), underWay(null)]).toEqual([true, false, false]))
