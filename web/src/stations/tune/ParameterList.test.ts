import { mount } from '@vue/test-utils'
import { ref } from 'vue'
import { expect, it, vi } from 'vitest'
import { computeBaseTune } from '@vectum/core'
import { soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import { LANDING } from '../../shell/landing.ts'
import ParameterList from './ParameterList.vue'
import SetupAgain from './SetupAgain.vue'
import TableSurface from './TableSurface.vue'

const { facts, choices } = soundBuild()
const tune = computeBaseTune(facts, choices)
const list = () => mount(ParameterList, { props: { parameters: tune.parameters, saved: tune.parameters, provenance: tune.provenance } })

it('shows every parameter with where it came from, and hands a change over', async () => {
  const w = list()
  expect(w.findAll('.line')).toHaveLength(Object.keys(tune.parameters).length)
  expect(w.text()).toContain('survey: redline 5200 rpm')
  await w.find('[aria-label="Fan on"]').setValue('91,5')
  expect(w.emitted('change')![0]).toEqual([{ ...tune.parameters, fanOnC: 91.5 }])
})
it('refuses what is out of bounds, no number, or a curve that does not rise, and changes nothing', async () => {
  const w = list()
  const said = async (label: string, text: string) => {
    await w.find(`[aria-label="${label}"]`).setValue(text)
    return w.find('[role="alert"]').text()
  }
  expect(await said('Fan on', '200')).toContain('130')
  expect(await said('Rev limit', 'high')).toContain('not a number')
  expect(await said('Dead time, point 2, V', '7')).toContain('must rise in V')
  expect(w.emitted('change')).toBeUndefined()
})
it('a value that the unit was read to hold is offered at its parameter, and taken by one press', async () => {
  const landing = { at: ref<string | null>('fanOnC'), offer: ref<string | null>('88'), done: vi.fn() }
  const w = mount(ParameterList, {
    props: { parameters: tune.parameters, saved: tune.parameters, provenance: tune.provenance },
    global: { provide: { [LANDING as symbol]: landing } },
  })
  expect(w.findAll('[data-testid="take-offer"]').map((b) => b.text())).toEqual(['Take 88 °C'])
  await w.find('[data-testid="take-offer"]').trigger('click')
  expect(w.emitted('change')![0]).toEqual([{ ...tune.parameters, fanOnC: 88 }])
  expect(landing.done).toHaveBeenCalledOnce()
  // out of bounds it is refused as a typed one is
  landing.offer.value = '300'
  await w.vm.$nextTick()
  await w.find('[data-testid="take-offer"]').trigger('click')
  expect(w.find('[role="alert"]').text()).toContain('130')
})
it('set-up again offers what changed, but not what was learned or edited', async () => {
  const have = { ...tune, provenance: { ...tune.provenance, ve: 'edited by hand from version 1' } }
  const fresh = structuredClone(tune)
  fresh.tables.ve[0] += 2
  fresh.parameters.fanOnC = 95
  const w = mount(SetupAgain, { props: { have, fresh } })
  expect(w.findAll('li').map((l) => l.text())).toEqual([
    expect.stringContaining('learned or edited here'),
    expect.stringContaining('95 °C'),
  ])
  await w.find('[data-testid="take-setup"]').trigger('click')
  expect(w.emitted('take')).toEqual([[['parameters.fanOnC']]])
})
it('the surface turns by its keys and says its range', async () => {
  const w = mount(TableSurface, { props: { axes: tune.axes, cells: tune.tables.ve, label: 'VE', marked: { i: 0, j: 0 } } })
  const before = w.find('.mesh').attributes('d')
  await w.trigger('keydown', { key: 'ArrowRight' })
  expect(w.find('.mesh').attributes('d')).not.toBe(before)
  expect(w.attributes('aria-label')).toContain(Math.min(...tune.tables.ve).toFixed(1))
})
