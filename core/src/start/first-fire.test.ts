import { describe, expect, it } from 'vitest'
import { benchCarFor } from '../bench/car.ts'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import type { FaultId } from '../bench/faults.ts'
import { benchIgnition } from '../bench/ignition.ts'
import { seedOf } from '../bench/random.ts'
import { Bench } from '../bench/rig.ts'
import { contextOf } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import type { BuildData } from '../kernel/build.ts'
import type { StoredReading } from '../kernel/entry.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { dryCrankOf, dryCrankRules } from './dry-crank.ts'
import { type Said, wordsOf } from '../kernel/say.ts'
import { madeFrame } from './frame.fixture.ts'
import { type CrankAsked, crankSeen, type CrankSeen, firstFire } from './first-fire.ts'
import type { Frame } from './frame.ts'
import { startStopRules, stopRule } from './stop-rules.ts'

const FRAME_S = 0.04

/** Key on, prime, crank until it fires or six seconds are over, then eight seconds more: frames as a logger gets them, and what is seen besides. */
function attempt(file: string, faults: { id: FaultId; size?: number }[], coolantC = 18, throttlePct = 0) {
  const build = demoBuild(file)
  const b: BuildData = { ...build, choices: { ...build.choices, bench: { faults } } }
  const bench = new Bench(benchCarFor(b.facts, b.choices, seedOf(b.id)), computeBaseTune(b.facts, b.choices), { coolantC })
  bench.ignition = benchIgnition(b)
  bench.setFaults(b.choices.bench)
  const frames: Frame[] = []
  const run = (seconds: number, until: () => boolean = () => false) => {
    for (let t = 0; t < seconds && !until(); t += FRAME_S) {
      bench.run(FRAME_S)
      if (bench.linkUp) frames.push(bench.frame())
    }
  }
  bench.keyOn = true
  bench.throttlePct = throttlePct
  run(3)
  bench.starter = true
  run(6, () => bench.rpm > 400)
  const plugs = bench.plugs()
  bench.starter = false
  run(8)
  const { inlet, exhaust, kick } = bench.heard
  const loudest = Math.max(inlet, exhaust, kick)
  const heard: CrankAsked['heard'] = loudest < 1 ? 'nothing' : loudest === kick ? 'kick' : loudest === inlet ? 'inlet' : 'exhaust'
  return { bench, frames, asked: { heard, plugs }, setKpa: b.choices.plan!.fuelPressureKpa! }
}
const branchOf = (file: string, faults: { id: FaultId; size?: number }[], coolantC?: number, throttlePct?: number) => {
  const { frames, asked, setKpa } = attempt(file, faults, coolantC, throttlePct)
  return firstFire(crankSeen(frames)!, asked, setKpa)!.id
}

describe('each start-related fault of the bench leads to its branch', () => {
  it.each<[string, FaultId, string, number?]>([
    ['1-lowland.json', 'no-speed-signal', 'no-signal'],
    ['2-rampart.json', 'battery-low', 'battery'],
    ['2-rampart.json', 'pump-dead', 'no-pressure'],
    ['1-lowland.json', 'pressure-low', 'no-pressure', 20],
    ['3-staffetta.json', 'injectors-dead', 'no-fuel'],
    ['1-lowland.json', 'injector-size', 'no-fuel'],
    ['1-lowland.json', 'flooded', 'flooded'],
    ['2-rampart.json', 'coolant-sensor', 'caught-died', 100],
    ['2-rampart.json', 'stroke-out', 'early'],
    ['1-lowland.json', 'order-reversed', 'early'],
    ['2-rampart.json', 'supply-drops', 'supply'],
    ['1-lowland.json', 'map-hose-off', 'no-vacuum'],
    ['3-staffetta.json', 'map-ported', 'no-vacuum'],
    ['1-lowland.json', 'idle-valve-shut', 'caught-died'],
    ['1-lowland.json', 'gap-wide', 'no-signal'],
    ['2-rampart.json', 'gap-wide', 'no-signal'],
  ])('%s, %s: %s', (file, id, branch, size) => {
    expect(branchOf(file, [{ id, ...(size === undefined ? {} : { size }) }])).toBe(branch)
  })
  it.each(['1-lowland.json', '2-rampart.json', '3-staffetta.json'])('%s with nothing wrong runs, cold and warm', (file) => {
    expect(branchOf(file, [], 18)).toBe('runs')
    expect(branchOf(file, [], 80)).toBe('runs')
  })
  it.each<[string, FaultId, number?]>([
    ['3-staffetta.json', 'pulse-extra'],
    ['1-lowland.json', 'noise-high', 1.5],
    ['2-rampart.json', 'interference'],
  ])('%s, %s: it would run, so the crank without fuel has to find it', (file, id, size) => {
    const spikes = (faults: { id: FaultId; size?: number }[]) => {
      const b = demoBuild(file)
      const build = { ...b, choices: { ...b.choices, bench: { faults } } }
      const bench = new Bench(benchCarFor(b.facts, b.choices, seedOf(b.id)), computeBaseTune(b.facts, b.choices))
      bench.ignition = benchIgnition(build)
      bench.keyOn = bench.starter = true
      bench.unit.injectorsOn = false
      const frames = Array.from({ length: 100 }, () => (bench.run(FRAME_S), bench.frame()))
      return crankSeen(frames)!.spikes
    }
    expect(spikes([])).toBe(0)
    expect(spikes([{ id, ...(size === undefined ? {} : { size }) }])).toBeGreaterThan(0)
  })
  it('a throttle that was never learned does not start the clearing of a flooded engine by itself', () =>
    expect(branchOf('1-lowland.json', [{ id: 'throttle-zero' }])).toBe('runs'))
  it('wide open it is cleared, not fuelled', () => expect(branchOf('1-lowland.json', [], 18, 100)).toBe('no-pulse'))
  it('no oil pressure is stopped by the rule ten seconds after it runs', () => {
    const { bench } = attempt('2-rampart.json', [{ id: 'no-oil' }], 80)
    let state = startStopRules()
    let reason: Said | null = null
    for (let t = 0; t < 12 && !reason; t += FRAME_S) {
      bench.run(FRAME_S)
      ;({ state, reason } = stopRule(state, bench.frame(), bench.car.barometerKpa))
    }
    expect(wordsOf(reason!)).toContain('No oil pressure')
  })
})

describe('the tree', () => {
  const sound: CrankSeen = {
    seconds: 5,
    fuelled: true,
    rpm: 190,
    dropouts: 0,
    spikes: 0,
    pulseMs: 9,
    pressureKpa: 300,
    batteryV: 10.3,
    ranMapKpa: null,
    stillMapKpa: null,
    caughtRpm: null,
    diedAfterS: null,
    streamEnded: false,
    coolantC: 18,
    throttlePct: 0,
  }
  it.each<[string, Partial<CrankSeen>, CrankAsked, string, boolean]>([
    ['what endangers comes before all', { streamEnded: true, rpm: 0, pressureKpa: 0 }, {}, 'supply', true],
    ['a kick stops the cranking', {}, { heard: 'kick' }, 'early', true],
    ['a flat battery hides the signal', { batteryV: 7, rpm: 0 }, {}, 'battery', false],
    ['no signal hides pulse and pressure', { rpm: 0, pulseMs: 0, pressureKpa: 0 }, {}, 'no-signal', false],
    ['dropouts', { dropouts: 2 }, {}, 'ragged-signal', false],
    ['no pulse hides pressure', { pulseMs: 0, pressureKpa: 0 }, {}, 'no-pulse', false],
    ['pressure', { pressureKpa: 200 }, {}, 'no-pressure', false],
    ['bang in the exhaust', {}, { heard: 'exhaust' }, 'late', false],
    ['catches, dies and saw no vacuum', { caughtRpm: 700, diedAfterS: 1.2, ranMapKpa: 97, stillMapKpa: 99 }, {}, 'no-vacuum', false],
    [
      'with the throttle open that is no wonder',
      { caughtRpm: 700, diedAfterS: 1.2, ranMapKpa: 97, stillMapKpa: 99, throttlePct: 60 },
      {},
      'caught-died',
      false,
    ],
    ['catches and dies', { caughtRpm: 700, diedAfterS: 1.2 }, {}, 'caught-died', false],
    ['nothing known: look at a plug', {}, {}, 'ask-plugs', false],
    ['too short to tell', { seconds: 0.8 }, {}, 'short', false],
  ])('%s', (_, seen, asked, id, pumpOff) => {
    const branch = firstFire({ ...sound, ...seen }, asked, 300)!
    expect([branch.id, branch.pumpOff]).toEqual([id, pumpOff])
    expect(branch.look.length).toBeGreaterThan(0)
  })
  it('after a crank without fuel no branch of the fuelled tree is named, whatever else was seen', () => {
    expect(firstFire({ ...sound, fuelled: false, batteryV: 7 }, { plugs: 'dry' }, 300)).toBeNull()
    const cranked = (fuelHeld: boolean) =>
      crankSeen([0, 1, 2, 3].map((timeS) => madeFrame({ timeS, state: 'cranking', rpm: 180, ...(fuelHeld ? { fuelHeld } : {}) })))
    expect([cranked(true)!.fuelled, cranked(false)!.fuelled]).toEqual([false, true])
  })
  it('no crank, nothing to say', () => expect(crankSeen([])).toBeNull())
})

describe('cranking without fuel', () => {
  const dry = { rpm: 190, dropouts: 0, spikes: 0, oilKpa: 90, lightDeg: 10, commandedDeg: 10 }
  const at = (more: object, readings: StoredReading[] = []) =>
    dryCrankOf(contextOf(soundBuild({}, [...readings, madeReading('start.dry-crank', { ...dry, ...more })])))
  it('passes with a steady speed and the spark within five degrees', () =>
    expect(at({ lightDeg: 14 })).toEqual({ done: true, passed: true, problems: [] }))
  it.each([
    [{ lightDeg: 16 }, /6\.0° early: it can kick back/],
    [{ lightDeg: 3 }, /7\.0° late/],
    [{ rpm: 90 }, /90 rpm; 120 to 280/],
    [{ dropouts: 2 }, /dropped out 2 times/],
    [{ spikes: 1 }, /1 spikes/],
    [{ lightDeg: undefined }, /no light/],
  ])('%j is a stop', (more, words) => {
    expect(at(more).problems.join()).toMatch(words)
    expect(dryCrankRules[0].check(contextOf(soundBuild({}, [madeReading('start.dry-crank', { ...dry, ...more })])))?.severity).toBe('stop')
  })
  it('a stored zero mark corrects the light; a pick-up moved since asks for it again; an engine that has run does not need it', () => {
    expect(at({ lightDeg: 3 }, [madeReading('spark.zero-mark', { method: 'piston-stop', offsetDeg: 6, dealt: 'stored' })]).passed).toBe(
      true,
    )
    const moved = [madeReading('start.dry-crank', dry), madeReading('spark.moved', { what: 'distributor', laterDeg: 3 })]
    expect(dryCrankOf(contextOf(soundBuild({}, moved)))).toMatchObject({ done: false, passed: false })
    const ran = madeReading('start.ran', { secondsToFire: 1, idleRpm: 750, coolantC: 80, tuneId: 't1' })
    expect(dryCrankOf(contextOf(soundBuild({}, [ran]))).passed).toBe(true)
  })
})

describe('a flooded engine', () => {
  it('does not fire with the throttle shut, is dried by cranking wide open without fuel, and then runs', () => {
    const { bench } = attempt('1-lowland.json', [{ id: 'flooded' }])
    expect(bench.rpm).toBeLessThan(100)
    expect(bench.plugs()).toBe('wet')
    // bouts of nine seconds, as a starter bears: about 0.05 kg of air in each, and 0.06 kg carries off all but a third
    let bouts = 0
    for (; bouts < 6 && bench.plugs() === 'wet'; bouts++) {
      bench.throttlePct = 100
      bench.starter = true
      bench.run(9)
      bench.starter = false
      bench.throttlePct = 0
      bench.run(4)
    }
    expect(bouts).toBeGreaterThan(1)
    expect(bench.plugs()).toBe('dry')
    bench.starter = true
    for (let t = 0; t < 8 && bench.rpm < 400; t += FRAME_S) bench.run(FRAME_S)
    expect(bench.rpm).toBeGreaterThanOrEqual(400)
  })
  it('two crossed leads let it run on the others, worse, with bangs; a sound one makes none', () => {
    const crossed = attempt('1-lowland.json', [{ id: 'leads-crossed' }], 85)
    const sound = attempt('1-lowland.json', [], 85)
    const bangs = (b: Bench) => b.heard.inlet + b.heard.exhaust + b.heard.kick
    expect(bangs(crossed.bench)).toBeGreaterThan(1)
    expect(bangs(sound.bench)).toBe(0)
    expect(crossed.bench.rpm).toBeLessThan(sound.bench.rpm)
  })
})
