import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { computeBaseTune, type TuneDocument } from '@vectum/core'
import { soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import AxisEditor from './AxisEditor.vue'

const { facts, choices } = soundBuild()
const tune = computeBaseTune(facts, choices)

describe('axes', () => {
  it('show what is there and offer nothing until it is changed', () => {
    const w = mount(AxisEditor, { props: { tune, busy: false } })
    expect(w.findAll('input').map((i) => i.element.value.split(/\s+/).map(Number))).toEqual([tune.axes.rpm, tune.axes.mapKpa])
    expect(w.find('[data-testid="take-axes"]').attributes('disabled')).toBeDefined()
  })
  it('say what is wrong with a line, and which', async () => {
    const w = mount(AxisEditor, { props: { tune, busy: false } })
    await w.findAll('input')[1].setValue('20 30 40')
    expect(w.find('[role="alert"]').text()).toContain('the manifold pressure axis is not usable: it has 3 breakpoints')
    expect(w.findAll('input')[1].attributes('aria-invalid')).toBe('true')
    expect(w.findAll('input')[0].attributes('aria-invalid')).toBe('false')
    expect(w.find('[data-testid="take-axes"]').attributes('disabled')).toBeDefined()
  })
  it('other breakpoints give a whole tune on them', async () => {
    const w = mount(AxisEditor, { props: { tune, busy: false } })
    const rpm = [...tune.axes.rpm.slice(0, -1), 5100, 5200]
    await w.findAll('input')[0].setValue(rpm.join(', '))
    await w.find('[data-testid="take-axes"]').trigger('click')
    const [[made]] = w.emitted<[TuneDocument]>('take')!
    expect(made.axes.rpm).toEqual(rpm)
    expect(made.tables.ve).toHaveLength(rpm.length * tune.axes.mapKpa.length)
  })
})
