import { flushPromises, mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import type { CellReadings } from '@vectum/core'
import CellReadingsPlot from './CellReadingsPlot.vue'
import TimeStrip from './TimeStrip.vue'

const read = (lambda: number): CellReadings => ({
  ...{ seconds: 9.24, lambda, target: 1, spreadPct: 1.62 },
  points: [
    { timeS: 10, errorPct: 8 },
    { timeS: 11, errorPct: 0 },
    { timeS: 12, errorPct: -8 },
  ],
})
const at = (i: number) => ({ i, j: 2, by: 'pressure' as const })

describe('the readings of a cell', () => {
  it('say seconds, lambda, what was wanted and their scatter, and stand over and under nothing wanted', async () => {
    const w = mount(CellReadingsPlot, { props: { at: at(1), readings: async () => read(1.0312) } })
    await flushPromises()
    expect(w.get('figcaption').text().replace(/\s+/g, ' ')).toBe(
      '9.2 s in this log: lambda 1.031 where 1.000 was wanted; single readings scatter by 1.6 %.',
    )
    // + up: the middle of 96 less (8 of 8) of 36, and as much below
    expect(w.findAll('circle').map((c) => Number(c.attributes('cy')))).toEqual([12, 48, 84])
    expect(w.text()).toContain('+8 %')
  })
  it('a cell tapped meanwhile wins over an answer that comes late', async () => {
    const waiting: ((r: CellReadings) => void)[] = []
    const w = mount(CellReadingsPlot, { props: { at: at(1), readings: () => new Promise((r) => waiting.push(r)) } })
    await w.setProps({ at: at(2) })
    waiting[1](read(0.95))
    await flushPromises()
    waiting[0](read(1.2))
    await flushPromises()
    expect(w.text()).toContain('lambda 0.950')
  })
  it('nothing is drawn where nothing was read', async () => {
    const w = mount(CellReadingsPlot, { props: { at: at(1), readings: async () => null } })
    await flushPromises()
    expect(w.find('figure').exists()).toBe(false)
  })
})

it('the strip says which stretches were used and why the others were not, each as long as it was', () => {
  const columns = Float32Array.from({ length: 16 }, (_, k) => (k % 2 ? 2000 : 800))
  const fates = ['cold', 'cold', 'used', 'used', 'used', 'moving', 'cut', 'used'] as const
  const w = mount(TimeStrip, { props: { columns, fates, durationS: 480, label: 'Engine speed' } })
  // 720 wide, eight slices of 90
  expect(w.findAll('rect').map((r) => [r.classes()[0], Number(r.attributes('x')), Number(r.attributes('width'))])).toEqual([
    ['cold', 0, 180],
    ['used', 180, 270],
    ['moving', 450, 90],
    ['cut', 540, 90],
    ['used', 630, 90],
  ])
  expect(w.get('[data-testid="fates"]').text()).toBe('usedtoo cold, or just startednot steadyfuel cut')
})
