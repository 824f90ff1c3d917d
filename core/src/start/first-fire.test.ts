import { describe, expect, it } from 'vitest'
import { benchCarFor } from '../bench/car.ts'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import type { FaultId } from '../bench/faults.ts'
import { benchIgnition } from '../bench/ignition.ts'
import { seedOf } from '../kernel/random.ts'
import { Bench } from '../bench/rig.ts'
import { contextOf } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import type { BuildData } from '../kernel/build.ts'
import type { StoredReading } from '../kernel/entry.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { dryCrankOf, dryCrankRules } from './dry-crank.ts'
import { type Said, wordsOf } from '../kernel/say.ts'
import { madeFrame } from './frame.fixture.ts'
import { coolPorts } from './injectors.ts'
import { causes, type Sign, signValues, soundShows } from './causes.ts'
import { crankSeen, type CrankSeen } from './crank-seen.ts'
import { firstFire } from './first-fire.ts'
import { nextTest, rankCauses } from './rank-causes.ts'
import { type CrankAsked, signsOf } from './signs.ts'
import type { Frame } from './frame.ts'
import { startWanted } from './read-beside.ts'
import { startStopRules, stopRule } from './stop-rules.ts'

const FRAME_S = 0.04
const crankedAndRan: CrankSeen = {
  seconds: 2,
  fuelled: true,
  rpm: 190,
  dropouts: 0,
  spikes: 0,
  pulseMs: 9,
  pressureKpa: 300,
  batteryV: 10.3,
  ranMapKpa: 47,
  stillMapKpa: 99,
  caughtRpm: 900,
  diedAfterS: null,
  streamEnded: false,
  coolantC: 18,
  throttlePct: 0,
}

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
  return { bench, frames, asked: { heard, plugs, stood: coolantC < 40 }, wanted: startWanted(contextOf(b))! }
}
const branchOf = (file: string, faults: { id: FaultId; size?: number }[], coolantC?: number, throttlePct?: number) => {
  const { frames, asked, wanted } = attempt(file, faults, coolantC, throttlePct)
  return firstFire(crankSeen(frames)!, asked, wanted)!.id
}

describe('each start-related fault of the bench leads to its branch', () => {
  it.each<[string, FaultId, string, number?]>([
    ['1-lowland.json', 'no-speed-signal', 'no-signal'],
    ['2-rampart.json', 'battery-low', 'battery'],
    ['2-rampart.json', 'pump-dead', 'no-pressure'],
    ['1-lowland.json', 'pressure-low', 'no-pressure', 12],
    ['3-staffetta.json', 'injectors-dead', 'no-fuel'],
    ['1-lowland.json', 'injector-size', 'no-fuel'],
    ['1-lowland.json', 'flooded', 'flooded'],
    ['2-rampart.json', 'coolant-sensor', 'runs-badly', 100],
    ['2-rampart.json', 'stroke-out', 'early'],
    ['2-rampart.json', 'supply-drops', 'supply'],
    ['1-lowland.json', 'map-hose-off', 'no-vacuum'],
    ['3-staffetta.json', 'map-ported', 'no-vacuum'],
    ['1-lowland.json', 'idle-valve-shut', 'runs-badly'],
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
  it('leads laid against the rotation bang, at one end or the other, and stand among the causes', () => {
    const { frames, asked, wanted } = attempt('1-lowland.json', [{ id: 'order-reversed' }])
    const branch = firstFire(crankSeen(frames)!, asked, wanted)!
    expect(['early', 'late']).toContain(branch.id)
    expect(branch.look.some((l) => l.cause === 'order' || l.cause === 'crossed')).toBe(true)
  })
  it('a throttle that was never learned does not start the clearing of a flooded engine by itself: it runs, and that is named', () => {
    const { frames, asked, wanted } = attempt('1-lowland.json', [{ id: 'throttle-zero' }])
    expect(firstFire(crankSeen(frames)!, asked, wanted)).toMatchObject({ id: 'runs-badly', look: [{ cause: 'throttle-zero' }, {}, {}] })
  })
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
  const sound: CrankSeen = { ...crankedAndRan, seconds: 5, ranMapKpa: null, stillMapKpa: null, caughtRpm: null }
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
    const branch = firstFire({ ...sound, ...seen }, asked, { setKpa: 300 })!
    expect([branch.id, branch.pumpOff]).toEqual([id, pumpOff])
    expect(branch.look.length).toBeGreaterThan(0)
  })
  it('after a crank without fuel no branch of the fuelled tree is named, whatever else was seen', () => {
    expect(firstFire({ ...sound, fuelled: false, batteryV: 7 }, { plugs: 'dry' }, { setKpa: 300 })).toBeNull()
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

describe('causes, ranked', () => {
  it('every sign of a sound car sums to one, every cause shows only values that exist', () => {
    for (const [sign, of] of Object.entries(soundShows))
      expect(
        Object.values(of).reduce((a, v) => a + v, 0),
        sign,
      ).toBeCloseTo(1, 6)
    for (const cause of causes)
      for (const [sign, of] of Object.entries(cause.shows)) {
        expect(Object.keys(of).filter((v) => !(signValues[sign as Sign] as readonly string[]).includes(v))).toEqual([])
        expect(
          Object.values(of).reduce((a, v) => a + v, 0),
          `${cause.id} ${sign}`,
        ).toBeCloseTo(1, 6)
      }
  })
  it('shares by hand: of two causes that a sign parts nine to one, at equal priors, the sign turns the odds nine to one', () => {
    const [hose, sensor] = ['map-hose', 'map-sensor'].map((id) => causes.find((c) => c.id === id)!)
    const odds = (signs: Parameters<typeof rankCauses>[0]) => {
      const ranked = rankCauses(signs)
      const of = (id: string) => ranked.find((r) => r.cause.id === id)!.share
      return of('map-sensor') / of('map-hose')
    }
    expect(odds({})).toBeCloseTo(sensor.prior / hose.prior, 6)
    // still: off with 0.95 by the sensor, 0.02 on a car whose hose is off
    expect(odds({ still: 'off' }) / odds({})).toBeCloseTo(0.95 / 0.02, 6)
  })
  it('names the cheapest thing that parts what is left, and nothing when it is clear', () => {
    const silent = nextTest({ fired: 'never', speed: 'steady', pulse: 'there', pressure: 'right', heard: 'nothing', light: 'right' })!
    // injectors that do not click, or plugs that are wet: the click costs three minutes, the plug eight
    expect([silent.sign, silent.minutes]).toEqual(['clicks', 3])
    expect(
      nextTest({ speed: 'none', pulse: 'none', fired: 'never', plugs: 'dry', clicks: 'all', valve: 'moves', heard: 'nothing' }),
    ).toBeNull()
  })
  it('an engine that runs well is still asked whether every cylinder works, and one cool port makes it run badly', () => {
    const seen = { ...crankedAndRan, run: { seconds: 5, rpm: 750, spread: 0.03, lambda: 1, throttlePct: 0 } }
    const wanted = { setKpa: 300, barometerKpa: 99, idleRpm: 750 }
    expect(firstFire(seen, {}, wanted)).toMatchObject({ id: 'runs', next: { sign: 'ports' } })
    expect(firstFire(seen, { ports: 'even' }, wanted)).toMatchObject({ id: 'runs', next: null })
    const bad = firstFire(seen, { ports: 'some cool' }, wanted)!
    expect(bad.id).toBe('runs-badly')
    expect(bad.look.map((l) => l.cause)).toContain('one-cylinder-spark')
  })
  it.each([
    [{ rpm: 750, spread: 0.16 }, 'runs'],
    [{ rpm: 750, spread: 0.17 }, 'runs-badly'],
    // 1.35 x 750 and 350 more for the cold: 1,362 rpm
    [{ rpm: 1360, spread: 0.03 }, 'runs'],
    [{ rpm: 1364, spread: 0.03 }, 'runs-badly'],
    // 0.72 x 750 = 540
    [{ rpm: 541, spread: 0.03 }, 'runs'],
    [{ rpm: 539, spread: 0.03 }, 'runs-badly'],
  ])('%j: %s', (run, id) => {
    const seen = { ...crankedAndRan, run: { seconds: 5, lambda: 1, throttlePct: 0, ...run } }
    expect(firstFire(seen, {}, { setKpa: 300, barometerKpa: 99, idleRpm: 750 })!.id).toBe(id)
  })
  it.each([
    [1.12, 'runs'],
    [1.13, 'runs-badly'],
    [0.8, 'runs'],
    [0.79, 'runs-badly'],
  ])('pressure at %d of what is set: %s', (share, id) => {
    const seen = { ...crankedAndRan, pressureKpa: 300 * share, run: { seconds: 5, rpm: 750, spread: 0.03, lambda: 1, throttlePct: 0 } }
    expect(firstFire(seen, {}, { setKpa: 300 })!.id).toBe(id)
  })
  it('coolant against air tells only of an engine that has stood; colder than the air is never right', () => {
    const at = (coolantC: number, stood: boolean) =>
      signsOf({ ...crankedAndRan, coolantC, coldAirC: 15, run: null }, { stood }, { setKpa: 300 }).cold
    expect([at(23, true), at(23.1, true), at(60, false), at(6.9, false)]).toEqual(['agrees', 'reads hot', undefined, 'reads cold'])
  })
  it('a single count that its neighbours contradict is a spike; a cylinder that fires is none', () => {
    const turned = (speeds: number[]) => crankSeen(speeds.map((rpm, i) => madeFrame({ timeS: i * 0.03, state: 'cranking', rpm })))!.spikes
    const steady = Array.from({ length: 40 }, () => 190)
    expect(turned(steady)).toBe(0)
    expect(turned(steady.map((v, i) => (i === 30 ? 380 : v)))).toBe(1)
    expect(turned(steady.map((v, i) => (i >= 28 && i < 34 ? 300 : v)))).toBe(0)
  })
})

describe('signs, on both sides of each limit', () => {
  const wanted = { setKpa: 300 }
  const signs = (more: Partial<CrankSeen>) => signsOf({ ...crankedAndRan, caughtRpm: null, run: null, ...more }, {}, wanted)
  it.each([
    [89, 'none'],
    [91, 'low'],
    [239, 'low'],
    [241, 'right'],
    [336, 'right'],
    [337, 'high'],
  ])('%d of 300 kPa is %s', (pressureKpa, sign) => expect(signs({ pressureKpa }).pressure).toBe(sign))
  it.each([
    [1, 'steady'],
    [2, 'ragged'],
  ])('%d counts that contradict their neighbours: %s', (spikes, sign) => expect(signs({ spikes }).speed).toBe(sign))
  // one and a half times 190 rpm is 285; one and a half times the least of a starter, 120 rpm, is 180
  it.each([
    [190, 285, 'never'],
    [190, 286, 'sputters'],
    [100, 180, 'never'],
    [100, 181, 'sputters'],
  ])('at %d rpm, %d at the highest: %s', (rpm, topCrankRpm, sign) => expect(signs({ rpm, topCrankRpm }).fired).toBe(sign))
  it('a port 60 K under the middle one is cool, 59 K is not', () => {
    expect(coolPorts({ port1C: 300, port2C: 300, port3C: 241, port4C: 300, housingC: 20 })).toEqual([])
    expect(coolPorts({ port1C: 300, port2C: 300, port3C: 239, port4C: 300, housingC: 20 })).toEqual([3])
  })
})
