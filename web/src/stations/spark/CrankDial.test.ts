import { mount } from '@vue/test-utils'
import { expect, it } from 'vitest'
import { at, ringSector } from '../../drawing/polar.ts'
import CapDrawing from './CapDrawing.vue'
import CrankDial from './CrankDial.vue'

const dial = (more: object = {}) =>
  mount(CrankDial, {
    props: {
      advanceDeg: 20,
      referenceDeg: 54,
      minAdvanceDeg: 6,
      maxAdvanceDeg: 40,
      camSyncDeg: null,
      crankDeg: 20,
      intervalDeg: 120,
      dwellDeg: 18,
      slackDeg: 0,
      ...more,
    },
  })
const cap = (rotation: 'clockwise' | 'anticlockwise') =>
  mount(CapDrawing, {
    props: {
      firingOrder: [1, 5, 3, 6, 2, 4],
      rotation,
      towerOneDeg: 0,
      alignDegBtdc: 20,
      crankDegBtdc: 20,
      minAdvanceDeg: 6,
      maxAdvanceDeg: 40,
      rotorRadiusMm: 25,
      tipWidthMm: 6,
      terminalWidthMm: 5,
    },
  })

it('the hands move by one degree with the arrows and by five with shift, and say where they are', async () => {
  const w = dial()
  const spark = w.find('[aria-label="Spark advance"]')
  expect(spark.attributes('aria-valuetext')).toBe('spark 20 degrees before top centre')
  await spark.trigger('keydown', { key: 'ArrowLeft' })
  await spark.trigger('keydown', { key: 'ArrowRight', shiftKey: true })
  expect(w.emitted('update:advanceDeg')).toEqual([[21], [15]])
  await w.find('[aria-label="Reference pulse"]').trigger('keydown', { key: 'ArrowUp' })
  expect(w.emitted('update:referenceDeg')).toEqual([[55]])
  expect(w.emitted('settled')).toHaveLength(3)
})

it('towers stand in firing order the way the rotor turns, number one marked', () => {
  for (const [rotation, second] of [
    ['clockwise', 1],
    ['anticlockwise', -1],
  ] as const) {
    const labels = cap(rotation).findAll('text')
    expect(labels.map((t) => t.text())).toEqual(['1', '5', '3', '6', '2', '4'])
    expect(Math.sign(Number(labels[1].attributes('x')) - Number(labels[0].attributes('x')))).toBe(second)
  }
})

it('the cap turns by its keys', async () => {
  const w = cap('clockwise')
  await w.find('[role=slider]').trigger('keydown', { key: 'ArrowRight', shiftKey: true })
  expect(w.emitted('update:alignDegBtdc')).toEqual([[25]])
})

it('drawing maths: zero degrees is up, ninety to the right; a ring sector closes', () => {
  const [x, y] = at(100, 100, 50, 0)
  expect([Math.round(x), Math.round(y)]).toEqual([100, 50])
  expect(at(100, 100, 50, 90).map(Math.round)).toEqual([150, 100])
  expect(ringSector(0, 0, 10, 20, -40, -6)).toMatch(/^M.*Z$/)
})
it('a crank that turns the other way has its degrees before top centre on the other side', () => {
  const spark = (anticlockwise: boolean) => Number(dial({ anticlockwise }).find('.spark').attributes('x2'))
  // 190 is the middle of the sheet
  expect(spark(false)).toBeLessThan(190)
  expect(spark(true)).toBeCloseTo(380 - spark(false), 6)
})
