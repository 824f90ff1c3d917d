import { describe, expect, it } from 'vitest'
import { madeReading, severityOf, soundBuild } from '../judge/made-up.fixture.ts'
import type { Facts } from '../survey/facts.ts'
import { checkTune } from './checks.ts'
import { bilinear } from './axes.ts'
import { computeBaseTune } from './base-tune.ts'
import { provisionalLimit } from './taking.ts'
import type { TuneDocument } from './tune.ts'

/** A plain tune made by hand: flat tables, so that each limit is looked at alone. Barometer 100 kPa, idle at 36 kPa, redline 5000 rpm. */
const rpm = [600, 1000, 1500, 2000, 2500, 3000, 4000, 5000]
const mapKpa = [30, 40, 50, 58, 62, 80, 92, 100]
const at = (i: number, j: number) => j * rpm.length + i
const flat = (value: number) => rpm.flatMap(() => mapKpa.map(() => value))
const facts: Facts = {
  engine: { cylinders: 6, displacementCc: 3000, compressionRatio: 8, chamber: 'wedge', redlineRpm: 5000, powerKw: 100 },
  cam: { class: 'stock', idleVacuumKpa: 64 },
  fuel: { kind: 'petrol', octaneRon: 95 },
  place: { barometerKpa: 100 },
}
const plain = (): TuneDocument => ({
  schema: 'vectum-tune/1',
  axes: { rpm, mapKpa },
  tables: { ve: flat(70), lambdaTarget: flat(0.9), spark: flat(10) },
  parameters: {
    displacementCc: 3000,
    cylinders: 6,
    injectors: 2,
    injectorCcMin: 700,
    toldFlowPct: 100,
    fuelPressureKpa: 300,
    injectionsPerCycle: 3,
    fuelDensityKgL: 0.745,
    stoichAfr: 14.7,
    deadTimeMs: [
      [6, 0.9],
      [18, 0.9],
    ],
    chargeHeatShare: 0.3,
    barometerKpa: 100,
    crankingPct: [
      [0, 100],
      [80, 100],
    ],
    crankingDecayFirings: 10,
    warmupPct: [
      [0, 0],
      [80, 0],
    ],
    afterStartPct: [
      [0, 0],
      [80, 0],
    ],
    afterStartS: 5,
    primeMs: 5,
    accelPctPer100: 0,
    accelColdFactor: 1,
    accelDecayS: 0.3,
    cutAboveRpm: 1600,
    cutReturnRpm: 1250,
    idleTargetRpm: [
      [0, 700],
      [80, 700],
    ],
    idleValvePct: [
      [0, 20],
      [80, 20],
    ],
    crankingAdvanceDeg: 10,
    loopMinCoolantC: 72,
    loopDelayS: 30,
    loopAuthorityPct: 25,
    loopMaxMapKpa: 85,
    loopFloorRpm: 0,
    revLimitRpm: 5000,
    fanOnC: 92,
    fanOffC: 87,
    primeS: 2,
    floodClearPct: 90,
    idleInGearRpm: 0,
    idleFanRpm: 0,
    idleFanValvePct: 0,
    idleGearValvePct: 0,
    idleGainPct: 1.2,
    idleIntegralPctS: 2.4,
    idleDampingPct: 0,
    idleSparkDegPer100: 3,
    idleSparkMostDeg: 6,
    idleAdaptMostPct: 60,
    loopGainPctS: 0.6,
    accelMapPctPer100: 0,
    revSoftBelowRpm: 200,
    shiftLightBelowRpm: 300,
    tachPulsesPerRev: 3,
    overboostKpa: 400,
    learnAuthorityPct: 0,
    nitrousRetardDeg: 0,
    airRetardFromC: 40,
    airRetardDegPerK: 0.2,
    mapAtZeroVKpa: -2.5,
    mapKpaPerV: 25,
    coolantSensorOhm: [
      [0, 6000],
      [25, 2000],
      [80, 300],
    ],
    airSensorOhm: [
      [0, 6000],
      [25, 2000],
      [80, 300],
    ],
    throttleShutV: 0.5,
    throttleOpenV: 4.5,
    lambdaAtZeroV: 0.5,
    lambdaPerV: 0.4,
  },
  provenance: {},
})
/** Severity a check gives the plain tune with one thing spoilt. */
const found = (code: string, spoil: (t: TuneDocument) => void, more: Facts = {}) => {
  const tune = plain()
  spoil(tune)
  return checkTune(tune, { facts: { ...facts, ...more } }).find((p) => p.code === code)?.severity ?? null
}
const p = (code: string, parameters: Partial<TuneDocument['parameters']>, more: Facts = {}) =>
  found(code, (t) => Object.assign(t.parameters, parameters), more)

/** Both sides of each limit of handbook 05. */
describe('limits of a tune', () => {
  it.each([
    [0.92, 7, null],
    [0.921, 7, 'stop'],
    // full load begins at 0.92 of the barometer: 92 kPa is in, 80 kPa is not
    [0.95, 6, 'stop'],
    [0.95, 5, null],
  ])('target lambda %d at row %i', (lambda, j, severity) =>
    expect(found('lean-full-load', (t) => (t.tables.lambdaTarget[at(4, j)] = lambda))).toBe(severity),
  )
  it('full load ends between 91 and 93 kPa', () => {
    const edge = (kpa: number) =>
      found('lean-full-load', (t) => ((t.axes = { rpm, mapKpa: mapKpa.with(6, kpa) }), (t.tables.lambdaTarget[at(4, 6)] = 0.95)))
    expect([edge(91.9), edge(92.1)]).toEqual([null, 'stop'])
  })
  it.each([
    [5.9, null],
    [6.1, 'warn'],
  ])('a kink of twice %d %% over speed', (step, severity) =>
    expect(found('ve-rough', (t) => (t.tables.ve[at(3, 3)] += step))).toBe(severity),
  )
  it.each([
    [5.9, null],
    [6.1, 'warn'],
  ])('a kink of twice %d %% over load', (step, severity) =>
    expect(found('ve-rough-load', (t) => (t.tables.ve[at(3, 3)] += step))).toBe(severity),
  )
  it.each([
    [10.9, null],
    [11.1, 'warn'],
  ])('of a table that a log has taught twice %d %%', (step, severity) =>
    expect(found('ve-rough', (t) => ((t.provenance = { ve: 'learned from a log' }), (t.tables.ve[at(3, 3)] += step)))).toBe(severity),
  )
  it.each([
    [29.9, null],
    [30.1, 'warn'],
  ])('under 0.3 of the barometer of 100 kPa no kink is felt: %d kPa', (kpa, severity) =>
    expect(found('ve-rough', (t) => ((t.axes = { rpm, mapKpa: mapKpa.with(0, kpa) }), (t.tables.ve[at(3, 0)] += 7)))).toBe(severity),
  )
  it('duty over 85 % warns, over 95 % stops', () => {
    // at 4100 rpm (0.82 of 5000): fuel a cycle / (6 openings x flow) + 0.9 ms; duty = 3 x pulse x rpm / 120000
    const rho = (100 * 1000 * 0.7 * 3e-3) / (287.05 * (25 + 0.3 * 60 + 273.15))
    const fuelG = (rho * 1000) / (14.7 * 0.9)
    const flowFor = (duty: number) => (fuelG / 6 / ((duty * 1200) / (3 * 4100) - 0.9)) * 1000 * (60 / 0.745)
    const rate = (duty: number) => p('duty', { injectorCcMin: flowFor(duty) })
    expect([rate(84.5), rate(85.5), rate(94.5), rate(95.5)]).toEqual([null, 'warn', 'warn', 'stop'])
  })
  it('fuel within 10 % of the power', () => {
    // 100 kW at 4,100 rpm (0.82 of 5,000) from 3 litres is 975.6 kPa of mean pressure; friction 97 + 15 x 4.1 + 5 x 4.1^2 = 242.6 kPa,
    // so 0.801 of the work arrives, where 290 g/kWh stand for 0.76: 275.2 g/kWh, and 7 % margin: 8.18 g/s
    const wantedGps = ((100 * 290 * (0.76 / 0.8009)) / 3600) * 1.07
    // VE 100 %: 3 litres of 100 kPa at 43 degC every 2 turns, at lambda 0.9
    const rho = (100 * 1000 * 3e-3) / (287.05 * (25 + 0.3 * 60 + 273.15))
    const gps = ((rho * 1000) / (14.7 * 0.9)) * (4100 / 120)
    const rate = (share: number) =>
      found('fuel-cross-check', (t) => (t.tables.ve = flat((100 * share * wantedGps) / gps)), {
        engine: { ...facts.engine, compressionRatio: 9 },
      })
    expect([rate(1.09), rate(1.11), rate(0.91), rate(0.89)]).toEqual([null, 'warn', null, 'warn'])
  })
  it.each([
    [5100, null],
    [5101, 'stop'],
  ])('a rev limit of %d over a redline of 5000', (revLimitRpm, severity) => expect(p('rev-limit', { revLimitRpm })).toBe(severity))
  it.each([
    ['hot', 1199, 'warn'],
    ['hot', 1200, null],
    ['wild', 2199, 'warn'],
    ['wild', 2200, null],
  ] as const)('a %s cam with closed loop from %d rpm', (cam, loopFloorRpm, severity) =>
    expect(p('loop-floor', { loopFloorRpm }, { cam: { class: cam } })).toBe(severity),
  )
  it.each([
    [4, 0.29, null],
    [4, 0.31, 'warn'],
    // from 58 to 62 kPa it may still rise: the lower row is not yet loaded
    [3, 5, null],
  ])('spark that rises above row %i by %d', (j, rise, severity) =>
    expect(found('spark-rises-with-load', (t) => mapKpa.forEach((_, row) => row > j && (t.tables.spark[at(4, row)] = 10 + rise)))).toBe(
      severity,
    ),
  )
  it('loaded begins at 60 kPa', () => {
    const edge = (kpa: number) =>
      found(
        'spark-rises-with-load',
        (t) => ((t.axes = { rpm, mapKpa: mapKpa.with(4, kpa) }), mapKpa.forEach((_, row) => row > 4 && (t.tables.spark[at(4, row)] = 15))),
      )
    expect([edge(59.9), edge(60.1)]).toEqual([null, 'warn'])
  })
  it.each([
    [0.1, null],
    [0.09, 'warn'],
  ])('a dead time of %d ms', (ms, severity) =>
    expect(
      p('dead-time-missing', {
        deadTimeMs: [
          [6, ms],
          [18, ms],
        ],
      }),
    ).toBe(severity),
  )
  it.each([
    [1.015, null],
    [1.016, 'warn'],
  ])('lambda %d in cruise before a catalyst', (lambda, severity) =>
    expect(
      found('catalyst-cruise', (t) => (t.tables.lambdaTarget = t.tables.lambdaTarget.map(() => lambda)), { exhaust: { catalyst: true } }),
    ).toBe(severity),
  )
  it('a pressure sensor that ends 3 kPa over the air', () => {
    // top = at zero volts + 25 kPa/V x 4.5 V usable: move its zero
    const rate = (spare: number) => p('map-sensor-small', { mapAtZeroVKpa: -2.5 + spare, mapKpaPerV: 25 })
    const first = [...Array(400).keys()].map((k) => -30 + k * 0.1).find((spare) => rate(spare) === null)!
    const top = -2.5 + first + 25 * 4.5
    expect(Math.abs(top - 103)).toBeLessThan(0.11)
  })
  it.each([
    [1.49, 'stop'],
    [1.5, null],
  ])('a throttle open at %d V, shut at 0.5 V', (throttleOpenV, severity) => expect(p('throttle-ends', { throttleOpenV })).toBe(severity))
  it.each([
    [3000, null],
    [3001, 3000],
  ])('until timing is proved a limit of %d rpm is offered', (limit, offered) => expect(provisionalLimit(false, limit)).toBe(offered))
  it.each([
    [5303, null],
    [5305, 'stop'],
  ])('a unit that tells %d rpm on an engine of 5200', (revLimitRpm, severity) => {
    const tuneId = '00000000-0000-4000-8000-000000000001'
    const tunes = [
      {
        id: tuneId,
        number: 1,
        name: 'x',
        status: 'in-car',
        origin: 'computed',
        parentId: null,
        createdAt: '2020-01-01T00:00:00.000Z',
        inCarSince: '2020-01-01T00:00:00.000Z',
        problems: [],
      },
    ]
    const steps = (['sent', 'stored', 'power-cycled', 'read-back'] as const).map((step) =>
      madeReading('tune.taking', { tuneId, step, ...(step === 'read-back' ? { differences: 0, revLimitRpm } : {}) }),
    )
    expect(severityOf('start.limit-stored', { tunes }, steps)).toBe(severity)
  })
})

describe('what lint holds to be no engine’s', () => {
  it.each([
    ['idle-spark', 4.9, 'warn'],
    ['idle-spark', 5.1, null],
    ['idle-spark', 29.9, null],
    ['idle-spark', 30.1, 'warn'],
    ['cruise-spark', 19.9, 'warn'],
    ['cruise-spark', 20.1, null],
    ['cruise-spark', 47.9, null],
    ['cruise-spark', 48.1, 'warn'],
  ])('%s of %d degrees', (code, deg, severity) => expect(found(code, (t) => (t.tables.spark = flat(deg)))).toBe(severity))

  it('full-load spark 14 degrees under its guard', () => {
    const tune = { ...plain(), tables: { ...plain().tables, spark: flat(-20) } }
    const { because } = checkTune(tune, { facts }).find((x) => x.code === 'full-load-spark-late')!
    const guard = Number(/guard stands at ([\d.]+)/.exec(because)![1])
    expect(guard).toBeGreaterThan(20)
    const rate = (under: number) => found('full-load-spark-late', (t) => (t.tables.spark = flat(guard - under)))
    expect([rate(13.9), rate(14.1)]).toEqual([null, 'warn'])
  })

  // it idles at 700 rpm and 36 kPa, cruises at 2,250 rpm and 50 kPa, and 3,500 rpm with 100 kPa are full load
  const places = { idle: [0, 1, 0, 1], cruise: [3, 4, 2, 2], full: [5, 6, 7, 7] } as const
  it.each([
    ['idle', 0.815, 'warn'],
    ['idle', 0.825, null],
    ['idle', 1.055, null],
    ['idle', 1.065, 'warn'],
    ['cruise', 0.925, 'warn'],
    ['cruise', 0.935, null],
    ['cruise', 1.065, null],
    ['cruise', 1.075, 'warn'],
    ['full', 0.715, 'warn'],
    ['full', 0.725, null],
  ] as const)('target lambda at %s: %d', (place, lambda, severity) =>
    expect(
      found('target-lambda', (t) => {
        for (const [name, [i0, i1, j0, j1]] of Object.entries(places))
          for (const i of [i0, i1])
            for (const j of [j0, j1]) t.tables.lambdaTarget[at(i, j)] = name === place ? lambda : name === 'cruise' ? 1 : 0.9
      }),
    ).toBe(severity),
  )

  // the computed tune is what the papers ask for
  const scaled = (code: string, route: 'throttle-body' | 'individual-runner', of: (t: TuneDocument) => void) => {
    const { facts, choices } = soundBuild()
    const told = { facts, choices: { ...choices, plan: { ...choices.plan, route } } }
    const tune = structuredClone(computeBaseTune(told.facts, told.choices))
    of(tune)
    return checkTune(tune, told).find((x) => x.code === code)?.severity ?? null
  }
  const rows = (t: TuneDocument, from: number, to: number, times: number) =>
    t.axes.mapKpa.forEach((kpa, j) => {
      if (kpa < from * t.parameters.barometerKpa || kpa > to * t.parameters.barometerKpa) return
      for (let i = 0; i < t.axes.rpm.length; i++) t.tables.ve[j * t.axes.rpm.length + i] *= times
    })
  it.each([
    [0.83, null],
    [0.81, 'stop'],
    [1.29, null],
    [1.31, 'warn'],
  ])('VE at full load %d times what the papers ask for', (times, severity) =>
    expect(scaled('ve-papers', 'throttle-body', (t) => rows(t, 0.92, 3, times))).toBe(severity),
  )
  it.each([
    [0.51, null],
    [0.49, 'warn'],
    [1.49, null],
    [1.51, 'warn'],
  ])('VE at part load %d times the computed one', (times, severity) =>
    expect(scaled('ve-part-load', 'throttle-body', (t) => rows(t, 0, 0.85, times))).toBe(severity),
  )
  it('VE by throttle wide open 25 % under what the papers ask for, from where it is computed', () => {
    const rate = (share: number) =>
      scaled('runner-papers', 'individual-runner', (t) => {
        const full = t.axes.rpm.map((v) => bilinear(t.axes, t.tables.ve, v, t.parameters.barometerKpa))
        t.runner!.ve = t.runner!.throttlePct.flatMap(() => full.map((ve) => share * ve))
      })
    expect([rate(0.76), rate(0.74), rate(1.29), rate(1.31)]).toEqual([null, 'stop', null, 'warn'])
  })
})
