import { expect, it } from 'vitest'
import type { Block } from './blocks.ts'
import { mendableShapes, soundShapes, unsoundShapes } from './shapes.ts'

const block = (more: Partial<Block>): Block => ({
  ...{ timeS: 0, seconds: 4, rows: 80, rpm: 2000, mapKpa: 50, needPct: 0, scatterPct: 0.5, overPct: 0, target: 1, tipCold: 0.4 },
  ...{ pulseMs: 2.2, intakeAirC: 20, coolantC: 88, batteryV: 13.8, throttlePct: 10, fuelPressureKpa: NaN, correctionPct: 0 },
  ...more,
})

it('injectors that open 0.3 ms late of 1.3 deliver 1.0: 30 % are needed over what was asked for, whether the loop gives them or is at its limit', () => {
  const deadTimeMs = [
    [8, 0.9],
    [16, 0.9],
  ] as const
  const shape = mendableShapes([block({}), block({})], { deadTimeMs }).find((s) => s.cause === 'dead-time')!
  // 2.2 ms less 0.9 are open for 1.3
  expect(0.3 * shape.at(block({ needPct: 30 }))).toBeCloseTo(30, 9)
  expect(0.3 * shape.at(block({ needPct: 30, correctionPct: 10 }))).toBeCloseTo(30, 9)
  // 0.3 of 2.3 deliver 2.0: 15 %
  expect(0.3 * shape.at(block({ needPct: 15, pulseMs: 3.2 }))).toBeCloseTo(15, 9)
})

it('of a table that was known a sound car shows a mark between its places, never as a constant at all of them', () => {
  const blocks = Array.from({ length: 20 }, (_, k) => block({ rpm: 1000 + 150 * k, tipCold: 0.4 + 0.001 * k, timeS: 60 * k }))
  const cold = unsoundShapes(blocks, { barometerKpa: 100 }).find((s) => s.cause === 'sensor-cold')!
  const shapes = soundShapes(blocks, new Float64Array(20).fill(0.6), 1, [cold], true)
  const mark = shapes.at(-1)!
  expect(mark.values.reduce((sum, v) => sum + v, 0)).toBeCloseTo(0, 9)
  // from the second to the eighteenth of a hundred: 4 % over the range that was driven, half of it
  expect(mark.sigma).toBeCloseTo((0.5 * 4) / 0.018, 0)
})
