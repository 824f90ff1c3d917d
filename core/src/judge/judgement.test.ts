import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import type { BuildData, TuneSummary } from '../kernel/build.ts'
import type { StoredReading } from '../kernel/entry.ts'
import { changesBetween, mergePatch, patchFor, valueAt } from '../kernel/patch.ts'
import { camClassFromIdleMap } from '../survey/cam.ts'
import { Facts } from '../survey/facts.ts'
import { firingOrdersFor, isPermutation, parseFiringOrder } from '../survey/firing-orders.ts'
import { checkFact } from './check-told.ts'
import { checkReading, contextOf, evaluate } from './judgement.ts'
import { madeReading, soundBuild } from './made-up.fixture.ts'
import { handoverReport } from './report.ts'

const file = (name: string) =>
  JSON.parse(readFileSync(join(import.meta.dirname, '../../../demo/cars', name), 'utf8')) as {
    id: string
    title: string
    facts: BuildData['facts']
    choices: BuildData['choices']
    readings: { id: string; kind: StoredReading['kind']; value: never; who: string }[]
  }
const tune = (more: Partial<TuneSummary> = {}): TuneSummary => ({
  id: 't1',
  number: 1,
  name: 'Base tune',
  status: 'in-car',
  origin: 'computed',
  parentId: null,
  createdAt: '2020-01-01T00:00:00.000Z',
  inCarSince: '2020-01-01T00:00:00.000Z',
  problems: [],
  ...more,
})
const build = (name: string, more: Partial<BuildData> = {}): BuildData => {
  const { id, title, facts, choices, readings } = file(name)
  return { id, title, facts, choices, readings: readings.map((r) => madeReading(r.kind, r.value)), tunes: [], logs: [], ...more }
}
const station = (b: BuildData, id: string) => evaluate(b).stations.find((s) => s.id === id)!
const ids = (b: BuildData) => evaluate(b).stations.flatMap((s) => s.findings.map((f) => f.id))
const patched = (b: BuildData, patch: object): BuildData => mergePatch(b, patch) as BuildData

describe('judgement of the demo cars', () => {
  it('the pick-up is stopped at survey by polarity and dynamo, and says what to do first', () => {
    const b = build('4-drover.json')
    expect(station(b, 'survey').state).toBe('blocked')
    expect(ids(b)).toEqual(expect.arrayContaining(['survey.positive-earth', 'survey.dynamo']))
    expect(evaluate(b).next).toMatchObject({ station: 'survey', action: expect.stringContaining('negative earth') })
  })
  it('the saloon has cleared survey and spark and waits for a tune', () => {
    const b = build('1-lowland.json')
    expect(['survey', 'spark', 'tune', 'start'].map((id) => station(b, id).state)).toEqual(['cleared', 'cleared', 'ready', 'open'])
  })
  it('an empty build asks for its facts and assumes nothing that decides', () => {
    const empty: BuildData = { id: 'x', title: 'x', facts: {}, choices: {}, readings: [], tunes: [], logs: [] }
    expect(station(empty, 'survey').state).toBe('ready')
    expect(evaluate(empty).next.action).toContain('number of cylinders')
    expect(station(empty, 'spark').waitsFor).toEqual(['survey'])
    expect(handoverReport(empty).every((s) => s.lines.every((l) => !JSON.stringify(l).includes('null')))).toBe(true)
  })
})

describe('rules', () => {
  const six = build('1-lowland.json')
  it.each<[string, object, string]>([
    ['a firing order for another engine', { facts: { engine: { cylinders: 4 } } }, 'survey.firing-order'],
    ['displacement against bore and stroke', { facts: { engine: { displacementCc: 3400 } } }, 'survey.displacement'],
    ['cam words against vacuum', { facts: { cam: { class: 'wild' } } }, 'survey.cam-contradiction'],
    ['solid-core leads', { facts: { ignition: { leads: 'solid-core' } } }, 'survey.solid-leads'],
    ['a boat', { facts: { place: { use: 'boat' } } }, 'survey.marine'],
    ['a weak battery', { facts: { electrics: { crankingV: 8.6 } } }, 'survey.battery'],
    ['injectors too small', { choices: { plan: { injectorCcMin: 200 } } }, 'plan.injector-capacity'],
    ['a pulse after the spark', { choices: { spark: { referenceDeg: 38 } } }, 'spark.lead'],
    ['a pulse after the next cylinder’s', { choices: { spark: { referenceDeg: 130 } } }, 'spark.room'],
    ['a rotor off its terminal', { choices: { spark: { alignDegBtdc: 60 } } }, 'spark.phase'],
    ['a coil too slow', { facts: { ignition: { coilInductanceMh: 9 } } }, 'spark.dwell'],
    ['points under timing control', { facts: { ignition: { kind: 'points' } } }, 'spark.points-control'],
    ['a tank without vent', { facts: { fuel: { tankVented: false } } }, 'fuel.tank-vent'],
    ['plain plugs', { facts: { ignition: { plugs: 'plain' } } }, 'survey.plain-plugs'],
    [
      'shared ports with port injection',
      { facts: { engine: { siamesedInlets: true } }, choices: { plan: { route: 'multi-port' } } },
      'plan.siamesed',
    ],
  ])('finds %s, and not before', (_what, patch, id) => {
    expect(ids(six)).not.toContain(id)
    const found = evaluate(patched(six, patch))
      .stations.flatMap((s) => s.findings)
      .find((f) => f.id === id)
    expect(found).toBeDefined()
    expect(found!.because.length).toBeGreaterThan(10)
    expect(found!.remedy.length).toBeGreaterThan(5)
  })
  it('a hand-twist test that found movement is a stop until a later one finds none', () => {
    const moving = { ...six, readings: [...six.readings, madeReading('spark.lock-out', { moves: true })] }
    expect(station(moving, 'spark').state).toBe('blocked')
    expect(station({ ...moving, readings: [...moving.readings, madeReading('spark.lock-out', { moves: false })] }, 'spark').state).toBe(
      'cleared',
    )
  })
  it('a superseded reading no longer counts', () => {
    const wrong = madeReading('fuel.pressure', { pressureKpa: 30, engineRunning: false })
    const right = madeReading('fuel.pressure', { pressureKpa: 300, engineRunning: false }, { supersedes: wrong.id })
    const { readings, standings } = contextOf({ ...soundBuild(), readings: [wrong, right] })
    expect(readings).toEqual([right])
    expect(standings.get(wrong.id)).toMatchObject({ stands: false, because: 'replaced by a later one' })
  })
})

describe('gates of the first start', () => {
  const ready = (extra: StoredReading[] = []): BuildData => {
    const b = build('1-lowland.json')
    return {
      ...b,
      tunes: [tune()],
      readings: [
        ...b.readings,
        madeReading('start.sanity', { passed: true, checks: [] }),
        madeReading('start.safety', { extinguisher: true, helper: true, stopWord: 'anchor' }),
        madeReading('fuel.prime', { cycles: 2, pumpStops: true }),
        madeReading('fuel.pressure', { pressureKpa: 300, engineRunning: false }),
        ...extra,
      ],
    }
  }
  const unmet = (b: BuildData) =>
    station(b, 'start')
      .requirements.filter((r) => !r.met)
      .map((r) => r.id)
  it('opens only with a dry leak check', () => {
    expect(unmet(ready())).toContain('leak')
    expect(unmet(ready([madeReading('fuel.leak-check', { dry: true })]))).not.toContain('leak')
    expect(station(ready([madeReading('fuel.leak-check', { dry: false, where: 'feed flare' })]), 'start').state).toBe('blocked')
  })
  it('asks for the key-on checks again after another tune went into the car', () => {
    const b = { ...ready(), tunes: [tune({ inCarSince: '2099-01-01T00:00:00.000Z' })] }
    expect(unmet(b)).toContain('sanity')
  })
  it('warns with the fuelling error when the gauge is off by more than 4 %', () => {
    const b = ready([madeReading('fuel.pressure', { pressureKpa: 340, engineRunning: false }, { takenAt: '2031-01-01T00:00:00.000Z' })])
    // sqrt(340/300) = 1.0646
    expect(station(b, 'fuel').findings.find((f) => f.id === 'fuel.pressure')!.because).toContain('+6.5 % fuel')
  })
  it('clears when it has run and the light agrees within a degree', () => {
    const light = [850, 900, 3200, 3200, 850, 3250, 2000, 2100].map((rpm) =>
      madeReading(
        'spark.timing-light',
        { rpm, observedDeg: 15, commandedDeg: 15, referenceDeg: 54, delayUs: 0 },
        { takenAt: '2031-01-01T00:00:00.000Z' },
      ),
    )
    const ran = madeReading('start.ran', { secondsToFire: 1, idleRpm: 750, coolantC: 80, tuneId: 't1' })
    const valve = madeReading('start.idle-valve', { moves: true })
    const every = madeReading('start.cylinders', { cool: [], how: 'ports' })
    const dry = madeReading('fuel.leak-check', { dry: true })
    expect(station(ready([dry, ran, valve, every, ...light]), 'start').state).toBe('cleared')
    // an idle on one cylinder less, or one nobody looked at, clears nothing; a valve that stands still neither
    expect(
      station(ready([dry, ran, valve, ...light]), 'start')
        .requirements.filter((r) => !r.met)
        .map((r) => r.id),
    ).toEqual(['cylinders'])
    const dead = madeReading('start.cylinders', { cool: [3], how: 'ports' })
    expect(station(ready([dry, ran, valve, dead, ...light]), 'start').state).toBe('blocked')
    const stuck = madeReading('start.idle-valve', { moves: false })
    expect(station(ready([dry, ran, stuck, every, ...light]), 'start').state).not.toBe('cleared')
    const off = light.map((r) => ({ ...r, value: { ...(r.value as object), observedDeg: 19 } as never }))
    expect(station(ready([dry, ran, valve, every, ...off]), 'start').state).not.toBe('cleared')
  })
})

describe('readings', () => {
  it.each([
    ['fuel.pressure', 'pressureKpa', 9999, 'must be at most 1500 kPa'],
    ['fuel.prime', 'cycles', 0, 'must be at least 1'],
    ['survey.old-timing', 'rpm', 20, 'must be at least 50 rpm'],
    ['tach.reading', 'trueRpm', 'fast', 'must be a number in rpm'],
  ] as const)('%s, %s = %j is refused with bound and unit, as the server would', (kind, field, value, words) =>
    expect(checkReading(kind, field, value)).toBe(words),
  )
  it('takes a good one, and says nothing of what is not there', () => {
    expect(checkReading('fuel.pressure', 'pressureKpa', 300)).toBeNull()
    expect(checkReading('fuel.pressure', 'pressureKpa', undefined)).toBeNull()
  })
})

describe('facts', () => {
  it.each([
    ['facts.engine.boreMm', 9, 'must be at least 30 mm'],
    ['facts.engine.redlineRpm', 99999, 'must be at most 12000 rpm'],
    ['facts.engine.cylinders', 'six', 'must be a number'],
    ['facts.engine.cylinders', 4.5, 'whole number'],
    ['facts.engine.firingOrder', [1, 3, 3, 2], 'names cylinder 3 twice'],
    ['facts.cam.class', 'huge', 'must be one of stock, mild, hot, wild'],
    ['facts.engine.pistons', 4, 'is not a field'],
  ])('%s = %j is refused with words that name the bound', (path, value, words) => expect(checkFact(path, value)).toContain(words))
  it('takes a good one', () => expect(checkFact('facts.engine.boreMm', 86)).toBeNull())
  it.each([
    ['1-5-3-6-2-4', [1, 5, 3, 6, 2, 4]],
    ['1 3 4 2', [1, 3, 4, 2]],
    ['1342', [1, 3, 4, 2]],
    ['one two', null],
  ])('firing order "%s"', (text, order) => expect(parseFiringOrder(text)).toEqual(order))
  it('every known order is a permutation', () => firingOrdersFor().forEach((o) => expect(isPermutation(o, o.length)).toBe(true)))
  it('cam class by idle MAP: 39.9, 45, 55 and 63 kPa', () =>
    expect([39.9, 45, 55, 63].map(camClassFromIdleMap)).toEqual(['stock', 'mild', 'hot', 'wild']))
  it('a merge patch sets, clears with null, and lists what changed', () => {
    const after = mergePatch({ a: { b: 1, c: 2 } }, { a: { b: null, d: 3 } })
    expect(after).toEqual({ a: { c: 2, d: 3 } })
    expect(changesBetween({ a: { b: 1, c: 2 } }, after).map((c) => c.path)).toEqual(['a.b', 'a.d'])
    expect(valueAt(mergePatch({}, patchFor('facts.engine.boreMm', 86)), 'facts.engine.boreMm')).toBe(86)
  })
  it('facts are strict: an unknown group is refused', () => expect(Facts.safeParse({ motor: {} }).success).toBe(false))
})
