import { mount } from '@vue/test-utils'
import { expect, it } from 'vitest'
import type { LearnCell, LearnResult } from '@vectum/core'
import CellMap from './CellMap.vue'

const cell = (i: number, j: number, state: LearnCell['state'], pct: number | null = 2.34): LearnCell => ({
  i,
  j,
  rpm: [800, 1200][i],
  mapKpa: [40, 60, 80][j],
  correctionPct: pct,
  standardErrorPct: pct === null ? null : 0.2,
  seconds: 5,
  missingSeconds: state === 'thin' ? 7.2 : 0,
  nearestMeanPct: pct === null ? null : pct + 1,
  state,
})
const result = {
  rpm: [800, 1200],
  mapKpa: [40, 60, 80],
  cells: [
    cell(0, 0, 'proven'),
    cell(1, 0, 'needs-correction', -5.06),
    cell(0, 1, 'thin'),
    cell(1, 1, 'passed-through', null),
    cell(0, 2, 'untouched', null),
    cell(1, 2, 'unsafe', 12),
  ],
} as unknown as LearnResult
const labels = (show: 'coverage' | 'correction' | 'nearest') =>
  mount(CellMap, { props: { result, show } })
    .findAll('.cell text')
    .map((t) => t.text())

it('says each state by number and shape, not by colour alone', () => {
  expect(labels('coverage')).toEqual(['+2.3', '-5.1', '8 s', '', '', '+12.0'])
  const w = mount(CellMap, { props: { result, show: 'coverage' } })
  expect(w.findAll('.stroke')).toHaveLength(1)
  expect(w.findAll('.bar')).toHaveLength(1)
  expect(w.findAll('.cell').map((c) => c.attributes('aria-label'))).toEqual([
    '800 rpm, 40 kPa: proven, +2.3 percent',
    '1200 rpm, 40 kPa: needs correction, -5.1 percent',
    '800 rpm, 60 kPa: thin, +2.3 percent',
    '1200 rpm, 60 kPa: passed through only',
    '800 rpm, 80 kPa: untouched',
    '1200 rpm, 80 kPa: unsafe here, +12.0 percent',
  ])
})
it('puts a thin correction in brackets, and shows plain averaging only as such', () => {
  expect(labels('correction')[2]).toBe('(+2.3)')
  expect(labels('nearest')[1]).toBe('-4.1')
})
it('gives the cell that was tapped', async () => {
  const w = mount(CellMap, { props: { result, show: 'coverage' } })
  await w.findAll('.cell')[1].trigger('click')
  expect(w.emitted('update:selected')![0][0]).toMatchObject({ rpm: 1200, mapKpa: 40 })
})
