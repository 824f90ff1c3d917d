import { mount } from '@vue/test-utils'
import { expect, it } from 'vitest'
import TableGrid from './TableGrid.vue'

const axes = { rpm: [600, 1000, 1500], mapKpa: [30, 60, 90] }
const cells = [1, 2, 3, 4, 5, 6, 7, 8, 9]
const grid = (more: object = {}) =>
  mount(TableGrid, {
    props: {
      axes,
      cells,
      decimals: 1,
      min: 0,
      max: 100,
      editable: true,
      label: 'VE',
      block: { i0: 0, j0: 0, i1: 0, j1: 0 },
      'onUpdate:block': () => {},
      ...more,
    },
  })
const key = (w: ReturnType<typeof grid>, k: string, more: object = {}) => w.find('table').trigger('keydown', { key: k, ...more })

it('draws manifold pressure upward and engine speed across, each value readable', () => {
  const rows = grid().findAll('tr')
  expect(rows[0].find('th').text()).toBe('90')
  expect(rows[0].findAll('td').map((td) => td.text())).toEqual(['7.0', '8.0', '9.0'])
  expect(rows[3].findAll('th').map((th) => th.text())).toEqual(['', '600', '1000', '1500'])
})

it('moves with the arrows, stretches with shift, and stays on the table', async () => {
  const w = grid()
  await key(w, 'ArrowUp')
  expect(w.emitted('update:block')![0][0]).toEqual({ i0: 0, j0: 1, i1: 0, j1: 1 })
  await key(w, 'ArrowRight', { shiftKey: true })
  expect(w.emitted('update:block')![1][0]).toEqual({ i0: 0, j0: 0, i1: 1, j1: 0 })
  await key(w, 'ArrowLeft')
  expect(w.emitted('update:block')![2][0]).toEqual({ i0: 0, j0: 0, i1: 0, j1: 0 })
})

it('sets what was typed on Enter, with a decimal comma too; steps with plus and minus; undoes and redoes', async () => {
  const w = grid()
  for (const k of ['5', ',', '5', 'Enter']) await key(w, k)
  expect(w.emitted('set')).toEqual([[5.5]])
  await key(w, '+')
  await key(w, '-')
  expect(w.emitted('step')).toEqual([[1], [-1]])
  await key(w, 'z', { ctrlKey: true })
  await key(w, 'y', { ctrlKey: true })
  expect([w.emitted('undo')!.length, w.emitted('redo')!.length]).toEqual([1, 1])
})

it('changes nothing while it may not be edited', async () => {
  const w = grid({ editable: false })
  for (const k of ['5', 'Enter', '+']) await key(w, k)
  expect(w.emitted('set')).toBeUndefined()
  expect(w.emitted('step')).toBeUndefined()
})

it('shows the change from another version, and a dot where there is none', () => {
  const compare = [...cells]
  compare[0] = 3
  expect(
    grid({ compare })
      .findAll('tr')[2]
      .findAll('td')
      .map((td) => td.text()),
  ).toEqual(['-2.0', '·', '·'])
})
