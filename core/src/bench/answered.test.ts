import { describe, expect, it } from 'vitest'
import { contextOf } from '../judge/judgement.ts'
import { madeReading } from '../judge/made-up.fixture.ts'
import type { BuildData } from '../kernel/build.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { tuneFigures } from '../tune/figures.ts'
import { answerCard, answerMetric } from '../unit/answers.ts'
import { answersTold, tuneOfAnswers } from './answered.ts'
import { demoBuild } from './demo-build.fixture.ts'
import { BenchDesk } from './desk.ts'
import { benchDrive, everydayDrive } from './drive.ts'
import { UnitMemory } from './unit-memory.ts'

/** A demo car whose unit is set by questions, with the tune its answers come from. */
function asked(file: string, unit: object = {}): BuildData {
  const build = demoBuild(file)
  const choices = { ...build.choices, unit: { setBy: 'questions' as const, learns: 'itself' as const, learnLimitPct: 20, ...unit } }
  const figures = tuneFigures(computeBaseTune(build.facts, choices), { facts: build.facts, choices })
  const tune = {
    ...{ id: 't', number: 1, name: 'x', status: 'in-car' as const, origin: 'computed' as const, parentId: null },
    ...{ createdAt: '', inCarSince: null, problems: [], figures },
  }
  return { ...build, choices, tunes: [tune] }
}
const typedOf = (build: BuildData) =>
  Object.fromEntries(
    answerCard(contextOf(build)).flatMap((a) =>
      a.value === null ? [] : [[a.id, typeof a.value === 'number' ? answerMetric(a, a.value) : a.value]],
    ),
  )

describe('a unit that makes its own base from answers', () => {
  it.each(['1-lowland.json', '2-rampart.json'])('%s starts on it within 5 s and idles near its target', (file) => {
    const build = asked(file)
    const desk = new BenchDesk(build, computeBaseTune(build.facts, build.choices), typedOf(build))
    const { bench } = desk
    desk.obey({ command: 'key', on: true })
    desk.obey({ command: 'pump', allowed: true })
    bench.run(3)
    desk.obey({ command: 'crank', on: true })
    for (let t = 0; t < 5 && bench.rpm < 450; t += 0.03) desk.frame()
    bench.starter = false
    expect(bench.rpm).toBeGreaterThan(450)
    bench.run(40)
    const target = tuneOfAnswers(typedOf(build)).parameters.idleTargetRpm
    expect(Math.abs(bench.rpm - target[0][1])).toBeLessThan(target[0][1] - target[1][1] + 150)
  })
  it('a wrong answer does to the car what the card says: a sixth more flow told runs it a sixth leaner', () => {
    const right = { cylinders: 6, displacement: 3180, injectors: 2, 'injector-flow': 520, 'rev-limit': 5200 }
    const ve = (more: object) => tuneOfAnswers({ ...right, ...more }).parameters
    expect(ve({ 'injector-flow': 620 }).injectorCcMin).toBe(620)
    expect(ve({ 'closed-loop': 'off' }).loopAuthorityPct).toBe(0)
    expect(ve({ learning: 'on', 'learn-limit': 15 }).learnAuthorityPct).toBe(15)
    expect(ve({ learning: 'off' }).learnAuthorityPct).toBe(0)
  })
  it('it does not go on without an answer it needs, and names it', () =>
    expect(() => tuneOfAnswers({ cylinders: 6, displacement: 3180, injectors: 2 })).toThrow('injector flow'))
  it('keeps its answers over a key-off when they were stored, and forgets them when they were not', () => {
    const build = asked('1-lowland.json')
    const desk = new BenchDesk(build, computeBaseTune(build.facts, build.choices))
    const typed = typedOf(build)
    const offAndOn = () => {
      desk.obey({ command: 'key', on: false })
      for (let t = 0; t < 12; t += 0.03) desk.frame()
      desk.obey({ command: 'key', on: true })
    }
    desk.obey({ command: 'key', on: true })
    expect(() => desk.storeAnswers()).toThrow('Nothing was answered')
    desk.enterAnswers(typed)
    offAndOn()
    expect(desk.readAnswers().typed).toEqual({})
    desk.enterAnswers(typed)
    desk.storeAnswers()
    desk.enterAnswers({ 'rev-limit': 3000 })
    offAndOn()
    const back = desk.readAnswers()
    expect(back.typed['rev-limit']).toBe(typed['rev-limit'])
    expect(back.offS).toBeGreaterThan(11)
    expect(back.offS).toBeLessThan(14)
  })
  it('one that forgets what it was sent comes back with its maker’s limit', () => {
    const build = asked('1-lowland.json')
    const faulty = { ...build, choices: { ...build.choices, bench: { faults: [{ id: 'store-fails' as const }] } } }
    const desk = new BenchDesk(faulty, computeBaseTune(build.facts, build.choices))
    desk.obey({ command: 'key', on: true })
    desk.enterAnswers(typedOf(build))
    desk.storeAnswers()
    desk.obey({ command: 'key', on: false })
    desk.obey({ command: 'key', on: true })
    expect(desk.readAnswers().typed['rev-limit']).toBe(9900)
  })
  it('what was told after a key-off is what the bench’s unit goes on with, brought to metric', () => {
    const build = asked('1-lowland.json', { pressureIn: 'psi' })
    const told = madeReading('unit.read-back', { tuneId: 't', offS: 12, values: { 'fuel-pressure': { value: 43.5, unit: 'psi' } } })
    expect(answersTold(contextOf({ ...build, readings: [told] }))!['fuel-pressure']).toBeCloseTo(299.9, 1)
    expect(answersTold(contextOf(build))).toBeNull()
    expect(answersTold(contextOf(demoBuild('2-rampart.json')))).toBeNull()
  })
})

describe('a unit that learns by itself, on the road', () => {
  const build = asked('1-lowland.json', { setBy: 'tables' })
  const tune = computeBaseTune(build.facts, build.choices)
  const plan = everydayDrive(3, 3)
  const drive = (more: object = {}, learned?: readonly number[], unit: object = {}) =>
    benchDrive({ ...build, choices: { ...build.choices, unit: { ...build.choices.unit, ...unit }, ...more } }, tune, plan, {
      coolantC: 80,
      learned,
    })
  const fault = (id: 'unit-frozen' | 'unit-forgets' | 'unit-poisoned', size?: number) => ({
    bench: { faults: [{ id, ...(size ? { size } : {}) }] },
  })
  const most = (pct: readonly number[]) => Math.max(...pct.map(Math.abs))
  const first = drive()

  it('learns into cells of its own, within its limit, and goes on from what it held', () => {
    expect(most(first.learned.pct)).toBeGreaterThan(2)
    expect(most(first.learned.pct)).toBeLessThanOrEqual(20)
    expect(most(drive({}, undefined, { learnLimitPct: 2 }).learned.pct)).toBeLessThanOrEqual(2)
    const again = drive({}, first.learned.pct)
    const moved = again.learned.pct.map((v, i) => v - first.learned.pct[i])
    expect(most(moved)).toBeLessThan(most(first.learned.pct))
  })
  it('a trim alone, or a person, leaves nothing learned; a frozen one stays where it was', () => {
    expect(most(drive({}, undefined, { learns: 'trim' }).learned.pct)).toBe(0)
    expect(most(drive({}, undefined, { learns: 'nobody' }).learned.pct)).toBe(0)
    expect(drive(fault('unit-frozen'), first.learned.pct).learned.pct).toEqual(first.learned.pct)
  })
  it('a poisoned cell keeps its value; on axes it was told, it has those cells', () => {
    expect(drive(fault('unit-poisoned', 18)).learned.pct.filter((v) => v === 18)).toHaveLength(1)
    const own = drive({}, undefined, { learnedRpm: [500, 2000, 5000], learnedMapKpa: [20, 60, 100] }).learned
    expect(own.pct).toHaveLength(9)
  })
  it('waits for warmth, speed and load as it was told', () => {
    expect(most(drive({}, undefined, { learnFromCoolantC: 110 }).learned.pct)).toBe(0)
    const high = drive({}, undefined, { learnFromRpm: 2000, learnedRpm: [500, 1900, 4000], learnedMapKpa: [20, 100] }).learned
    expect(high.pct[0]).toBe(0)
  })
  it('saving that folds into the base leaves the fuel as it was: 10 % learned, saved, and 10 % more are 21 % over the base', () => {
    const memory = new UnitMemory(5000, { rpm: [1000, 2000], mapKpa: [40, 80] })
    memory.recall([10, 10, 10, 10])
    memory.fold()
    expect([memory.at(1500, 60), memory.foldedAt(1500, 60)]).toEqual([0, expect.closeTo(10, 9)])
    memory.recall([10, 10, 10, 10])
    memory.fold()
    expect(memory.foldedAt(1000, 40)).toBeCloseTo(21, 9)
  })
  it('by hand: 5 % of trim for 15 s in one cell leaves 3.5 % learned; 1.4 % is its own noise', () => {
    const memory = new UnitMemory(5000, { rpm: [1000, 2000], mapKpa: [40, 80] })
    for (let t = 0; t < 15; t += 0.005) memory.learn(1000, 40, 5, { mostPct: 20, settleS: 15 }, 0.005)
    expect(memory.at(1000, 40)).toBeCloseTo(3.5, 2)
    for (let t = 0; t < 15; t += 0.005) memory.learn(2000, 80, 1.4, { mostPct: 20, settleS: 15 }, 0.005)
    expect(memory.at(2000, 80)).toBe(0)
  })
})
