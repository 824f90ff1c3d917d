import { mount } from '@vue/test-utils'
import { NMessageProvider } from 'naive-ui'
import { defineComponent, h } from 'vue'
import { describe, expect, it, vi } from 'vitest'
import type { StoredReading } from '@vectum/core'
import { madeReading } from '../../../core/src/judge/made-up.fixture.ts'
import { useBuild } from '../stores/build.ts'
import { useSettings } from '../stores/settings.ts'
import { openBuild } from '../testing/open-build.fixture.ts'
import EntryStanding from './EntryStanding.vue'

const shown = async (...readings: StoredReading[]) => {
  await openBuild({}, readings)
  const readingId = readings.at(-1)!.id
  return mount(
    defineComponent(() => () => h(NMessageProvider, () => h(EntryStanding, { readingId }))),
    { attachTo: document.body },
  )
}
const reading = (kind: StoredReading['kind'], value: object, more: object = {}) =>
  madeReading(kind, value, { id: crypto.randomUUID(), ...more } as Partial<StoredReading>)

describe('what an entry is worth', () => {
  it('a proof that stands says so, with its witness', async () => {
    const w = await shown(reading('fuel.arrows', { right: true }, { source: 'imported' }))
    expect(w.text()).toContain('brought in')
    expect(w.find('.clear').text()).toBe('stands')
  })
  it('one of the bench stands in the rehearsal only', async () => {
    const w = await shown(reading('fuel.arrows', { right: true }, { source: 'bench' }))
    expect(w.text()).toBe('rehearsal only')
    useBuild().view = 'rehearsal'
    await w.vm.$nextTick()
    expect(w.find('.clear').text()).toBe('stands')
  })
  it('one outside its limits gives the bound in the reader’s unit', async () => {
    const w = await shown(reading('fuel.pressure', { pressureKpa: 135, engineRunning: false }))
    expect(w.find('.warn').text()).toBe('135 kPa makes 135 kPa of 300 kPa; within 4 % is wanted')
    useSettings().system = 'inch'
    await w.vm.$nextTick()
    expect(w.find('.warn').text()).toMatch(/^19\.6 psi/)
    useSettings().system = 'metric'
  })
  it('an observation has a witness and claims nothing', async () => {
    const w = await shown(reading('note', { text: 'x' }))
    expect([w.find('.clear').exists(), w.find('.warn').exists(), w.text()]).toEqual([false, false, 'personWithdraw'])
  })
  it('is withdrawn only with a reason', async () => {
    const note = reading('note', { text: 'x' })
    const w = await shown(note)
    const posted = vi.mocked(fetch).mock
    await w.find('button').trigger('click')
    await vi.waitFor(() => expect(document.querySelector('form.why')).not.toBeNull())
    const form = document.querySelector('form.why')!
    const submit = form.querySelector<HTMLButtonElement>('button')!
    expect(submit.disabled).toBe(true)
    const input = form.querySelector('input')!
    input.value = 'wrong car'
    input.dispatchEvent(new Event('input'))
    await vi.waitFor(() => expect(submit.disabled).toBe(false))
    form.dispatchEvent(new Event('submit', { cancelable: true }))
    await vi.waitFor(() => expect(posted.calls.some(([url]) => String(url).endsWith(`/readings/${note.id}/withdraw`))).toBe(true))
    w.unmount()
  })
})
