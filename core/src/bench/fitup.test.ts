import { describe, expect, it } from 'vitest'
import { balanceOf, judgeTracks } from '../fitup/index.ts'
import type { StoredReading } from '../kernel/index.ts'
import { madeReading } from '../judge/made-up.fixture.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { benchCarFor } from './car.ts'
import { demoBuild } from './demo-build.fixture.ts'
import { outfitBench } from './drive.ts'
import type { BenchChoices, FaultId } from './faults.ts'
import type { fitupInstruments } from './fitup.ts'
import { benchAirKgH, benchSweep } from './fitup.ts'
import { benchReading } from './read.ts'
import { Bench } from './rig.ts'

const car = (faults: NonNullable<BenchChoices['faults']> = [], more: object = {}) => {
  const b = demoBuild('1-lowland.json')
  return { ...b, choices: { ...b.choices, ...more, bench: { faults } } }
}
type Kind = keyof typeof fitupInstruments
const read = (kind: Kind, id?: FaultId, at: object = {}) =>
  benchReading(car(id ? [{ id }] : []), kind, at).value as Record<string, number | boolean>

describe('hands at the bench car', () => {
  it.each([
    ['linkage-short', 'fitup.linkage', (v: Record<string, number | boolean>) => Number(v.fullDeg) < 85],
    ['spring-off', 'fitup.linkage', (v: Record<string, number | boolean>) => v.springs === 1],
    ['plate-sticks', 'fitup.linkage', (v: Record<string, number | boolean>) => v.closes === false],
    ['plate-sticks', 'fitup.tip-in', (v: Record<string, number | boolean>) => Number(v.jumpPct) > 3],
    ['hoses-swapped', 'fitup.ports', (v: Record<string, number | boolean>) => v.asMap === false],
    ['port-open', 'fitup.ports', (v: Record<string, number | boolean>) => v.capped === false],
    ['check-valve', 'fitup.ports', (v: Record<string, number | boolean>) => v.checkValve === false],
    ['bonnet-low', 'fitup.bonnet', (v: Record<string, number | boolean>) => Number(v.gapMm) < 20],
    ['sensor-low', 'fitup.sensor', (v: Record<string, number | boolean>) => Number(v.upDeg) < 10],
    ['exhaust-leak', 'fitup.sensor', (v: Record<string, number | boolean>) => v.tight === false],
    ['pedal-noisy', 'fitup.tracks', (v: Record<string, number | boolean>) => Number(v.noisePct) > 0.5],
    ['tracks-apart', 'fitup.tracks', (v: Record<string, number | boolean>) => Number(v.apartPct) > 5],
    ['track-supply', 'fitup.tracks', (v: Record<string, number | boolean>) => v.sound === false],
    ['plate-stuck', 'fitup.brake-key', (v: Record<string, number | boolean>) => v.keyShuts === false],
    ['plate-stuck', 'fitup.limp', (v: Record<string, number | boolean>) => Number(v.platePct) > 15],
  ] as const)('%s shows on %s', (id, kind, shows) => {
    expect(shows(read(kind, id))).toBe(true)
    expect(shows(read(kind))).toBe(false)
  })
  it('the wrench gives what it was set to, within a few percent', () => {
    expect(Number(read('fitup.torqued', undefined, { setNm: 22 }).torqueNm)).toBeGreaterThan(20.8)
    expect(Number(read('fitup.torqued', undefined, { setNm: 22 }).torqueNm)).toBeLessThan(23.2)
  })
})

describe('what hands find reaches the running engine', () => {
  const bench = (faults: NonNullable<BenchChoices['faults']>) => {
    const b = car(faults)
    const made = new Bench(benchCarFor(b.facts, b.choices, 3), computeBaseTune(b.facts, b.choices), { coolantC: 20 })
    outfitBench(made, b)
    made.keyOn = true
    made.run(3)
    made.starter = true
    for (let t = 0; t < 8 && made.rpm < 450; t += 0.05) made.run(0.05)
    made.starter = false
    made.run(4)
    return made
  }
  it('a stuck plate races; a port left open draws air', () => {
    const idle = bench([]).rpm
    expect(bench([{ id: 'plate-stuck' }]).rpm).toBeGreaterThan(2 * idle)
    expect(bench([{ id: 'port-open' }]).frame().mapKpa).not.toBeCloseTo(bench([]).frame().mapKpa, 1)
  })
  it('a short linkage leaves the manifold under the barometer at full pedal', () => {
    const pulled = (faults: NonNullable<BenchChoices['faults']>) => {
      const made = bench(faults)
      made.throttlePct = 100
      made.loadNm = 60
      made.run(0.6)
      return made.frame().mapKpa
    }
    expect(pulled([]) - pulled([{ id: 'linkage-short', size: 50 }])).toBeGreaterThan(2)
  })
  it('a port on the map that nobody capped is a hole in the manifold, and hands find it', () => {
    const port = { name: 'spare', kind: 'manifold' as const, boreMm: 6 }
    const told = (more: object = {}, joined: Record<string, string> = {}) => ({
      fitup: { vacuum: { ports: { spare: { ...port, ...more } }, joined } },
    })
    const area = (choices: object) => benchCarFor(car().facts, car([], choices).choices, 3).openPortsM2
    // 0.65 x pi/4 x 0.006^2
    expect(area(told())).toBeCloseTo(0.00001838, 8)
    expect([area(told({ capped: true })), area(told({ kind: 'clean' })), area(told({}, { booster: 'spare' }))]).toEqual([0, 0, 0])
    expect(benchReading(car([], told()), 'fitup.ports').value).toMatchObject({ capped: false })
    expect(benchReading(car([], told({ capped: true })), 'fitup.ports').value).toMatchObject({ capped: true })
  })
  it('plates that were measured are its air path: two of 20 mm choke it', () => {
    const b = car([], { fitup: { linkage: { plate: { boreMm: 20, count: 2, shutDeg: 5 } } } })
    const told = benchCarFor(b.facts, b.choices, 3)
    // 0.82 x 2 x pi/4 x 0.02^2
    expect(told.throttleAreaM2).toBeCloseTo(0.000515, 6)
    expect(told.plateShutDeg).toBe(5)
    expect(benchCarFor(car().facts, car().choices, 3).plateShutDeg).toBe(0)
  })
})

describe('tracks of the bench', () => {
  it.each(['pedal', 'plate'] as const)('%s: sound', (which) => expect(judgeTracks(benchSweep(car(), which)).wrong).toEqual([]))
  it('scratching, lost supply and stuck plate are told apart', () => {
    expect(judgeTracks(benchSweep(car([{ id: 'pedal-noisy' }]), 'pedal')).wrong.join()).toMatch(/clean at rest/)
    expect(judgeTracks(benchSweep(car([{ id: 'track-supply' }]), 'pedal')).wrong.join()).toMatch(/track two falls to nothing/)
    expect(judgeTracks(benchSweep(car([{ id: 'plate-stuck' }]), 'plate')).wrong.join()).toMatch(/neither track moves/)
  })
})

describe('throttles of the bench', () => {
  it('are uneven at first and come to even in five passes by what is worked out', () => {
    for (let seed = 0; seed < 20; seed++) {
      const b = { ...car(), id: `throttles ${seed}` }
      const looks: StoredReading[] = []
      let turned = [0, 0, 0, 0]
      for (let pass = 0; ; pass++) {
        const flowsKgH = benchAirKgH({ ...b, readings: looks }, 'idle', turned)
        looks.push(madeReading('fitup.balance', { at: 'idle', flowsKgH, turned }))
        const balance = balanceOf(looks.map((r) => r.value as { flowsKgH: number[]; turned: number[] }))!
        if (balance.even) break
        expect(pass, `seed ${seed}`).toBeLessThan(5)
        turned = balance.turns
      }
    }
  })
})
