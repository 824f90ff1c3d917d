import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { createRouter, createMemoryHistory } from 'vue-router'
import { madeReading } from '../../../core/src/judge/made-up.fixture.ts'
import { openBuild } from '../testing/open-build.fixture.ts'
import EditSheet from './EditSheet.vue'
import FallenProofs from './FallenProofs.vue'
import NamePrompt from './NamePrompt.vue'
import RehearsalBar from './RehearsalBar.vue'

const id = () => crypto.randomUUID()
const inBody = (testId: string) => document.querySelector<HTMLElement>(`[data-testid="${testId}"]`)
const proof = () => madeReading('spark.polarity', { right: true, method: 'lamp' }, { id: id() })
let mounted: ReturnType<typeof mount> | null = null
afterEach(() => {
  mounted?.unmount()
  mounted = null
  document.body.innerHTML = ''
})

describe('an edit that proofs rest on', () => {
  it('says what becomes what and which proofs rest on it; the record alone is corrected on request', async () => {
    const builds = await openBuild({}, [proof()])
    mounted = mount(EditSheet, { attachTo: document.body })
    expect(inBody('edit-car')).toBeNull()
    builds.change('choices.spark.trigger', 'crank-cam')
    await vi.waitFor(() => expect(inBody('edit-car')).not.toBeNull())
    expect(document.body.textContent).toContain('Polarity of the sensor')
    expect(document.activeElement?.getAttribute('data-testid')).not.toBe('edit-car')
    inBody('edit-record')!.click()
    await vi.waitFor(() => expect(builds.current!.choices.spark!.trigger).toBe('crank-cam'))
    expect(builds.edit).toBeNull()
  })
})

describe('who is working', () => {
  it('lets the entry go on its way once there is a name, and not before', async () => {
    const builds = await openBuild()
    const { useSettings } = await import('../stores/settings.ts')
    useSettings().person = ''
    mounted = mount(NamePrompt, { attachTo: document.body })
    builds.record('note', { text: 'x' })
    await vi.waitFor(() => expect(inBody('who-go')).not.toBeNull())
    expect((inBody('who-go') as HTMLButtonElement).disabled).toBe(true)
    const input = document.querySelector<HTMLInputElement>('#who')!
    input.value = ' Bea '
    input.dispatchEvent(new Event('input'))
    await vi.waitFor(() => expect((inBody('who-go') as HTMLButtonElement).disabled).toBe(false))
    inBody('who-go')!
      .closest('form')!
      .dispatchEvent(new Event('submit', { cancelable: true }))
    await vi.waitFor(() => expect(builds.pendingCount + builds.saved!.readings.length).toBeGreaterThan(0))
    expect(useSettings().person).toBe('Bea')
  })
})

describe('proofs to be taken again', () => {
  const at = async (...readings: ReturnType<typeof proof>[]) => {
    const builds = await openBuild({}, readings)
    const router = createRouter({
      history: createMemoryHistory(),
      routes: [
        { path: '/', component: { template: '<p/>' } },
        { path: '/builds/:id/fuel', name: 'fuel', component: { template: '<p/>' } },
      ],
    })
    mounted = mount(FallenProofs, { props: { station: builds.station('fuel')!, buildId: 'sound' }, global: { plugins: [router] } })
    return { router, w: mounted }
  }
  const opened = { batteryOff: true, pressureRelieved: true, engineCold: true, ventilated: true, extinguisher: true }
  it('names each with its reason and leads to where it is done', async () => {
    const { router, w } = await at(
      madeReading('fuel.prime', { cycles: 2, pumpStops: true }, { id: id() }),
      madeReading('fuel.isolated', opened, { id: id() }),
    )
    const rows = w.findAll('[data-testid="fallen"]')
    expect(rows).toHaveLength(1)
    expect(rows[0].text()).toContain('Before a line is opened after it')
    await rows[0].trigger('click')
    await vi.waitFor(() => expect(router.currentRoute.value.name).toBe('fuel'))
    expect(router.currentRoute.value.query.tab).toBe('proof')
  })
  it('shows nothing where nothing has fallen', async () => {
    const { w } = await at(madeReading('fuel.prime', { cycles: 2, pumpStops: true }, { id: id() }))
    expect(w.find('section').exists()).toBe(false)
  })
})

describe('what was turned while practising', () => {
  const turned = async () => {
    const builds = await openBuild({}, [proof()])
    builds.view = 'rehearsal'
    mounted = mount(RehearsalBar, { attachTo: document.body })
    builds.change('choices.spark.referenceDeg', 58)
    await vi.waitFor(() => expect(inBody('rehearsal-bar')).not.toBeNull())
    return builds
  }
  it('stands over the car’s own, which stays: the bar counts it, and looks show both', async () => {
    const builds = await turned()
    expect(builds.current!.choices.spark!.referenceDeg).toBe(58)
    builds.view = 'car'
    expect(builds.current!.choices.spark!.referenceDeg).toBe(54)
    expect(builds.edit).toBeNull()
    await flushPromises()
    expect(inBody('rehearsal-bar')).toBeNull()
    builds.view = 'rehearsal'
    await vi.waitFor(() => expect(inBody('rehearsal-look')).not.toBeNull())
    inBody('rehearsal-look')!.click()
    await vi.waitFor(() => expect(inBody('rehearsal-take')).not.toBeNull())
    expect(document.querySelector('table')!.textContent).toMatch(/Reference angle\s*58°\s*54°/)
  })
  it('turned back to what the car has it is no difference', async () => {
    const builds = await turned()
    builds.change('choices.spark.referenceDeg', 54)
    await vi.waitFor(() => expect(inBody('rehearsal-bar')).toBeNull())
    expect(builds.saved!.choices.rehearsal?.spark?.referenceDeg).toBeUndefined()
  })
  it.each([
    ['rehearsal-take', 58],
    ['rehearsal-drop', 54],
  ])('%s: the car’s reference is %d° afterwards, and nothing is rehearsed any more', async (button, referenceDeg) => {
    const builds = await turned()
    inBody('rehearsal-look')!.click()
    await vi.waitFor(() => expect(inBody(button)).not.toBeNull())
    inBody(button)!.click()
    await vi.waitFor(() => expect(builds.saved!.choices.rehearsal).toBeUndefined())
    expect(builds.saved!.choices.spark!.referenceDeg).toBe(referenceDeg)
  })
})
