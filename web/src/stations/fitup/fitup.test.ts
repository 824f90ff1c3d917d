import { flushPromises, mount } from '@vue/test-utils'
import { NMessageProvider } from 'naive-ui'
import { describe, expect, it, vi } from 'vitest'
import { type Component, defineComponent, h } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { useBuild } from '../../stores/build.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import BalanceTab from './BalanceTab.vue'
import BoltPattern from './BoltPattern.vue'
import BoltsTab from './BoltsTab.vue'
import BonnetTab from './BonnetTab.vue'
import BoxesTab from './BoxesTab.vue'
import CardSheets from './CardSheets.vue'
import CardsTab from './CardsTab.vue'
import CurveEditor from './CurveEditor.vue'
import FitupView from './FitupView.vue'
import LinkageTab from './LinkageTab.vue'
import PedalTab from './PedalTab.vue'
import PortsTab from './PortsTab.vue'
import SensorTab from './SensorTab.vue'

const router = createRouter({
  history: createMemoryHistory(),
  routes: ['survey', 'fitup', 'start'].map((name) => ({ name, path: `/builds/:id/${name}`, component: { template: '<div/>' } })),
})
const screen = async (component: Component, props: object = {}) => {
  const Shown = defineComponent({ render: () => h(NMessageProvider, () => h(component, props)) })
  const w = mount(Shown, { global: { plugins: [router] }, attachTo: document.body })
  await flushPromises()
  return w
}
const fitup = () => useBuild().current!.choices.fitup ?? {}
const findings = () =>
  useBuild()
    .station('fitup')!
    .findings.map((f) => f.id)
type Shown = Awaited<ReturnType<typeof screen>>
const pick = (w: Shown, group: string, label: string) =>
  w
    .findAll('[role="radiogroup"]')
    .find((g) => {
      const by = g.element.getAttribute('aria-labelledby')
      return g.element.getAttribute('aria-label') === group || (by !== null && w.find(`#${by}`).text() === group)
    })!
    .findAll('[role="radio"]')
    .find((b) => b.text() === label)!
    .trigger('click')
const typeIn = async (w: Shown, id: string, text: string) => {
  const box = w.find(`#${id}`)
  await box.setValue(text)
  await box.trigger('change')
  await box.trigger('blur')
}

describe('cards', () => {
  it('opens on the next one; recorded it is done and the next opens by itself', async () => {
    await openBuild()
    const w = await screen(CardsTab)
    expect(w.find('[data-testid="card-before"]').attributes('aria-expanded')).toBe('true')
    await typeIn(w, 'fitup-photos-hoses', '7')
    await w.find('[data-testid="record-fitup.photos"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="card-before"]').text()).toContain('done')
    expect(w.find('[data-testid="cards-done"]').text()).toMatch(/^1 of \d+ done$/)
  })
  it('on the bench hands read it; what is wrong is a stop, and mended it is done', async () => {
    const builds = await openBuild({ choices: { bench: { faults: [{ id: 'spring-off' }] } } })
    builds.view = 'rehearsal'
    const w = await screen(CardsTab)
    await w.find('[data-testid="card-linkage"]').trigger('click')
    await w.find('[data-testid="bench-linkage"]').trigger('click')
    await flushPromises()
    expect(findings()).toContain('fitup.failed')
    expect(w.find('[data-testid="card-linkage"]').text()).not.toContain('done')
    builds.change('choices.bench.faults', [])
    await w.find('[data-testid="bench-linkage"]').trigger('click')
    await flushPromises()
    expect(findings()).not.toContain('fitup.failed')
    expect(w.find('[data-testid="card-linkage"]').text()).toContain('done')
  })
  it('a torque is said with its passes, and the wrench is set to it', async () => {
    const builds = await openBuild({ choices: { fitup: { joints: { throttle: { sheetNm: 18 } } } } })
    builds.view = 'rehearsal'
    const w = await screen(CardsTab)
    await w.find('[data-testid="card-bolts-throttle"]').trigger('click')
    expect(w.find('[data-testid="card-torque"]').text()).toBe('6, 12, 18 Nm, by the sheet')
    await w.find('[data-testid="bench-bolts-throttle"]').trigger('click')
    await flushPromises()
    expect(builds.met('fitup', 'torqued-throttle')).toBe(true)
  })
  it('a hose moved again asks for the map anew', async () => {
    const builds = await openBuild()
    builds.view = 'rehearsal'
    const w = await screen(CardsTab)
    await w.find('[data-testid="card-ports"]').trigger('click')
    await w.find('[data-testid="bench-ports"]').trigger('click')
    await flushPromises()
    expect(builds.met('fitup', 'ports')).toBe(true)
    await typeIn(w, 'fitup-hose-off-what', 'booster')
    const record = w.find('[data-testid="record-fitup.hose-off"]')
    await record.trigger('click')
    await flushPromises()
    expect(builds.met('fitup', 'ports')).toBe(false)
  })
  it('the printed cards carry every card with its caution', async () => {
    await openBuild({ choices: { fitup: { joints: { throttle: { pattern: 'circle', bolts: 6, diameterMm: 90 } } } } })
    const w = await screen(CardSheets)
    expect(w.findAll('[data-testid="printed-card"]').length).toBeGreaterThan(10)
    expect(w.text()).toContain('never sits in a running exhaust unpowered')
    expect(w.find('[aria-label^="Draw down"]').exists()).toBe(true)
  })
})

describe('bolts', () => {
  it('the order stands on the bolts, and one is moved by keys and kept', async () => {
    await openBuild({ choices: { fitup: { joints: { throttle: { pattern: 'rectangle', bolts: 4, lengthMm: 100, widthMm: 60 } } } } })
    const w = await screen(BoltsTab)
    expect(w.find('[data-testid="bolt-3"]').text()).toBe('2')
    await w.find('[data-testid="bolt-3"]').trigger('keydown', { key: 'ArrowRight' })
    expect(fitup().joints!.throttle!.at![3]).toEqual({ xMm: 51, yMm: 30 })
  })
  it('torque by thread and class, and what ends it', async () => {
    await openBuild({ choices: { fitup: { joints: { throttle: { pattern: 'row', bolts: 2, lengthMm: 80 } } } } })
    const w = await screen(BoltsTab)
    expect(w.text()).toContain('by its sheet, or tell thread and class')
    await pick(w, 'Thread', 'M8')
    await pick(w, 'Washers', 'yes')
    expect(w.find('[data-testid="joint-torque"]').text()).toBe('8 Nm, then 17 Nm, then 25 Nm')
    await typeIn(w, 'choices-fitup-joints-throttle-engagementMm', '9')
    expect(findings()).toContain('fitup.engagement')
  })
  it('on paper it is a picture', async () => {
    const w = await screen(BoltPattern, { bolts: [{ xMm: 0, yMm: 0 }], label: 'x', still: true })
    expect(w.find('svg').attributes('role')).toBe('img')
    expect(w.find('[tabindex]').exists()).toBe(false)
  })
})

describe('vacuum', () => {
  it('a consumer is tapped, then a port; a bad place is told on its hose', async () => {
    await openBuild()
    const w = await screen(PortsTab)
    const tap = async (id: string, event = 'click') => {
      await w.find(`[data-testid="${id}"]`).trigger(event, event === 'keydown' ? { key: 'Enter' } : {})
    }
    await tap('consumer-booster', 'keydown')
    await tap('port-edge')
    expect(fitup().vacuum!.joined).toEqual({ booster: 'edge' })
    expect(findings()).toContain('fitup.port-booster')
    expect(w.text()).toContain('Brake booster hangs on ported vacuum')
    await tap('consumer-booster', 'keydown')
    await tap('port-rear-large')
    expect(w.text()).not.toContain('hangs on ported vacuum')
    await tap('consumer-booster', 'keydown')
    await w.find('[data-testid="hose-off"]').trigger('click')
    expect(fitup().vacuum!.joined).toEqual({})
  })
  it('a port is added by name; one without a name is refused', async () => {
    await openBuild()
    const w = await screen(PortsTab)
    await w.find('[data-testid="port-add"]').trigger('click')
    expect(w.find('[role="alert"]').text()).toContain('must have a name')
    await w.find('[aria-label="Name of the port"]').setValue('Heater')
    await w.find('[data-testid="port-add"]').trigger('click')
    expect(fitup().vacuum!.ports!.heater).toEqual({ name: 'Heater', kind: 'manifold' })
    // a port tapped without a consumer shows what is asked of it
    await w.find('[data-testid="port-heater"]').trigger('click')
    await pick(w, 'Capped', 'yes')
    expect(fitup().vacuum!.ports!.heater.capped).toBe(true)
  })
  it('brakes on individual runners are told their reservoir', async () => {
    await openBuild({ facts: { cam: { idleVacuumKpa: 60 } }, choices: { plan: { route: 'individual-runner' } } })
    const w = await screen(PortsTab)
    expect(w.find('[data-testid="reservoir"]').text()).toContain('4.6 L')
  })
})

describe('linkage', () => {
  it('handles go by keys, the curve and its verdict follow, a remedy is tried', async () => {
    await openBuild({ choices: { fitup: { linkage: { plate: { boreMm: 44, shutDeg: 6, count: 1 } } } } })
    const w = await screen(LinkageTab)
    const before = w.find('[data-testid="tip-in"]').text()
    for (let i = 0; i < 8; i++) await w.find('[data-testid="lever-handle"]').trigger('keydown', { key: 'ArrowUp' })
    expect(fitup().linkage!.leverMm).toBe(30)
    expect(w.find('[data-testid="tip-in"]').text()).not.toBe(before)
    expect(findings()).toContain('fitup.full-throttle')
    await w.find('[data-testid="take-cam"]').trigger('click')
    expect(fitup().linkage).toMatchObject({ cam: 'snail', leverMm: 40.5, endRadiusMm: 21 })
  })
  it('a second shaft and a gearbox cable are asked for where there are such', async () => {
    await openBuild({ facts: { gearing: { kickDown: 'throttle-valve' } }, choices: { fitup: { linkage: { leverMm: 24 } } } })
    const w = await screen(LinkageTab)
    expect(w.find('[data-at="choices.fitup.linkage.second.boreMm"]').exists()).toBe(false)
    await pick(w, 'A second shaft opens later', 'yes')
    await typeIn(w, 'choices-fitup-linkage-second-boreMm', '44')
    await typeIn(w, 'choices-fitup-linkage-second-fullDeg', '80')
    expect(findings()).toContain('fitup.second-short')
    await typeIn(w, 'choices-fitup-linkage-gearboxCable-armMm', '30')
    await typeIn(w, 'choices-fitup-linkage-gearboxCable-wantedMm', '50')
    expect(findings()).toContain('fitup.gearbox-cable')
  })
  it('a linkage that locks is said in words', async () => {
    await openBuild({
      choices: {
        fitup: { linkage: { kind: 'rod', rod: { groundMm: 160, inMm: 25, crankMm: 60, couplerMm: 120, leverMm: 30, startDeg: 60 } } },
      },
    })
    const w = await screen(LinkageTab)
    expect(w.find('[data-testid="tip-in"]').text()).toContain('It locks at')
  })
})

describe('bonnet, sensor, boxes', () => {
  it('how much is left, and which part gives', async () => {
    await openBuild({ facts: { place: { bonnetMm: 190 } } })
    const w = await screen(BonnetTab)
    // usual heights: 12 + 85 + 6 + 60 + 4 + 12 is 179, and 20 of lift
    expect(w.find('[data-testid="bonnet-left"]').text()).toBe('9 mm too high')
    expect(w.find('[data-testid="bonnet-lower"]').text()).toContain('base of the air cleaner by 31 mm')
    await typeIn(w, 'choices-fitup-stack-element-heightMm', '40')
    expect(w.find('[data-testid="bonnet-left"]').text()).toBe('11 mm left')
  })
  it('the sensor is moved along the pipe and turned by keys; the pipe stays as long', async () => {
    await openBuild({ choices: { fitup: { sensor: { fromPortMm: 600, toEndMm: 1400, upDeg: 10 } } } })
    const w = await screen(SensorTab)
    await w.find('[data-testid="sensor-slide"]').trigger('keydown', { key: 'ArrowRight' })
    expect(fitup().sensor).toMatchObject({ fromPortMm: 610, toEndMm: 1390 })
    await w.find('[data-testid="sensor-turn"]').trigger('keydown', { key: 'ArrowDown' })
    expect(fitup().sensor!.upDeg).toBe(9)
    expect(w.text()).toContain('water hardly drains')
    expect(findings()).toContain('fitup.sensor-angle')
    expect(w.find('[data-testid="sensor-stretch"]').text()).toContain('300 mm to 900 mm')
  })
  it('leads of a box against the way of the harness', async () => {
    await openBuild({ choices: { fitup: { boxes: { unit: { plugs: 'up' } } } } })
    const w = await screen(BoxesTab)
    expect(w.find('[data-testid="reach-unit"]').text()).toMatch(/goes \d\.\d\d m/)
    expect(w.text()).toContain('plugs up')
  })
})

describe('throttles alike', () => {
  it('read, turned as said and read again until they are even', async () => {
    const builds = await openBuild({ choices: { plan: { route: 'individual-runner' } } })
    builds.view = 'rehearsal'
    const w = await screen(BalanceTab)
    for (let pass = 0; pass < 6 && !w.text().includes('They breathe alike'); pass++) {
      await w.find('[data-testid="bench-balance"]').trigger('click')
      await flushPromises()
    }
    expect(w.find('[data-testid="balance-says"]').text()).toBe('They breathe alike')
    expect(w.find('[data-testid="throttle-1"]').text()).toContain('leave it')
  })
  it('a list too short names how many are wanted; a whole one says what to turn', async () => {
    await openBuild({ choices: { plan: { route: 'individual-runner' } } })
    const w = await screen(BalanceTab)
    const box = w.find('[aria-label="Air through each throttle, kg/h"]')
    await box.setValue('5 5 5')
    await w.find('[data-testid="balance-record"]').trigger('click')
    expect(w.find('[role="alert"]').text()).toContain('6 numbers are wanted')
    await box.setValue('5 5 5 5 5 6,5')
    await w.find('[data-testid="balance-record"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="throttle-6"]').text()).toMatch(/turn in$/)
  })
})

describe('electronic throttle', () => {
  const motor = { choices: { plan: { electronicThrottle: true } } }
  it('key and brake come first; a sweep of the bench is judged and recorded', async () => {
    const builds = await openBuild({ choices: { ...motor.choices, bench: { faults: [{ id: 'pedal-noisy' }] } } })
    builds.view = 'rehearsal'
    const w = await screen(PedalTab)
    expect(w.text()).toContain('A throttle that runs away can kill')
    await w.find('[data-testid="bench-sweep"]').trigger('click')
    expect(w.find('[data-testid="tracks-verdict"]').text()).toContain('clean at rest')
    await w.find('[data-testid="tracks-record"]').trigger('click')
    await flushPromises()
    expect(findings()).toContain('fitup.failed')
  })
  it('a recording is read from CSV; one too short is refused with its bound', async () => {
    await openBuild(motor)
    const w = await screen(PedalTab)
    const give = async (text: string) => {
      const input = w.find('[data-testid="sweep-file"]')
      Object.defineProperty(input.element, 'files', { value: [new File([text], 'sweep.csv')], configurable: true })
      await input.trigger('change')
    }
    await give('0,1,1\n1,2,2')
    await vi.waitFor(() => expect(w.find('[role="alert"]').text()).toContain('3 s or longer with 30 samples'))
    const rows = Array.from({ length: 200 }, (_, i) => {
      const share = i < 100 ? i / 99 : (199 - i) / 99
      return `${(i / 20).toFixed(2)},${(0.8 + 3 * share).toFixed(3)},${(0.4 + 1.5 * share).toFixed(3)}`
    })
    await give(['time,one,two', ...rows].join('\n'))
    await vi.waitFor(() => expect(w.find('[data-testid="tracks-verdict"]').text()).toBe('Sound'))
  })
  it('a softer start gives less air in the first tenth; a point never passes its neighbour', async () => {
    await openBuild(motor)
    const w = await screen(PedalTab)
    await w.find('[data-testid="softer"]').trigger('click')
    const [, now, straight] = /: (\d+) % of the air; straight, (\d+) %/.exec(w.find('[data-testid="motor-tip"]').text())!
    expect(Number(now)).toBeLessThan(Number(straight))
    const points = [0, 50, 100].map((pedalPct) => ({ pedalPct, platePct: pedalPct === 50 ? 99.5 : pedalPct }))
    const moved: number[][] = []
    const editor = await screen(CurveEditor, { points, onMove: (i: number, pct: number) => moved.push([i, pct]) })
    await editor.find('[data-testid="curve-1"]').trigger('keydown', { key: 'ArrowUp' })
    expect(moved).toEqual([[1, 100]])
  })
})

describe('pages', () => {
  it('a card that is done is ticked, each drawing that was told stands on its card', async () => {
    await openBuild({ choices: { fitup: { vacuum: { joined: { booster: 'rear-large' } }, sensor: { fromPortMm: 500, upDeg: 15 } } } })
    const w = await screen(CardSheets)
    for (const label of [
      'Vacuum hoses from consumers to ports',
      'Linkage from pedal to plate',
      'What stands on the flange, under the bonnet',
      'Exhaust sensor on the pipe',
    ])
      expect(w.find(`[aria-label="${label}"]`).attributes('role')).toBe('img')
    // paper is not dragged
    expect(w.find('.card [tabindex]').exists()).toBe(false)
    expect(w.findAll('.box.ticked')).toHaveLength(0)
  })
})

describe('the station', () => {
  it('shows the rooms of this car: a linkage, or a pedal with a motor, and throttles where each cylinder has one', async () => {
    const rooms = async (patch: object) => {
      await openBuild(patch)
      return (await screen(FitupView)).findAll('[role="tab"]').map((t) => t.text())
    }
    expect(await rooms({})).toContain('Linkage')
    expect(await rooms({ choices: { plan: { electronicThrottle: true, route: 'individual-runner' } } })).toEqual(
      expect.arrayContaining(['Pedal', 'Throttles alike']),
    )
  })
})
