import { describe, expect, it } from 'vitest'
import { contextOf } from '../judge/judgement.ts'
import { severityOf, soundBuild } from '../judge/made-up.fixture.ts'
import type { BuildData } from '../kernel/build.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { tuneFigures } from '../tune/figures.ts'
import { evaluate } from '../judge/judgement.ts'
import { speedSpikes } from './interference.ts'
import { guardDeg } from './planned-advance.ts'
import { timingPayoff } from './old-curve.ts'
import { phaseOf, sweepOf } from './phase.ts'
import { timingTape } from './timing-tape.ts'

const inCar = (figures: Record<string, number>) => ({
  id: 't1',
  number: 1,
  name: 'one',
  status: 'in-car' as const,
  origin: 'edited' as const,
  parentId: null,
  createdAt: '2026-03-01T00:00:00Z',
  inCarSince: '2026-03-01T00:00:00Z',
  problems: [],
  figures,
})
const withTune = (least: number, most: number, patch: object = {}): BuildData => ({
  ...soundBuild(patch),
  tunes: [inCar({ advanceLeastDeg: least, advanceMostDeg: most })],
})

describe('the swept range', () => {
  it('is what the tune in the car commands, not the usual corners', () => {
    expect(sweepOf(contextOf(soundBuild()))).toEqual({ minAdvanceDeg: 6, maxAdvanceDeg: 40 })
    expect(sweepOf(contextOf(withTune(-4.3, 42)))).toEqual({ minAdvanceDeg: -4.3, maxAdvanceDeg: 42 })
    // what was entered is widened, never narrowed
    const entered = { choices: { spark: { minAdvanceDeg: 8, maxAdvanceDeg: 45 } } }
    expect(sweepOf(contextOf(withTune(-4.3, 42, entered)))).toEqual({ minAdvanceDeg: -4.3, maxAdvanceDeg: 45 })
  })
  it('leaves the rotor little overlap where the tune sweeps far: a finding', () => {
    // widths of 6 and 5 mm on 25 mm: (6 + 5)/25 rad = 25.2 degrees, half of it 12.6; 46.3 degrees of sweep are 11.6 each way: 1.0 left
    const c = contextOf(withTune(-4.3, 42))
    expect(phaseOf(c)!.output.overlapDistDeg).toBeCloseTo(1.03, 1)
    const spark = evaluate(withTune(-4.3, 42)).stations.find((s) => s.id === 'spark')!
    expect(spark.findings.find((f) => f.id === 'spark.phase')!.severity).toBe('warn')
    expect(severityOf('spark.phase')).toBeNull()
  })
  // half of 25.2 degrees is 12.605; a sweep of s at the crank takes s/4 each way off it: 1.5 are left at 44.42
  it.each([
    [40, null],
    [40.6, 'warn'],
  ])('an overlap of 1.5 distributor degrees is thin: a sweep of -4.2 to %d degrees', (most, severity) => {
    const found = evaluate(withTune(-4.2, most)).stations.find((s) => s.id === 'spark')!
    expect(found.findings.find((f) => f.id === 'spark.phase')?.severity ?? null).toBe(severity)
  })
  it.each([
    [5.53, 40, null],
    [5.45, 40, 'warn'],
    [6, 40.47, null],
    [6, 40.55, 'warn'],
  ])('a tune of %d to %d degrees against 6 to 40 entered', (least, most, severity) => {
    const build = withTune(least, most, { choices: { spark: { minAdvanceDeg: 6, maxAdvanceDeg: 40 } } })
    const found = evaluate(build)
      .stations.find((s) => s.id === 'spark')!
      .findings.find((f) => f.id === 'spark.swept-range')
    expect(found?.severity ?? null).toBe(severity)
  })
  it('is read from the tables: least and most where the engine can go, cranking and nitrous counted', () => {
    const { facts, choices } = soundBuild({ facts: { induction: { kind: 'blow-through', boostKpa: 100 } } })
    const tune = computeBaseTune(facts, choices)
    tune.tables.spark = tune.tables.spark.map(() => 20)
    tune.tables.spark[3] = 41.5
    tune.tables.spark[tune.tables.spark.length - 9] = -4.3
    const told = { facts, choices }
    expect(tuneFigures(tune, told)).toMatchObject({ advanceLeastDeg: -4.3, advanceMostDeg: 41.5 })
    tune.parameters.nitrousRetardDeg = 6
    expect(tuneFigures(tune, told).advanceLeastDeg).toBeCloseTo(-10.3, 9)
  })
})

describe('triggers', () => {
  const wheel = { choices: { spark: { trigger: 'toothed-wheel', referenceDeg: 200, wheel: { teeth: 36, missing: 1 } } } }
  it('a wheel with a gap has no next pulse to be taken for this one', () => {
    expect(severityOf('spark.room', wheel)).toBeNull()
    // 120 degrees between pulses of six cylinders: a reference of 200 leaves no room
    expect(severityOf('spark.room', { choices: { spark: { trigger: 'hall', referenceDeg: 200 } } })).toBe('stop')
  })
  it.each([
    [5, [1, 2, 4, 5, 3], 'stop'],
    [3, [1, 3, 2], 'stop'],
    [4, [1, 3, 4, 2], null],
  ])('%d cylinders cannot have a pulse a firing on the crank', (cylinders, firingOrder, severity) =>
    expect(
      severityOf('spark.odd-targets', { facts: { engine: { cylinders, firingOrder } }, choices: { spark: { trigger: 'crank-cam' } } }),
    ).toBe(severity),
  )
  it('a rotor whose turning nobody knows is asked for', () => {
    expect(severityOf('spark.rotation')).toBe('warn')
    expect(severityOf('spark.rotation', { facts: { ignition: { rotation: 'anticlockwise' } } })).toBeNull()
    expect(severityOf('spark.rotation', { choices: { spark: { trigger: 'crank-cam' } } })).toBeNull()
  })
})

describe('a distributor with its own curve', () => {
  const own = (load: object[], facts: object = {}) => ({
    facts,
    choices: {
      spark: {
        trigger: 'own-curve',
        ownCurve: {
          points: [
            { rpm: 600, deg: 8 },
            { rpm: 3000, deg: 26 },
          ],
          load,
        },
      },
    },
  })
  it('is looked at over the whole plane, under boost too', () => {
    expect(severityOf('spark.own-curve', own([]))).not.toBe('stop')
    // 26 degrees stand over a guard that falls by 0.2 for each kPa of boost
    const blown = { induction: { kind: 'blow-through', boostKpa: 70 } }
    expect(severityOf('spark.own-curve', own([], blown))).toBe('stop')
    // half load lifted by 40 degrees is over it as well, where full load is not
    expect(
      severityOf(
        'spark.own-curve',
        own([
          { mapKpa: 50, deg: 40 },
          { mapKpa: 90, deg: 0 },
        ]),
      ),
    ).toBe('stop')
  })
})

describe('what timing control might pay', () => {
  const curve = { staticDeg: 12, mechanicalDeg: 28, fromRpm: 800, toRpm: 2500, vacuumDeg: 0, vacuumFullKpa: 40, source: 'none' as const }
  const car = { redlineRpm: 5200, idleRpm: 750, idleMapKpa: 47, barometerKpa: 99 }
  it('less advance for knock’s sake gains no torque; less advance for another reason is counted', () => {
    const r = { chamber: 'wedge' as const, compressionRatio: 10.5, octaneRon: 91, cooledBoost: false }
    const guard = (rpm: number, map: number) => guardDeg(r, rpm, map, 99)
    const held = timingPayoff(curve, (rpm, map) => Math.min(30, guard(rpm, map) - 2), car, 2.5e-4, guard)
    const full = held.find((p) => p.id === 'full')!
    expect(full.plannedDeg).toBeLessThan(full.oldDeg - 8)
    expect([full.heldBack, full.gainPct]).toEqual([true, 0])
    const free = timingPayoff(curve, () => 30, car)
    expect(free.find((p) => p.id === 'full')!.gainPct).toBeGreaterThan(2)
  })
})

describe('the rest', () => {
  it('a spike of one row in a log of ten a second shows: there and back is more than a crank can do', () => {
    const at10Hz = (rpm: number[]) =>
      speedSpikes(
        rpm.map((_, i) => i / 10),
        rpm,
      )
    // 1,100 rpm up and down again within 0.2 s: 11,000 rpm/s, where free revving stays under 6,000 both ways
    expect(at10Hz([2000, 2010, 3110, 2020, 2030])).toHaveLength(1)
    // a throttle blip: up in 0.3 s, down in 0.6
    expect(at10Hz([900, 1300, 1900, 2400, 2200, 1900, 1600, 1300])).toHaveLength(0)
    // a gear change does not come back
    expect(at10Hz([4200, 4250, 2900, 2850, 2900])).toHaveLength(0)
  })
  it('a tape lies on a larger circle: 0.5 mm of paper lengthen 90 degrees by 0.79 mm', () => {
    const end = (thickness: number) => timingTape(160, 0, 90, thickness).at(-1)!.mm
    // pi x 1 mm / 4
    expect(end(0.5) - end(0)).toBeCloseTo(0.785, 2)
  })
})
