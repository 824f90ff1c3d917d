import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import type { CellChange, LearnCell } from '@vectum/core'
import { openBuild } from '../../testing/open-build.fixture.ts'
import LearnAnswer from './LearnAnswer.vue'
import type { Solved } from './use-learning.ts'

const cell = (i: number, j: number, state: LearnCell['state'], correctionPct: number | null) => ({
  ...{ i, j, rpm: [800, 1600][i], correctionPct, standardErrorPct: 0.3, seconds: 6, missingSeconds: 0, nearestMeanPct: null, state },
})
const result = {
  rpm: [800, 1600],
  mapKpa: [40, 80],
  cells: [cell(0, 0, 'proven', 1), cell(1, 0, 'needs-correction', -6), cell(0, 1, 'untouched', null), cell(1, 1, 'thin', 2)].map((c) => ({
    ...c,
    mapKpa: [40, 80][c.j],
  })),
  totals: {
    samples: 100,
    used: 60,
    usedSeconds: 30,
    excluded: {},
    provenTimePct: 50,
    errorRmsPct: 2,
    noisePct: 1,
    autocorrelationFactor: 4,
  },
  delay: { lagS: 0.1, cycles: 1, pipe: 1, events: 0, fitted: false },
  verdicts: [],
  sound: true,
  diagnosis: [],
}
const runner = {
  throttlePct: [0, 30, 100],
  cells: [cell(0, 0, 'untouched', null), cell(1, 1, 'needs-correction', 7.5), cell(1, 2, 'thin', 3)].map((c) => ({
    ...c,
    throttlePct: [0, 30, 100][c.j],
  })),
}
const change = (table: CellChange['table'], i: number, j: number, fromPct: number, toPct: number, how: CellChange['how']): CellChange => ({
  ...{ table, i, j, fromPct, toPct, how },
})
const shown = (more: object = {}, changes: CellChange[] | null = null) =>
  mount(LearnAnswer, {
    props: {
      solved: { logId: 'l', result: { ...result, ...more }, tune: null, strip: null, readings: async () => null } as unknown as Solved,
      changes,
    },
  })
const labels = (w: ReturnType<typeof shown>) => w.findAll('.cell text').map((t) => t.text())

describe('the map of a log', () => {
  beforeEach(() => openBuild())

  it('of a throttle to each runner stands by throttle first, with its own axis and unit; by pressure is one tap away', async () => {
    const w = shown({ runner })
    expect(w.findAll('.axis').map((t) => t.text())).toEqual(['0', '30', '100', '800', '1600'])
    expect(w.find('[aria-label^="1600 rpm, 30 %: needs correction"]').exists()).toBe(true)
    await w.findAll('input[type=radio]').at(0)!.setValue(true)
    expect(w.find('[aria-label^="1600 rpm, 40 kPa: needs correction"]').exists()).toBe(true)
    expect(w.text()).toContain('manifold pressure kPa up')
  })
  it('solved again on a tune without such a table stands by pressure', async () => {
    const w = shown({ runner })
    await w.setProps({ solved: { logId: 'l', result, tune: null, strip: null, readings: async () => null } as unknown as Solved })
    expect(w.find('[aria-label^="1600 rpm, 40 kPa: needs correction"]').exists()).toBe(true)
    expect(w.findAll('input[type=radio]')).toHaveLength(0)
  })
  it('of any other engine has one table, and nothing to choose', () => expect(shown().findAll('input[type=radio]')).toHaveLength(0))

  describe('before a correction is accepted', () => {
    const changes = [
      change('ve', 1, 0, 62, 58.3, 'solved'),
      change('ve', 0, 1, 70, 70.9, 'spread'),
      change('runner', 1, 1, 40, 43, 'solved'),
    ]
    it('shows what each cell gains or loses, of the table that is looked at', async () => {
      const w = shown({ runner }, null)
      expect(w.text()).not.toContain('What accepting changes')
      await w.setProps({ changes })
      await flushPromises()
      expect(w.text()).toContain('What accepting changes')
      expect(labels(w)).toEqual(['', '+3.0', ''])
      await w.findAll('input[type=radio]').at(0)!.setValue(true)
      expect(labels(w)).toEqual(['', '-3.7', '+0.9', ''])
    })
    it('a cell says its old and its new value, and why', async () => {
      const w = shown({}, null)
      await w.setProps({ changes })
      await w.findAll('.cell')[1].trigger('click')
      expect(w.find('.cellsay').text()).toContain('VE 62.0 to 58.3 %, from its own readings')
      await w.findAll('.cell')[2].trigger('click')
      expect(w.find('.cellsay').text()).toContain('VE 70.0 to 70.9 %, carried from the cells that were driven')
      await w.findAll('.cell')[0].trigger('click')
      expect(w.find('.cellsay').text()).toContain('VE stays as it is')
    })
    it('put aside, the map is what it was', async () => {
      const w = shown({}, null)
      await w.setProps({ changes })
      await w.setProps({ changes: null })
      expect(labels(w)).toEqual(['+1.0', '-6.0', '', '0 s'])
    })
  })
})
