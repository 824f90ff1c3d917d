import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { entryKinds, type EntryKind } from '@vectum/core'
import { useBuild } from '../stores/build.ts'
import { useSettings } from '../stores/settings.ts'
import { openBuild } from '../testing/open-build.fixture.ts'
import EntryForm from './EntryForm.vue'

const form = async (kind: EntryKind, more: object = {}) => {
  await openBuild()
  return mount(EntryForm, { props: { kind, ...more } })
}
type Form = Awaited<ReturnType<typeof form>>
const button = (w: Form, text: string) => w.findAll('button').find((b) => b.text() === text)!
const type = async (w: Form, id: string, text: string) => {
  await w.find(`#${id}`).setValue(text)
  await w.find(`#${id}`).trigger('change')
}
const last = () => useBuild().context!.readings.at(-1)!

describe('the form of an entry', () => {
  it('numbers are typed in the reader’s units and kept metric, with the tool that measured them', async () => {
    const w = await form('fuel.proof')
    useSettings().system = 'inch'
    expect(button(w, 'Held').attributes('disabled')).toBeDefined()
    await type(w, 'fuel-proof-pressureKpa', '58')
    await type(w, 'fuel-proof-minutes', '12')
    await button(w, 'Held').trigger('click')
    expect(last()).toMatchObject({ kind: 'fuel.proof', value: { pressureKpa: expect.closeTo(399.9, 1), minutes: 12, held: true } })
  })
  it('a figure out of bounds is refused by name, bound and unit', async () => {
    const w = await form('fuel.proof')
    await type(w, 'fuel-proof-pressureKpa', '1501')
    expect(w.find('[role="alert"]').text()).toContain('must be at most 1500 kPa')
    expect(button(w, 'Held').attributes('disabled')).toBeDefined()
  })
  it('every thing that must be true is ticked before it can be recorded', async () => {
    const w = await form('start.prepared')
    const ticks = w.findAll('.n-checkbox')
    expect(ticks).toHaveLength(3)
    for (const tick of ticks.slice(0, 2)) await tick.trigger('click')
    expect(button(w, 'Record').attributes('disabled')).toBeDefined()
    await ticks[2].trigger('click')
    await button(w, 'Record').trigger('click')
    expect(last().value).toEqual({ batteryCharged: true, connectorsDone: true, chocked: true })
  })
  it('an order names each cylinder once, or the reason stands under it', async () => {
    const w = await form('spark.order')
    await type(w, 'spark-order-cylinders', '1-5-3')
    await button(w, 'Record').trigger('click')
    expect(w.find('[role="alert"]').text()).toContain('must name 6 cylinders, such as 1-5-3-6-2-4')
    await button(w, 'As the engine fires').trigger('click')
    expect(last().value).toEqual({ cylinders: [1, 5, 3, 6, 2, 4] })
  })
  it('what the screen knows goes along, and what may be left out is', async () => {
    const w = await form('fuel.joint', { given: { jointId: 'feed:a>b' } })
    await button(w, 'Dry').trigger('click')
    expect(last().value).toEqual({ jointId: 'feed:a>b', dry: true })
  })
  it('a start value comes in, and is not put back over what is half typed', async () => {
    const start = { beforeDeg: 22, afterDeg: 25 }
    const w = await form('spark.zero-mark', { start })
    expect((w.find('#spark-zero-mark-beforeDeg').element as HTMLInputElement).value).toBe('22')
    await type(w, 'spark-zero-mark-beforeDeg', '23')
    await w.setProps({ start: { ...start } })
    await button(w, 'Store it as a correction').trigger('click')
    expect(last().value).toEqual({ method: 'piston-stop', beforeDeg: 23, afterDeg: 25, dealt: 'stored' })
  })
  it.each((Object.keys(entryKinds) as EntryKind[]).filter((k) => entryKinds[k].writtenBy !== 'app'))(
    '%s has a form that opens',
    async (kind) => {
      const w = await form(kind)
      expect(w.findAll('button').length).toBeGreaterThan(0)
      for (const field of Object.values((entryKinds[kind].fields ?? {}) as Record<string, { label: string }>))
        expect(w.text()).toContain(field.label)
    },
  )
})
