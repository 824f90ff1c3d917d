import { flushPromises, mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { NMessageProvider } from 'naive-ui'
import { defineComponent, h, type Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { madeReading } from '../../../../core/src/judge/made-up.fixture.ts'
import { harnessOf, harnessTree } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import BayPlan from './BayPlan.vue'
import ChecksTab from './ChecksTab.vue'
import CircuitsTab from './CircuitsTab.vue'
import MoreTab from './MoreTab.vue'
import PaperTab from './PaperTab.vue'
import { labelSpots } from './plan-labels.ts'
import RouteTab from './RouteTab.vue'
import SupplyTab from './SupplyTab.vue'
import WiringView from './WiringView.vue'

const router = createRouter({
  history: createMemoryHistory(),
  routes: ['survey', 'wiring', 'start'].map((name) => ({ name, path: `/builds/:id/${name}`, component: { template: '<div/>' } })),
})
const screen = async (component: Component, props: object = {}) => {
  const Shown = defineComponent({ render: () => h(NMessageProvider, () => h(component, props)) })
  const w = mount(Shown, { global: { plugins: [router] }, attachTo: document.body })
  await flushPromises()
  return w
}
const wiring = () => useBuild().current!.choices.wiring ?? {}
const findings = () =>
  useBuild()
    .station('wiring')!
    .findings.map((f) => f.id)

describe('routes', () => {
  it('a circuit is picked, its way drawn over way points, kept, and the proposed one taken again', async () => {
    await openBuild({ choices: { wiring: { wheelbaseMm: 2550 } } })
    const w = await screen(RouteTab)
    await w.find('[data-testid="pick-circuit"]').setValue('pump')
    expect(w.find('[data-testid="picked-wire"]').text()).toContain('3.60 m')
    expect(w.find('[data-testid="picked-wire"]').text()).toContain('proposed')
    await w.find('[data-testid="draw-way"]').trigger('click')
    await w
      .findAll('[role="radio"]')
      .find((b) => b.text() === 'Whole car')!
      .trigger('click')
    // tapped twice it is taken back
    for (const id of ['hole-left', 'dash-left', 'tunnel', 'tunnel', 'sill-left', 'hole-seat', 'boot', 'hole-boot'])
      await w.find(`[data-testid="way-${id}"]`).trigger('click')
    await w.find('[data-testid="keep-way"]').trigger('click')
    expect(wiring().circuits!.pump.via).toEqual(['hole-left', 'dash-left', 'sill-left', 'hole-seat', 'boot', 'hole-boot'])
    expect(w.find('[data-testid="picked-wire"]').text()).toContain('drawn')
    await w
      .findAll('button')
      .find((b) => b.text() === 'Take the proposed way')!
      .trigger('click')
    expect(wiring().circuits?.pump?.via).toBeUndefined()
  })
  it('routes stand when somebody says so; a hole without a grommet is a stop', async () => {
    await openBuild()
    const w = await screen(RouteTab)
    await w.find('[data-testid="laid"]').trigger('click')
    expect(wiring().laid).toBe(true)
    expect(useBuild().met('wiring', 'laid')).toBe(true)
    const box = w.find('[data-testid="grommet-hole-left"]')
    await box.setValue(true)
    expect(wiring().grommets).toEqual({ 'hole-left': true })
    await box.setValue(false)
    expect(findings()).toContain('wiring.no-grommet')
  })
  it('the plan and the tree are the same harness', async () => {
    const builds = await openBuild()
    const harness = harnessOf(builds.context!)
    const w = await screen(BayPlan, { harness, baseMm: 2550, picked: 'pump', whole: true })
    expect(w.findAll('.bundle')).toHaveLength(harness.bundles.length)
    const rows = harnessTree(harness)
    expect(rows[0].label).toBe('Fuses and relays')
    // every place that a wire ends at is reached once
    const ends = new Set(harness.wires.flatMap((x) => [x.circuit.from, x.circuit.to]))
    for (const id of ends) expect(rows.filter((r) => r.id === id)).toHaveLength(1)
  })
  it('a place is moved by arrow keys, two centimetres a press', async () => {
    await openBuild({ choices: { wiring: { places: { unit: { xMm: 900, yMm: 400 } } } } })
    const w = await screen(RouteTab)
    await w.find('[data-testid="place-unit"]').trigger('keydown', { key: 'ArrowLeft' })
    await w.find('[data-testid="place-unit"]').trigger('keydown', { key: 'ArrowDown' })
    expect(wiring().places!.unit).toEqual({ xMm: 880, yMm: 420 })
  })
  it('names on the plan do not lie on each other', () => {
    const things = [0, 8, 16, 24].map((x, i) => ({ id: String(i), text: 'Coolant sensor', x: 100 + x, y: 100 }))
    const spots = labelSpots(things, 10, { left: 0, right: 300, top: 0, bottom: 200 })
    const box = (s: (typeof spots)[number]) => {
      const width = s.text.length * 4.7
      const left = s.anchor === 'start' ? s.x : s.anchor === 'end' ? s.x - width : s.x - width / 2
      return { left, right: left + width, top: s.y - 8, bottom: s.y + 2 }
    }
    spots.forEach((a, i) =>
      spots.slice(i + 1).forEach((b) => {
        const [p, q] = [box(a), box(b)]
        expect(p.right <= q.left || q.right <= p.left || p.bottom <= q.top || q.bottom <= p.top).toBe(true)
      }),
    )
  })
})

describe('circuits', () => {
  it('one is opened, says why its wire is as thick, and refuses a fuse of no standard with the list of them', async () => {
    await openBuild()
    const w = await screen(CircuitsTab)
    await w.find('[data-testid="circuit-pump"]').trigger('click')
    expect(w.find('[data-testid="wire-why"]').text()).toMatch(/by the voltage it may lose: it bears [\d.]+ A among \d+ loaded at 80 °C/)
    const field = w.find('#choices-wiring-circuits-pump-fuseA')
    await field.setValue('12')
    await field.trigger('change')
    expect(w.text()).toContain('must be a standard fuse')
    expect(wiring().circuits?.pump?.fuseA).toBeUndefined()
    await field.setValue('0')
    await field.trigger('change')
    expect(findings()).toContain('wiring.unfused')
  })
  it('is left out with a reason, not without, and taken in again', async () => {
    await openBuild()
    const w = await screen(CircuitsTab)
    await w.find('[data-testid="circuit-idle-valve"]').trigger('click')
    await w.find('[data-testid="leave-out"]').trigger('click')
    expect(w.text()).toContain('The reason')
    await w.find('[data-testid="left-out-reason"] input').setValue('idles by its screw')
    await w.find('[data-testid="leave-out"]').trigger('click')
    expect(wiring().circuits!['idle-valve'].leftOut).toBe('idles by its screw')
    expect(w.text()).toContain('Idle valve: idles by its screw')
    await w
      .findAll('button')
      .find((b) => b.text() === 'Take it in again')!
      .trigger('click')
    expect(wiring().circuits?.['idle-valve']?.leftOut).toBeUndefined()
  })
  it('one’s own is added with a reason', async () => {
    await openBuild()
    const w = await screen(CircuitsTab)
    await w.find('#own-name').setValue('Horn')
    await w.find('#own-amps').setValue('8')
    await w.find('#own-amps').trigger('change')
    await w.find('[data-testid="own-add"]').trigger('click')
    expect(w.text()).toContain('must say why')
    await w.find('#own-why').setValue('the old wire is gone')
    await w.find('[data-testid="own-add"]').trigger('click')
    expect(wiring().own!['own-horn']).toMatchObject({ name: 'Horn', continuousA: 8, feed: 'battery' })
    expect(w.find('[data-testid="circuit-own-horn"]').exists()).toBe(true)
  })
  it('a list from a spreadsheet is refused by line, or brings its changes', async () => {
    await openBuild()
    const w = await screen(CircuitsTab)
    const bring = async (text: string) => {
      const input = w.find('[data-testid="circuits-back"]')
      Object.defineProperty(input.element, 'files', { value: [new File([text], 'c.csv')], configurable: true })
      await input.trigger('change')
      await flushPromises()
    }
    await bring('circuit,lengthM\npump,-2')
    expect(w.text()).toContain('line 2, lengthM: must be 0.05 to 20 m')
    await bring('circuit,lengthM\npump,4.4')
    expect(wiring().circuits!.pump.measuredM).toBe(4.4)
  })
})

describe('supply', () => {
  it('shows what each state draws and gets, and what arrives', async () => {
    await openBuild({ facts: { electrics: { chargingIdleA: 10, chargingRatedA: 60, fan: 'electric' } } })
    const w = await screen(SupplyTab)
    expect(w.find('[data-testid="supply-idle"]').text()).toMatch(/10.0 A given/)
    expect(w.find('[data-testid="supply-idle"]').text()).toMatch(/\d+ min until it no longer starts/)
    expect(w.find('[data-testid="supply-cruise"]').text()).toMatch(/charges with/)
    expect(w.text()).toContain('Fuel pump')
    // the fields are there, and take a bound with its unit
    const field = w.find('#choices-wiring-resetV')
    await field.setValue('30')
    await field.trigger('change')
    expect(w.text()).toContain('at most 11')
  })
})

describe('checks', () => {
  it('the first that is not met is open; a tap records it and the next opens on Next', async () => {
    const builds = await openBuild()
    const w = await screen(ChecksTab)
    await w.find('[data-testid="record-wiring.isolated"]').trigger('click')
    await flushPromises()
    expect(builds.met('wiring', 'isolated')).toBe(true)
  })
  it('power on before the circuits were measured proves nothing, and says so', async () => {
    await openBuild({}, [madeReading('wiring.isolated', { earthedFirst: true })])
    const w = await screen(ChecksTab)
    await w.find('[data-testid="step-wiring.power-on"]').trigger('click')
    await w.find('[data-testid="record-wiring.power-on"]').trigger('click')
    await flushPromises()
    expect(w.text()).toContain('were not measured for shorts')
    expect(useBuild().met('wiring', 'power-on')).toBe(false)
  })
  it('on the bench each plug is looked at, a wire tried, and the verdict with its next test stands there', async () => {
    const builds = await openBuild({ choices: { bench: { faults: [{ id: 'keyed-resistor' }] } } })
    builds.view = 'rehearsal'
    const w = await screen(ChecksTab)
    await w.find('[data-testid="step-wiring.keyed"]').trigger('click')
    await w.find('[data-testid="bench-wiring.keyed"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="keyed-verdict"]').text()).toContain('fed through a resistor')
    expect(w.find('[data-testid="relay-scheme"]').text()).toContain('weak but live while cranking')
    await w.find('[data-testid="step-wiring.connector"]').trigger('click')
    await w.find('[data-testid="bench-plugs"]').trigger('click')
    for (let i = 0; i < 40; i++) await flushPromises()
    expect(builds.met('wiring', 'connectors')).toBe(true)
  })
  it('a meter at two points of the bench car; at the car itself there is none', async () => {
    const builds = await openBuild()
    expect((await screen(ChecksTab)).find('[data-testid="meter"]').exists()).toBe(false)
    builds.view = 'rehearsal'
    const w = await screen(ChecksTab)
    expect(w.find('[data-testid="meter"]').text()).toMatch(/^12\.\d{3} V$/)
    await w.find('[data-testid="meter-red"]').setValue('minus')
    expect(w.find('[data-testid="meter"]').text()).toMatch(/^-?0\.0\d{2} V$/)
  })
})

describe('what more hangs on it', () => {
  it('an output by a condition reads as a sentence; chatter and an empty name are named', async () => {
    await openBuild()
    const w = await screen(MoreTab)
    expect(w.find('[data-testid="output-says"]').text()).toBe('On when coolant is over 95 °C; off when it is under 90 °C.')
    await w.find('[data-testid="output-add"]').trigger('click')
    expect(w.text()).toContain('must have a name')
    await w.find('[aria-label="Name of the output"]').setValue('Water pump')
    await w.find('[data-testid="output-add"]').trigger('click')
    expect(wiring().outputs!['water-pump'].when).toEqual({ channel: 'coolantC', on: 95, off: 90 })
  })
  it('a sender’s points are read line by line; what is no pair is named', async () => {
    await openBuild()
    const w = await screen(MoreTab)
    await w.find('[aria-label="Name of the sender"]').setValue('Oil')
    await w.find('[aria-label="Unit of its value"]').setValue('kPa')
    const points = w.find('textarea')
    await points.setValue('240 0\n103')
    await w.find('[data-testid="sender-add"]').trigger('click')
    expect(w.text()).toContain('line 2, "103": two numbers are wanted')
    await points.setValue('240 0\n103 350\n33 700')
    await w.find('[data-testid="sender-add"]').trigger('click')
    expect(wiring().senders!.oil.points).toHaveLength(3)
  })
  it('inputs, boxes and a bus are added, and what is wrong with them is a finding', async () => {
    await openBuild()
    const w = await screen(MoreTab)
    await w.find('[aria-label="Name of the input"]').setValue('Air conditioning')
    await w.find('[data-testid="input-add"]').trigger('click')
    expect(wiring().inputs!['air-conditioning'].action).toBe('idle-raise')
    await w.find('[aria-label="Box"]').setValue('Display')
    await w.find('[aria-label="Version in it"]').setValue('1.9')
    await w.find('[aria-label="Least version"]').setValue('1.10')
    await w.find('[data-testid="box-add"]').trigger('click')
    expect(findings()).toContain('wiring.firmware')
    await w.find('[data-testid="bus-add"]').trigger('click')
    expect(wiring().bus).toEqual({})
  })
})

describe('gauges, a box with channels, an output on the bench’s drive', () => {
  const oil = { name: 'Oil', unit: 'kPa', signal: 'ohm' as const, points: [240, 103, 33].map((signal, i) => ({ signal, value: 350 * i })) }
  it('a gauge is added on its sender, with what it must show; a scale too short is named', async () => {
    await openBuild({ choices: { wiring: { senders: { oil } } } })
    const w = await screen(MoreTab)
    await w.find('[aria-label="Name of the gauge"]').setValue('Oil gauge')
    const [low, high] = w.findAll('[data-at="choices.wiring.gauges"] .field input')
    await low.setValue('0')
    await low.trigger('blur')
    await high.setValue('600')
    await high.trigger('blur')
    expect(w.text()).toContain('its sender goes to 700 kPa, its scale from 0 to 600')
    await high.setValue('700')
    await high.trigger('blur')
    await w.find('[data-testid="gauge-add"]').trigger('click')
    expect(wiring().gauges!['oil-gauge']).toEqual({ name: 'Oil gauge', sender: 'oil', low: 0, high: 700 })
    expect(w.find('[data-testid="gauge-marks"]').text()).toContain('240 Ω on its lead it stands at 0 kPa')
  })
  it('a power box takes the relays’ place on the fuse card', async () => {
    await openBuild()
    const w = await screen(MoreTab)
    await w.find('[data-testid="power-box-add"]').trigger('click')
    expect(wiring().powerBox).toEqual({})
    const paper = await screen(PaperTab)
    await paper
      .findAll('[role="radio"]')
      .find((b) => b.text() === 'Fuse card')!
      .trigger('click')
    expect(paper.text()).toContain('channel of the power box, trips there')
  })
  it('without a tune in the car the output is tried on its sweep alone', async () => {
    const when = { channel: 'coolantC' as const, on: 95, off: 90 }
    await openBuild({ choices: { wiring: { outputs: { fan: { name: 'Fan', when } } } } })
    const w = await screen(MoreTab)
    expect(w.find('[data-testid="output-drive"]').exists()).toBe(false)
    expect(w.text()).toContain('with a base tune the bench car drives it too')
    expect(w.find('[data-testid="output-trial"]').attributes('aria-label')).toMatch(/^on from \d/)
  })
  it('the coil of a relay is not offered a circuit that would close a ring', async () => {
    await openBuild({ choices: { wiring: { circuits: { 'injector-feed': { coilFrom: 'pump' } } } } })
    const w = await screen(CircuitsTab)
    await w.find('[data-testid="circuit-pump"]').trigger('click')
    const field = w.find('[data-at="choices.wiring.circuits.pump.coilFrom"]')
    expect(field.text()).toContain('Keyed supply')
    expect(field.text()).not.toContain('Injectors, feed')
  })
})

describe('sheets', () => {
  it('cut list, pin-outs, a label at each end, fuse card and drawing', async () => {
    const builds = await openBuild()
    const wires = harnessOf(builds.context!).wires
    const w = await screen(PaperTab)
    expect(w.findAll('[data-testid="cut-list"] tbody tr')).toHaveLength(wires.length)
    const sheet = async (label: string) =>
      w
        .findAll('[role="radio"]')
        .find((b) => b.text() === label)!
        .trigger('click')
    await sheet('Pin-outs')
    expect(w.findAll('[data-testid="pin-out"]').length).toBeGreaterThan(8)
    await sheet('Labels')
    expect(w.findAll('[data-testid="label"]')).toHaveLength(2 * wires.length)
    await sheet('Fuse card')
    expect(w.findAll('[data-testid="fuse-line"]')).toHaveLength(wires.filter((x) => x.size?.fuseA).length)
    await sheet('Drawing')
    expect(w.find('[data-testid="save-svg"]').exists()).toBe(true)
    // the made-up car stands on 2,500 mm: 1.6 of that goes on 180 mm at 1 : 25, half a metre is 20 mm
    expect(w.find('[data-testid="drawing-scale"]').text()).toContain('1 : 25')
    expect(w.find('.scale-bar').attributes('style')).toContain('20mm')
  })
  it('the station opens on its routes, with its caution over them', async () => {
    await openBuild()
    const w = await screen(WiringView)
    expect(w.text()).toContain('The earthed battery terminal comes off first')
    expect(w.find('[data-testid="harness-tree"]').exists()).toBe(true)
  })
})
