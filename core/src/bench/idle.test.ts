import { describe, expect, it } from 'vitest'
import { seedOf } from '../kernel/index.ts'
import { computeBaseTune, type TuneParameters } from '../tune/index.ts'
import { benchCarFor } from './car.ts'
import { demoBuild } from './demo-build.fixture.ts'
import { outfitBench } from './drive.ts'
import type { BenchChoices } from './faults.ts'
import { tryIdle } from './idle-try.ts'
import { Bench } from './rig.ts'

const lowland = demoBuild('1-lowland.json')
function running(parameters: Partial<TuneParameters> = {}, choices: { unit?: object; bench?: BenchChoices } = {}): Bench {
  const tune = computeBaseTune(lowland.facts, lowland.choices)
  const build = { ...lowland, choices: { ...lowland.choices, ...choices } }
  const bench = new Bench(
    benchCarFor(build.facts, build.choices, seedOf(build.id)),
    { ...tune, parameters: { ...tune.parameters, ...parameters } },
    { coolantC: 86 },
  )
  outfitBench(bench, build)
  bench.keyOn = true
  bench.run(3)
  bench.starter = true
  bench.run(1.5)
  bench.starter = false
  bench.run(25)
  return bench
}
const meanRpm = (bench: Bench, seconds: number): number => {
  let sum = 0
  for (let i = 0; i < seconds * 10; i++) {
    bench.run(0.1)
    sum += bench.rpm
  }
  return sum / (seconds * 10)
}

describe('the idle of the bench', () => {
  it('one cycle is unlike the next: its speed wanders a few rpm, and no more', () => {
    const bench = running()
    const speeds = Array.from({ length: 300 }, () => (bench.run(0.1), bench.rpm))
    const mean = speeds.reduce((a, v) => a + v, 0) / 300
    const rms = Math.sqrt(speeds.reduce((a, v) => a + (v - mean) ** 2, 0) / 300)
    // a sound engine of four cylinders at idle: between 3 and 20 rpm
    expect(rms).toBeGreaterThan(3)
    expect(rms).toBeLessThan(20)
  })
  it('a slow valve passes its air later', () => {
    const answer = (faults: NonNullable<BenchChoices['faults']>) => {
      const bench = running({ idleGainPct: 0, idleIntegralPctS: 0, idleSparkDegPer100: 0 }, { bench: { faults } })
      const before = meanRpm(bench, 5)
      bench.unit.tune = {
        ...bench.unit.tune,
        parameters: {
          ...bench.unit.tune.parameters,
          idleValvePct: [
            [-10, 60],
            [80, 60],
          ],
        },
      }
      bench.run(0.7)
      return bench.rpm - before
    }
    expect(answer([{ id: 'idle-valve-slow', size: 12 }])).toBeLessThan(0.6 * answer([]))
  })
  it('a fan that was told of beforehand hardly shows', () => {
    const bench = running({ idleFanValvePct: 5, fanOnC: 60, fanOffC: 55 })
    expect(bench.unit.out.fanOn).toBe(true)
    // 800 or so with the fan's 50 rpm added
    expect(Math.abs(meanRpm(bench, 5) - bench.unit.tune.parameters.idleTargetRpm.at(-1)![1] - 50)).toBeLessThan(25)
  })
  it('what it adapts is kept with the key off, unless it forgets; and never past its limit', () => {
    const adapted = (choices: object, most = 60, bench: BenchChoices = {}) => {
      const b = running({ idleAdaptMostPct: most }, { unit: choices, bench })
      b.screwTurns = -1
      b.run(90)
      const held = b.unit.idleAdaptedPct
      b.keyOn = false
      b.run(2)
      return [held, b.unit.idleAdaptedPct]
    }
    const [held, kept] = adapted({ idleLearns: 'valve' })
    expect(held).toBeGreaterThan(10)
    expect(kept).toBe(held)
    expect(adapted({ idleLearns: 'nothing' })).toEqual([0, 0])
    expect(adapted({ idleLearns: 'valve' }, 60, { faults: [{ id: 'unit-forgets' }] })[1]).toBe(0)
    expect(adapted({ idleLearns: 'valve' }, 5)[0]).toBeLessThanOrEqual(5)
  })
  it('is tried with other gains in one call, the same each time', () => {
    const tune = computeBaseTune(lowland.facts, lowland.choices)
    const calm = tryIdle(lowland, tune)!
    expect(calm.verdict.verdict).toBe('good')
    const hot = tryIdle(lowland, tune, { idleGainPct: 26, idleIntegralPctS: 20 })!
    expect(hot.verdict.verdict).toBe('hunting-valve')
    expect(tryIdle(lowland, tune)!.verdict).toEqual(calm.verdict)
  })
})
