import { describe, expect, it } from 'vitest'
import { Random } from '../kernel/random.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { keyedVerdict } from '../wiring/keyed.ts'
import { benchCarFor } from './car.ts'
import { demoBuild } from './demo-build.fixture.ts'
import { outfitBench } from './drive.ts'
import type { BenchChoices, FaultId } from './faults.ts'
import { benchReading } from './read.ts'
import { Bench } from './rig.ts'
import { tryOutput } from './output-try.ts'
import { overUsualOhm } from './wires.ts'
import type { wiringInstruments } from './wiring.ts'
import { benchMeterV, keyedCandidates, type KeyedCandidate } from './wiring.ts'

const car = (faults: NonNullable<BenchChoices['faults']> = [], facts: object = {}) => {
  const b = demoBuild('2-rampart.json')
  return { ...b, facts: { ...b.facts, ...facts }, choices: { ...b.choices, bench: { faults } } }
}
const read = (kind: keyof typeof wiringInstruments, id?: FaultId, at: object = {}, facts: object = {}) =>
  benchReading(car(id ? [{ id }] : [], facts), kind, at).value as Record<string, number | string>
const keyed = (candidate: KeyedCandidate, id?: FaultId, facts: object = {}) =>
  keyedVerdict(read('wiring.keyed', id, { candidate }, facts) as never).kind

describe('a meter on the bench car', () => {
  it('sound: every reading is inside the limits of handbook 04', () => {
    expect(Number(read('wiring.ground-drop').dropV)).toBeLessThan(0.1)
    expect(Number(read('wiring.ground-drop', undefined, { ground: 'engine' }).dropV)).toBeLessThan(0.3)
    expect(Number(read('wiring.crank-volts').atUnitV)).toBeGreaterThan(9.5)
    expect(Number(read('wiring.parked-draw').drawA)).toBeLessThan(0.05)
    expect(Number(read('wiring.insulation').leastOhm)).toBeGreaterThan(1e5)
    expect(read('wiring.connector', undefined, { place: 'unit' })).toMatchObject({ latched: true })
    expect(Number(read('wiring.bus').ohm)).toBeCloseTo(60, -0.5)
  })
  // 12.66 V behind 11.5 mohm into 62 mohm and a strap of 1.2: about 170 A, 10.7 V at the posts
  it('the starter takes its volts by Ohm’s law', () => {
    const b = car()
    const cranking = benchMeterV(b, 'plus', 'minus', { state: 'cranking' })
    expect(cranking).toBeGreaterThan(10.2)
    expect(cranking).toBeLessThan(10.9)
    expect(benchMeterV(b, 'plus', 'minus', { state: 'running' })).toBeGreaterThan(13)
    // red and black changed over: the other sign
    expect(benchMeterV(b, 'engine', 'minus', { state: 'cranking' })).toBeCloseTo(
      -benchMeterV(b, 'minus', 'engine', { state: 'cranking' }),
      1,
    )
  })
  it.each([
    ['weak-ground', 'wiring.ground-drop', { ground: 'unit' }, (v: Record<string, number | string>) => Number(v.dropV) > 0.03],
    ['engine-strap', 'wiring.ground-drop', { ground: 'engine' }, (v: Record<string, number | string>) => Number(v.dropV) > 0.3],
    ['feed-corroded', 'wiring.crank-volts', {}, (v: Record<string, number | string>) => Number(v.batteryV) - Number(v.atUnitV) > 0.5],
    ['lead-chafed', 'wiring.insulation', {}, (v: Record<string, number | string>) => Number(v.leastOhm) < 10],
    ['unit-plug-loose', 'wiring.connector', { place: 'unit' }, (v: Record<string, number | string>) => !v.latched],
    ['bus-not-ended', 'wiring.bus', {}, (v: Record<string, number | string>) => Number(v.ohm) > 110],
    ['parked-draw', 'wiring.parked-draw', {}, (v: Record<string, number | string>) => Number(v.drawA) > 0.3],
  ] as const)('%s shows on %s', (id, kind, at, shows) => {
    expect(shows(read(kind, id, at))).toBe(true)
    expect(shows(read(kind, undefined, at))).toBe(false)
  })
  it('the same question gives the same answer', () => expect(read('wiring.keyed')).toEqual(read('wiring.keyed')))
  it('a meter scatters by millivolts', () => {
    const shown = Array.from({ length: 40 }, (_, i) => benchMeterV({ ...car(), id: `b${i}` }, 'plus', 'minus', { state: 'off' }))
    expect(Math.max(...shown) - Math.min(...shown)).toBeLessThan(0.06)
    expect(new Set(shown).size).toBeGreaterThan(3)
    expect(new Random(1).next()).toBeLessThan(1)
  })
})

describe('wires for the keyed supply', () => {
  it('the switch is good; radio, lamp switch and a coil behind its ballast are not', () => {
    expect(Object.keys(keyedCandidates).map((k) => keyed(k as KeyedCandidate))).toEqual(['good', 'accessory', 'good', 'not-keyed'])
    const ballast = { ignition: { ...demoBuild('2-rampart.json').facts.ignition, ballastResistor: true } }
    expect(keyed('coil', undefined, ballast)).toBe('resistor-fed')
  })
  it('faults of that wire are told by the tests', () => {
    expect(keyed('switch', 'keyed-resistor')).toBe('resistor-fed')
    expect(keyed('switch', 'keyed-dead-on-crank')).toBe('dead-on-crank')
  })
})

describe('what the wiring does reaches the running engine', () => {
  function cranked(id?: FaultId, seconds = 6): Bench {
    const build = car(id ? [{ id }] : [])
    const bench = new Bench(benchCarFor(build.facts, build.choices, 7), computeBaseTune(build.facts, build.choices), { coolantC: 20 })
    outfitBench(bench, build)
    bench.keyOn = true
    bench.run(3)
    bench.starter = true
    for (let t = 0; t < seconds && bench.rpm < 450; t += 0.05) bench.run(0.05)
    bench.starter = false
    bench.run(4)
    return bench
  }
  it('sound it starts; with a supply dead while cranking it does not', () => {
    expect(cranked().rpm).toBeGreaterThan(500)
    expect(cranked('keyed-dead-on-crank').rpm).toBeLessThan(50)
    expect(cranked('lead-chafed', 12).rpm).toBeLessThan(50)
  })
  it('a corroded feed lowers what the unit sees; swapped pins show warm air and a cold engine', () => {
    const [sound, corroded] = [cranked(), cranked('feed-corroded')].map((b) => b.frame().batteryV)
    expect(sound - corroded).toBeGreaterThan(0.5)
    const build = car([{ id: 'pins-swapped' }])
    const bench = new Bench(benchCarFor(build.facts, build.choices, 7), computeBaseTune(build.facts, build.choices), { coolantC: 82 })
    outfitBench(bench, build)
    bench.keyOn = true
    bench.run(3)
    const { coolantC, intakeAirC } = bench.frame()
    expect(coolantC).toBeLessThan(50)
    expect(intakeAirC).toBeGreaterThan(70)
  })
  it('a plug that is not latched resets the unit now and then', () => {
    const lost = (id?: FaultId) => {
      const bench = cranked(id)
      let gone = 0
      for (let i = 0; i < 2400; i++) {
        bench.run(0.05)
        if (!bench.linkUp) gone++
      }
      return gone
    }
    expect(lost('unit-plug-loose')).toBeGreaterThan(0)
    expect(lost()).toBe(0)
  })
  it('a wire told too thin lowers what the unit sees: 3 m of 0.22 mm2 instead of 1.6 m of 2', () => {
    const b = car()
    const thin = { ...b, choices: { ...b.choices, wiring: { circuits: { 'unit-feed': { areaMm2: 0.22, measuredM: 3 } } } } }
    // 0.01927 ohm mm2/m at 50 degC: 0.263 less 0.015 ohm
    expect(overUsualOhm(thin, 'unit-feed')).toBeCloseTo(0.2474, 3)
    expect(overUsualOhm(b, 'main-feed', 'unit-feed', 'unit-ground', 'pump')).toBeCloseTo(0, 12)
    const volt = (x: typeof b) => benchMeterV(x, 'plus', 'unit-supply', { state: 'running' })
    expect(volt(thin) - volt(b)).toBeGreaterThan(1)
    const seen = (x: typeof b) => {
      const bench = new Bench(benchCarFor(x.facts, x.choices, 7), computeBaseTune(x.facts, x.choices), { coolantC: 20 })
      outfitBench(bench, x)
      bench.keyOn = true
      bench.run(1)
      return bench.frame().batteryV
    }
    // unit and pump draw 9 A through it
    expect(seen(b) - seen(thin)).toBeGreaterThan(1.5)
  })
})

describe('an output on a drive of the bench car', () => {
  const b = car()
  const tune = computeBaseTune(b.facts, b.choices)
  it('comes on when the coolant passes it, and stays off where it never does', () => {
    const fan = tryOutput(b, tune, { channel: 'coolantC', on: 70, off: 65 })
    expect(fan.switched).toBeGreaterThan(0)
    expect(fan.rows.find((r) => r.on)!.value).toBeGreaterThan(70)
    expect(fan.rows.at(-1)!.timeS).toBeGreaterThan(200)
    expect(tryOutput(b, tune, { channel: 'rpm', on: 19_000, off: 18_000 }).switched).toBe(0)
  })
  it('a channel the drive does not show is named; stopped it says so', () => {
    expect(() => tryOutput(b, tune, { channel: 'oilKpa', on: 100, off: 150 })).toThrow(/does not show/)
    expect(() => tryOutput(b, tune, { channel: 'rpm', on: 3000, off: 2500 }, () => false)).toThrow(/cancelled/)
  })
})
