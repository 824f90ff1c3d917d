import { describe, expect, it } from 'vitest'
import { planDrive } from '../drive/index.ts'
import { applyCorrection } from '../learn/apply-correction.ts'
import { learnSetup } from '../learn/setup.ts'
import { solveWithSetup } from '../learn/solve.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { demoBuild } from './demo-build.fixture.ts'
import { benchDrive, benchVehicle, driveByPlan, everydayDrive, roadForceN, stepDrive } from './drive.ts'

const six = demoBuild('1-lowland.json')
const short = everydayDrive(3, 5)

describe('a drive of the bench car', () => {
  it('road load by hand: 1,200 kg at 20 m/s on the flat: 1,200 x 9.81 x 0.014 + 0.6 x 0.9 x 400 = 164.8 + 216 N', () => {
    const v = { massKg: 1200, ratios: [1], axle: 4, radiusM: 0.3, dragAreaM2: 0.9, automatic: false }
    expect(roadForceN(v, 20, 0)).toBeCloseTo(380.8, 1)
    expect(roadForceN(v, 20, 0.05) - roadForceN(v, 20, 0)).toBeCloseTo(1200 * 9.81 * 0.05, 6)
  })
  it('the same plan and tune, the same log; its distance is the sum of its speed', () => {
    const tune = computeBaseTune(six.facts, six.choices)
    const [a, b] = [benchDrive(six, tune, short), benchDrive(six, tune, short)]
    expect(a.channels.rpm).toEqual(b.channels.rpm)
    expect(a.timeS).toHaveLength(a.channels.lambda!.length)
    const km = a.channels.speedKmh!.reduce((sum, kmh) => sum + (kmh / 3600) * 0.05, 0)
    expect(a.distanceKm / km).toBeCloseTo(1, 2)
    expect(a.stalls).toBe(0)
  })
  it('engine and road speed agree in a gear once the clutch is in', () => {
    const drive = benchDrive(six, computeBaseTune(six.facts, six.choices), short)
    const v = benchVehicle(six)
    const { rpm, speedKmh, gear } = drive.channels
    let steady = 0
    let agree = 0
    for (let i = 40; i < rpm!.length; i++) {
      if (gear![i] < 2 || Array.from(gear!.slice(i - 40, i)).some((g) => g !== gear![i])) continue
      steady++
      const geared = ((speedKmh![i] / 3.6 / v.radiusM) * v.ratios[gear![i] - 1] * v.axle * 30) / Math.PI
      if (Math.abs(geared / rpm![i] - 1) < 0.05) agree++
    }
    expect(steady).toBeGreaterThan(300)
    expect(agree / steady).toBeGreaterThan(0.97)
  })
  it('an engine that cannot start drives nowhere, and a drive can be cancelled', () => {
    const tune = computeBaseTune(six.facts, six.choices)
    const dead = { ...six, choices: { ...six.choices, bench: { faults: [{ id: 'pump-dead' as const }] } } }
    expect(() => benchDrive(dead, tune, short)).toThrow(/does not start/)
    expect(() => benchDrive(six, tune, short, { onProgress: () => false })).toThrow(/cancelled/)
  })
})

describe('learning on the bench', () => {
  it('what a drive teaches halves the error of the table, and the next drive proves it', () => {
    let tune = computeBaseTune(six.facts, six.choices)
    const errors: number[] = []
    for (const seed of [11, 12, 13]) {
      const log = benchDrive(six, tune, everydayDrive(10, seed), { coolantC: 75 })
      const result = solveWithSetup(log, learnSetup(six, tune))
      errors.push(result.totals.errorRmsPct!)
      tune = applyCorrection(tune, result, `bench drive ${seed}`).tune
    }
    expect(errors[1]).toBeLessThan(0.5 * errors[0])
    expect(errors[2]).toBeLessThan(errors[0] / 2)
  }, 60_000)
})

describe('a drive by plan', () => {
  const build = { ...six, choices: { ...six.choices, learn: { topKmh: 100 } } }
  const tune = computeBaseTune(build.facts, build.choices)
  const before = planDrive(build, tune, null)
  const log = driveByPlan(build, tune, { result: null })
  const result = solveWithSetup(log, learnSetup(build, tune))
  it('measures cells that hold two thirds of the driving it was made for, in less than a quarter of an hour', () => {
    const wanted = before.cells.flatMap(({ where }, c) => (where === 'road' ? [c] : []))
    const measured = wanted.filter((c) => ['proven', 'needs-correction', 'unsafe'].includes(result.cells[c].state))
    expect(wanted.length).toBeGreaterThan(15)
    const use = (list: number[]) => list.reduce((sum, c) => sum + before.cells[c].usePct, 0)
    expect(use(measured) / use(wanted)).toBeGreaterThan(2 / 3)
    expect(log.timeS.at(-1)! / 60).toBeLessThan(15)
  })
  it('keeps to the speed that was allowed, as near as a foot can', () => expect(Math.max(...log.channels.speedKmh!)).toBeLessThan(105))
  it('leaves a short drive, if any', () => expect(planDrive(build, tune, result, { log }).totalS).toBeLessThan(0.4 * before.totalS))
  it('fits the engine’s torque to that log', () => expect(planDrive(build, tune, result, { log }).torque.fittedS).toBeGreaterThan(100))
})

it('a drive of steps: as many openings of a still foot as are asked for, by 16 and by 28 %, in the gear that is called', () => {
  const build = demoBuild('2-rampart.json')
  const drive = benchDrive(build, computeBaseTune(build.facts, build.choices), stepDrive(8), { coolantC: 82 })
  const { throttlePct: foot, gear } = drive.channels
  let opened = 0
  const by: number[] = []
  for (let i = 30; i < foot!.length - 30; i++) {
    const still = foot!.slice(i - 28, i + 1)
    if (Math.max(...still) - Math.min(...still) > 0.01 || still[0] < 1 || gear![i] !== 3 || !(foot![i + 10] - foot![i] > 8)) continue
    opened++
    by.push(Math.round(foot![i + 30] - foot![i]))
    i += 40
  }
  expect(opened).toBe(8)
  expect(new Set(by)).toEqual(new Set([16, 28]))
  expect(drive.stalls).toBe(0)
})
