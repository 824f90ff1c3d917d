import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import { computeBaseTune, type TuneDocument } from '@vectum/core'
import { soundBuild } from '../../../../core/src/job/made-up.fixture.ts'
import type { Tune } from '../../api/types.ts'
import RunnerGrid from './RunnerGrid.vue'

const { facts, choices } = soundBuild({ choices: { plan: { route: 'individual-runner', injectors: 6 } } })
const document = computeBaseTune(facts, choices)
const tune = { id: 't1', number: 2, document } as unknown as Tune
beforeEach(() => localStorage.clear())

describe('VE by throttle', () => {
  it('has a row for each throttle and a column for each speed', () => {
    const w = mount(RunnerGrid, { props: { tune, busy: false } })
    expect(w.findAll('td[data-i]')).toHaveLength(document.runner!.ve.length)
    expect(w.text()).toContain('throttle % up')
    expect(w.find('[data-testid="save-runner"]').exists()).toBe(false)
  })
  it('where the throttle takes over can be moved, and makes a version that says so', async () => {
    const w = mount(RunnerGrid, { props: { tune, busy: false } })
    const input = w.find('[aria-label="Throttle counts alone, %"]')
    await input.setValue('20')
    await w.find('[data-testid="save-runner"]').trigger('click')
    const [[made]] = w.emitted<[TuneDocument]>('take')!
    expect(made.runner).toMatchObject({ blendFromPct: 3, blendToPct: 20, ve: document.runner!.ve })
    expect(made.provenance.runner).toBe('edited by hand from version 2')
  })
  it('refuses a blend that ends before it begins', async () => {
    const w = mount(RunnerGrid, { props: { tune, busy: false } })
    const input = w.find('[aria-label="Throttle counts alone, %"]')
    await input.setValue('1')
    expect(w.find('[role="alert"]').text()).toContain('count alone above that')
    expect(w.find('[data-testid="save-runner"]').exists()).toBe(false)
  })
})
