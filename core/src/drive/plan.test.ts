import { describe, expect, it } from 'vitest'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import type { BuildData } from '../kernel/index.ts'
import { wordsOf } from '../kernel/index.ts'
import type { LearnCell, LearnResult } from '../learn/index.ts'
import { computeBaseTune, type TuneDocument } from '../tune/index.ts'
import { roadCar } from './car.ts'
import { legSays } from './leg-words.ts'
import { againS, approachS, type Leg, possibleLegs, ROAD_LOAD_SHARE } from './legs.ts'
import { loadScaleOf } from './load.ts'
import { needSeconds } from './need.ts'
import { planDrive, type DrivePlan, secondsOf } from './plan.ts'
import { torqueMap } from './torque.ts'

const told = (more: object = {}): BuildData => {
  const b = demoBuild('2-rampart.json')
  return { ...b, choices: { ...b.choices, learn: { topKmh: 100, steepestPct: 4, ...more } } }
}
const build = told()
const tune = computeBaseTune(build.facts, build.choices)
const nr = tune.axes.rpm.length
const allCells = (of: (c: number) => Partial<LearnCell>): LearnResult =>
  ({
    cells: tune.tables.ve.map((_, c) => ({
      i: c % nr,
      j: Math.floor(c / nr),
      rpm: tune.axes.rpm[c % nr],
      mapKpa: tune.axes.mapKpa[Math.floor(c / nr)],
      correctionPct: null,
      standardErrorPct: null,
      seconds: 0,
      missingSeconds: 0,
      nearestMeanPct: null,
      state: 'untouched',
      ...of(c),
    })),
    totals: {},
  }) as unknown as LearnResult
const plan = planDrive(build, tune, null)
const barometerKpa = loadScaleOf(tune, 1) && tune.parameters.barometerKpa

describe('the plan of the next drive', () => {
  it('gives every cell that it takes on its seconds, in a few minutes, and says what that is worth', () => {
    const taken = plan.cells.filter((c) => c.where === 'road')
    expect(taken.length).toBeGreaterThan(15)
    for (const c of taken) expect(c.getsS).toBeGreaterThanOrEqual(c.needS - 1e-6)
    expect(plan.totalS / 60).toBeLessThan(12)
    expect(plan.steadyS).toBeLessThan(plan.totalS)
    expect(plan.provenUsePct).toBe(0)
    expect(plan.afterUsePct).toBeGreaterThan(70)
    expect(plan.cells.reduce((sum, c) => sum + c.usePct, 0)).toBeCloseTo(100, 6)
  })
  it('stays under the speed that the person allows, out of full load, and off the brakes', () => {
    for (const topKmh of [50, 80, 120]) {
      const { legs } = planDrive(told({ topKmh }), tune, null)
      expect(legs.length).toBeGreaterThan(3)
      for (const leg of legs) {
        expect(Math.max(leg.fromKmh, leg.toKmh)).toBeLessThanOrEqual(topKmh + 1)
        expect(leg.load).toBeLessThanOrEqual(ROAD_LOAD_SHARE * barometerKpa)
      }
    }
  })
  it('climbs nothing steeper than there is, and nothing where there is no climb', () => {
    for (const steepestPct of [0, 3, 6])
      for (const leg of planDrive(told({ steepestPct }), tune, null).legs) expect(Math.abs(leg.gradePct)).toBeLessThanOrEqual(steepestPct)
  })
  it('does not drive for what is proven, and nothing for what waits for its correction', () => {
    const proven = planDrive(
      build,
      tune,
      allCells(() => ({ state: 'proven', seconds: 5 })),
    )
    expect([proven.legs.length, proven.totalS, Math.round(proven.provenUsePct)]).toEqual([0, 0, 100])
    const off = planDrive(
      build,
      tune,
      allCells(() => ({ state: 'needs-correction', seconds: 5, correctionPct: 8 })),
    )
    expect(off.legs).toEqual([])
    expect(new Set(off.cells.map((c) => c.where))).toEqual(new Set(['correct-first']))
  })
  it('an unsafe cell is never a reason to drive there: it waits for its correction', () => {
    const c = plan.cells.findIndex((cell) => cell.where === 'road')
    const unsafe = planDrive(
      build,
      tune,
      allCells((k) => (k === c ? { state: 'unsafe', seconds: 1 } : {})),
    )
    expect(unsafe.cells[c]).toMatchObject({ where: 'correct-first', needS: 0 })
  })
  it('one thin cell is one short drive: less than a tenth of the whole', () => {
    const c = plan.cells.findIndex((cell) => cell.where === 'road' && cell.usePct > 2)
    const one = planDrive(
      build,
      tune,
      allCells((k) => (k === c ? { state: 'thin', seconds: 2, missingSeconds: 2 } : { state: 'proven', seconds: 5 })),
    )
    expect(one.cells.filter((cell) => cell.where === 'road')).toHaveLength(1)
    expect(one.legs.length).toBeLessThanOrEqual(2)
    expect(one.totalS).toBeLessThan(0.25 * plan.totalS)
  })
  it('what the drive under way has given is not asked for again', () => {
    const gotS = plan.cells.map((c) => c.needS + 1)
    const rest = planDrive(build, tune, null, { gotS })
    expect(rest.legs).toEqual([])
    expect(rest.cells.some((c) => c.where === 'driven')).toBe(true)
  })
  it('no dynamometer is asked to hold an engine under its idle', () => {
    for (const h of plan.dyno.holds) expect(h.rpm).toBeGreaterThanOrEqual(700)
  })
  it('names what it lacks instead of guessing a gear: ratios, axle, tyre', () => {
    const { gearing: _, ...facts } = build.facts
    const lacking = planDrive({ ...build, facts }, tune, null)
    expect(lacking.missing).toEqual(['gearing.gearRatios', 'gearing.axleRatio', 'gearing.tyreCircumferenceM'])
    expect(lacking.legs).toEqual([])
  })
  it('says which of the car’s figures were assumed', () => {
    const assumed = (of: BuildData) =>
      planDrive(of, tune, null)
        .inputs.filter((i) => i.assumed)
        .map((i) => i.label)
    const { massKg: _, ...gearing } = build.facts.gearing!
    expect(assumed({ ...build, facts: { ...build.facts, gearing } })).toContain('Mass as driven')
    expect(assumed({ ...build, facts: { ...build.facts, gearing: { ...gearing, massKg: 1300 } } })).not.toContain('Mass as driven')
  })
  it('where the unit learns by itself it drives for what has not settled, measured or not', () => {
    const settled = planDrive(
      build,
      tune,
      allCells(() => ({ state: 'proven', seconds: 9, settled: true })),
    )
    expect(settled.legs).toEqual([])
    const moving = planDrive(
      build,
      tune,
      allCells(() => ({ state: 'needs-correction', seconds: 9, settled: false, correctionPct: 6 })),
    )
    expect(moving.legs.length).toBeGreaterThan(3)
  })
  it('a throttle to each runner is planned by throttle', () => {
    const b = demoBuild('3-staffetta.json')
    const runners = {
      ...b,
      choices: { ...b.choices, learn: { topKmh: 100 }, plan: { ...b.choices.plan, route: 'individual-runner' as const } },
    }
    const own = computeBaseTune(runners.facts, runners.choices)
    expect(own.runner, 'the tune has a table by throttle').toBeDefined()
    const { by, axis, legs } = planDrive(runners, own, null)
    expect([by, axis]).toEqual(['throttle', own.runner!.throttlePct])
    expect(legs.length).toBeGreaterThan(2)
    expect(legs.every((l) => l.load >= 0 && l.load <= 100)).toBe(true)
  })
})

describe('what may be driven', () => {
  const road = roadCar(build)
  if ('missing' in road) throw new Error('the demo car tells its gearing')
  const scale = loadScaleOf(tune as TuneDocument, barometerKpa)
  const torque = torqueMap({ displacementCc: 5866, compressionRatio: 8.5, barometerKpa, scale }, road.car)
  const legs = possibleLegs({
    car: road.car,
    torque,
    scale,
    barometerKpa,
    redlineRpm: 5500,
    idle: { rpm: 750, load: 40 },
    topKmh: 110,
    steepestPct: 4,
  })
  it('runs are slow enough to count as steady: under 120 rpm in a second on the whole, where the limit is 200', () => {
    const runs = legs.filter((l) => l.kind === 'run-up' || l.kind === 'run-down')
    expect(runs.length).toBeGreaterThan(20)
    for (const l of runs) {
      expect(Math.abs(l.toRpm - l.fromRpm) / l.portionS).toBeLessThanOrEqual(120)
      expect(Math.sign(l.toKmh - l.fromKmh)).toBe(l.kind === 'run-up' ? 1 : -1)
    }
  })
  it('a hold gives 0.85 of each second to the cells around it, a run nothing before it has settled', () => {
    const sum = (l: Leg) => l.gives.reduce((total, [, s]) => total + s, 0)
    const hold = legs.find((l) => l.kind === 'hold')!
    expect(sum(hold)).toBeCloseTo(0.85, 1)
    for (const l of legs.filter((k) => k.kind === 'run-up')) expect(sum(l)).toBeLessThanOrEqual(0.85 * (l.portionS - 2) + 0.3)
  })
  it('engine speeds stay over the idle and under the redline, holds push and do not brake', () => {
    for (const l of legs.filter((k) => k.kind !== 'idle')) {
      expect(Math.min(l.fromRpm, l.toRpm)).toBeGreaterThanOrEqual(1.3 * 750)
      expect(Math.max(l.fromRpm, l.toRpm)).toBeLessThanOrEqual(0.87 * 5500)
    }
  })
})

describe('seconds between legs, by hand', () => {
  const leg = (more: Partial<Leg>) => ({ kind: 'hold' as const, gear: 3, fromKmh: 72, toKmh: 72, gradePct: 0, ...more })
  it.each([
    ['the first, from standing: 3 to call, 2 to settle, 20 m/s at 1 m/s2, 2 for the gear', null, leg({}), 27],
    ['the same gear, 36 km/h more', leg({}), leg({ fromKmh: 108, toKmh: 108 }), 15],
    ['another gear at the same speed', leg({}), leg({ gear: 4 }), 7],
    ['a climb has to be found: 25 more', leg({}), leg({ gradePct: 4 }), 30],
    ['a run settles while it runs', leg({}), leg({ kind: 'run-up', toKmh: 90 }), 3],
  ])('%s', (_, from, to, seconds) => expect(approachS(from, to)).toBeCloseTo(seconds, 9))
  it('a run once more: 3 to call and back by 18 km/h, a hold nothing', () => {
    expect(againS(leg({ kind: 'run-up', toKmh: 90 }))).toBeCloseTo(8, 9)
    expect(againS(leg({}))).toBe(0)
  })
  it('the whole is the sum', () => {
    const planned = {
      ...leg({}),
      by: 'pressure',
      load: 50,
      fromRpm: 2000,
      toRpm: 2000,
      seconds: 10,
      passes: 1,
      gives: [],
    } as DrivePlan['legs'][number]
    expect(secondsOf([planned, { ...planned, gear: 4 }])).toEqual({ totalS: 27 + 10 + 7 + 10, steadyS: 20 })
  })
})

describe('seconds that a cell wants', () => {
  it.each([
    ['nobody was there: 3 s and a third more', null, 3.9],
    ['passed through', { state: 'passed-through', missingSeconds: 0 }, 3.9],
    ['thin, 4 s missing', { state: 'thin', missingSeconds: 4 }, 5.2],
    ['thin, hardly', { state: 'thin', missingSeconds: 0.1 }, 1],
    ['thin, minutes: never more than 15 at once', { state: 'thin', missingSeconds: 200 }, 15],
    ['proven', { state: 'proven', missingSeconds: 0 }, 0],
    ['measured and off', { state: 'needs-correction', missingSeconds: 0 }, 0],
    // T ln(r / 2 %) with T 30 s: 30 ln 1.5, 30 ln 1.25; no more than 20 s at once
    ['measured and 3 % off, the unit takes it up', { state: 'needs-correction', missingSeconds: 0, settled: false, leftPct: -3 }, 12.164],
    ['8 % off', { state: 'needs-correction', missingSeconds: 0, settled: false, leftPct: 8 }, 20],
    ['settled, with 2.5 % left to learn', { state: 'proven', missingSeconds: 0, settled: true, leftPct: 2.5 }, 6.694],
    ['settled, with what a trim finds', { state: 'proven', missingSeconds: 0, settled: true, leftPct: 1.9 }, 0],
    ['right, but it moved', { state: 'proven', missingSeconds: 0, settled: false }, 3.9],
    ['settled', { state: 'proven', missingSeconds: 0, settled: true }, 0],
  ] as const)('%s', (_, seen, seconds) => expect(needSeconds(seen)).toBeCloseTo(seconds, 3))
})

it.each([
  [{ kind: 'hold', gear: 3, fromKmh: 69.6 }, '3rd gear, hold 70 km/h', '3rd gear, hold 43 mph'],
  [
    { kind: 'hold', gear: 1, fromKmh: 20, gradePct: 4 },
    '1st gear, hold 20 km/h, up a climb of 4 %',
    '1st gear, hold 12 mph, up a climb of 4 %',
  ],
  [
    { kind: 'run-up', gear: 2, fromKmh: 30, toKmh: 60, passes: 2 },
    '2nd gear, up from 30 km/h to 60 km/h with a still foot, near 55 kPa, 2 times',
    '2nd gear, up from 19 mph to 37 mph with a still foot, near 8.0 psi, 2 times',
  ],
  [
    { kind: 'run-down', gear: 4, by: 'throttle', load: 9.4, fromKmh: 90, toKmh: 60 },
    '4th gear, down from 90 km/h to 60 km/h with a still foot, near 9 % of throttle',
    null,
  ],
  [{ kind: 'idle', gear: 0 }, 'Stand, out of gear, and let it idle', null],
] as const)('%o is said so', (more, metric, inch) => {
  const usual: object = { kind: 'hold', gear: 3, fromKmh: 50, toKmh: 50, gradePct: 0, load: 55, by: 'pressure', passes: 1 }
  const leg = { ...usual, ...more } as Parameters<typeof legSays>[0]
  expect(wordsOf(legSays(leg))).toBe(metric)
  if (inch) expect(wordsOf(legSays(leg), { system: 'inch', mixture: 'lambda', stoichAfr: 14.7 })).toBe(inch)
})
