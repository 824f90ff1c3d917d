import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import { computeBaseTune, runnerToCsv, type TuneDocument, type Tune } from '@vectum/core'
import { soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
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
  it.each([
    ['Throttle begins to count, %', '75', /Throttle begins to count, %: .*60/],
    ['Throttle counts alone, %', 'far', /Throttle counts alone, %:/],
  ])('%s of %s is told with its bound', async (label, typed, words) => {
    const w = mount(RunnerGrid, { props: { tune, busy: false } })
    await w.find(`[aria-label="${label}"]`).setValue(typed)
    expect(w.find('[role="alert"]').text()).toMatch(words)
  })
  it('comes in by CSV as a version of its own, or says what does not fit', async () => {
    const w = mount(RunnerGrid, { props: { tune, busy: false } })
    const bring = async (text: string) => {
      const input = w.find('[data-testid="runner-csv-in"]')
      Object.defineProperty(input.element, 'files', { value: [{ name: 've.csv', text: async () => text }], configurable: true })
      await input.trigger('change')
      await flushPromises()
    }
    const csv = runnerToCsv(document.runner!, document.axes.rpm)
    await bring(csv.replace(/^100,/m, 'open,'))
    expect(w.find('[role="alert"]').text()).toContain('holds "open"')
    await bring(csv)
    const [[made]] = w.emitted<[TuneDocument]>('take')!
    expect(made.runner).toEqual(document.runner)
    expect(made.provenance.runner).toBe('from ve.csv')
    expect(w.find('[role="alert"]').exists()).toBe(false)
  })
  it('refuses a blend that ends before it begins', async () => {
    const w = mount(RunnerGrid, { props: { tune, busy: false } })
    const input = w.find('[aria-label="Throttle counts alone, %"]')
    await input.setValue('1')
    expect(w.find('[role="alert"]').text()).toMatch(/Throttle counts alone, %: must be over 3 %/)
    expect(w.find('[data-testid="save-runner"]').exists()).toBe(false)
  })
})
