import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it } from 'vitest'
import { madeReading } from '../../../../core/src/judge/made-up.fixture.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import CoilTab from './CoilTab.vue'
import PhaseTab from './PhaseTab.vue'
import StepsTab from './StepsTab.vue'
import TimingLight from './TimingLight.vue'
import InterferenceTab from './InterferenceTab.vue'
import CurveTab from './CurveTab.vue'
import OrderTab from './OrderTab.vue'
import TachTab from './TachTab.vue'
import TriggerTab from './TriggerTab.vue'

const fill = async (w: ReturnType<typeof mount>, id: string, text: string) => {
  await w.find(`#${id}`).setValue(text)
  await w.find(`#${id}`).trigger('change')
}
const button = (w: ReturnType<typeof mount>, text: string) => w.findAll('button').find((b) => b.text() === text)!

// what a store still has on its way must not reach the next test's
afterEach(flushPromises)

describe('order and coils', () => {
  it('says what two crossed leads do, and nothing for a lead on its own tower', async () => {
    await openBuild()
    const w = mount(OrderTab)
    expect(w.find('[data-testid="swap"]').text()).toContain('number 5 sparks in its compression')
    await w.find('[aria-label="Second lead"]').findAll('button')[0].trigger('click')
    expect(w.text()).toContain('The same lead on its own tower')
  })
  it('has a tag for each lead, in the order they fire', async () => {
    await openBuild()
    expect(
      mount(OrderTab)
        .findAll('.tags strong')
        .map((t) => t.text()),
    ).toEqual(['1', '5', '3', '6', '2', '4'])
  })
})

describe('trigger', () => {
  it('tells what the old ignition is good for, and the threshold between noise and signal', async () => {
    const builds = await openBuild()
    const w = mount(TriggerTab)
    expect(w.find('.use').text()).toContain('usable')
    builds.change('choices.spark.trigger', 'locked-magnetic')
    await w.vm.$nextTick()
    await fill(w, 'spark-signal-noiseV', '0.2')
    await fill(w, 'spark-signal-crankingV', '1.8')
    await button(w, 'Record').trigger('click')
    expect(w.text()).toContain('0.60 V')
    expect(builds.context!.readings.some((r) => r.kind === 'spark.signal')).toBe(true)
  })
  it('draws the tape at the size of the damper, with its bar of 100 mm', async () => {
    await openBuild({ facts: { ignition: { damperDiameterMm: 172 } } })
    const tape = mount(TriggerTab).find('#timing-tape')
    // 80 degrees from -10 to 70 on 172 mm and 0.15 mm of paper all round, and ten at both ends
    expect(parseFloat(tape.attributes('width')!)).toBeCloseTo((80 * Math.PI * 172.3) / 360 + 20, 6)
    expect(tape.text()).toContain('100 mm')
  })
})

describe('dwell', () => {
  it('has a row for each voltage and marks the one that falls short of the redline', async () => {
    await openBuild({ facts: { ignition: { coilInductanceMh: 9 } } })
    const rows = mount(CoilTab).findAll('table')[0].findAll('tbody tr')
    expect(rows.map((r) => r.find('td').text())).toEqual(['14 V', '12 V', '10 V', '8 V'])
    expect(rows[0].text()).toContain('short of the 5200 rpm redline')
  })
})

describe('old curve', () => {
  it('asks for the weights before it draws, then compares region by region', async () => {
    const builds = await openBuild()
    const w = mount(CurveTab)
    expect(w.find('svg').exists()).toBe(false)
    builds.change('facts.ignition.mechanicalAdvanceDeg', 22)
    builds.change('facts.ignition.mechanicalStartRpm', 900)
    builds.change('facts.ignition.mechanicalFullRpm', 3200)
    await w.vm.$nextTick()
    const map = w.find('[data-testid="old-map"]')
    expect(w.findAll('tbody tr')).toHaveLength(4 + 6)
    expect(map.findAll('tbody tr')).toHaveLength(6)
    // at full load at its redline: 8° static and all of 22
    await w
      .findAll('[role="radio"]')
      .find((b) => b.text() === 'the old one gave')!
      .trigger('click')
    expect(map.findAll('tbody tr')[0].findAll('td').at(-1)!.text()).toBe('30°')
    expect(w.text()).toContain('only a dyno knows')
  })
})

describe('tachometer', () => {
  it('shows the ratio, and names the wrong setting from two readings', async () => {
    const builds = await openBuild({ choices: { tach: { source: 'single-coil', setCylinders: 8 } } })
    const w = mount(TachTab)
    expect(w.text()).toContain('75 % of the speed')
    for (const [rpm, shown] of [
      ['1000', '750'],
      ['3000', '2250'],
    ]) {
      await fill(w, 'tach-reading-trueRpm', rpm)
      await fill(w, 'tach-reading-shownRpm', shown)
      await w.find('[data-testid="record-tach.reading"]').trigger('click')
    }
    expect(w.find('[data-testid="tach-fit"]').text()).toContain('set to 8 cylinders on an engine of 6')
    expect(builds.station('spark')!.findings.map((f) => f.id)).toEqual(expect.arrayContaining(['tach.ratio', 'tach.reads-wrong']))
    w.unmount()
  })
})

describe('the tachometer driven alone', () => {
  it('each setting of its converter is tried and judged; the bench has a generator', async () => {
    const builds = await openBuild({ choices: { tach: { source: 'single-coil', setCylinders: 6 } } })
    builds.view = 'rehearsal'
    const w = mount(TachTab)
    expect(w.text()).toContain('100 Hz are 2000 rpm')
    for (const [hz, shown, setting] of [
      ['100', '3000', 'A'],
      ['100', '2000', 'B'],
      ['200', '4010', 'B'],
    ]) {
      await fill(w, 'tach-driven-frequencyHz', hz)
      await fill(w, 'tach-driven-shownRpm', shown)
      await w.find('#tach-driven-setting').setValue(setting)
      await w.find('[data-testid="record-tach.driven"]').trigger('click')
      await flushPromises()
    }
    const rows = w.findAll('[data-testid="driven"] tbody tr').map((r) => r.text())
    expect(rows[0]).toContain('counts like 4 cylinders')
    expect(rows[1]).toContain('proved')
    await w.find('[data-testid="bench-tach.driven"]').trigger('click')
    await flushPromises()
    expect(builds.context!.readings.at(-1)).toMatchObject({ kind: 'tach.driven', value: { frequencyHz: 100 } })
    w.unmount()
  })
  it('a frequency of nothing is refused', async () => {
    await openBuild()
    const w = mount(TachTab)
    await fill(w, 'tach-driven-frequencyHz', '0')
    expect(w.text()).toContain('Frequency, Hz must be at least 1')
    w.unmount()
  })
})

describe('interference', () => {
  it('a symptom marks the suspect to look at next, and a check that is clear moves on', async () => {
    await openBuild()
    const w = mount(InterferenceTab)
    expect(w.find('.next').exists()).toBe(false)
    await button(w, 'The unit resets').trigger('click')
    expect(w.find('.next').text()).toContain('Loom along plug leads or coil')
    await w.find('[aria-label="Loom along plug leads or coil: clear"]').trigger('click')
    expect(w.find('.next').text()).toContain('Long unconnected leads')
    await button(w, 'The unit resets').trigger('click')
    expect(w.find('.next').exists()).toBe(false)
  })
})

const proven = () => [
  madeReading('spark.zero-mark', { method: 'piston-stop', beforeDeg: 24, afterDeg: 24 }),
  madeReading('spark.stroke', { method: 'thumb', inStep: true }),
  madeReading('spark.order', { cylinders: [1, 5, 3, 6, 2, 4] }),
  madeReading('spark.polarity', { right: true, method: 'lamp' }),
]
const light = (rpm: number, observedDeg: number) =>
  madeReading('spark.timing-light', { rpm, observedDeg, commandedDeg: 15, referenceDeg: 54, delayUs: 0 })
const stop = (builds: Awaited<ReturnType<typeof openBuild>>) =>
  builds
    .station('spark')!
    .findings.filter((f) => f.severity === 'stop')
    .map((f) => f.id)

describe('steps', () => {
  it('opens the step to do now, and the bench’s instrument takes it on', async () => {
    const builds = await openBuild({}, proven().slice(0, 1))
    const w = mount(StepsTab)
    expect(w.find('.now').attributes('data-testid')).toBe('step-card-tower')
    await w.find('[data-testid="step-stroke"] .title').trigger('click')
    await w.find('[data-testid="bench-spark.stroke"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="step-stroke"]').classes()).toContain('done')
    expect(builds.context!.readings.at(-1)).toMatchObject({ kind: 'spark.stroke', value: { inStep: true } })
  })
  it('a fault set on the bench car is found by the step that looks for it, and put right by taking it away', async () => {
    const builds = await openBuild({}, proven())
    builds.change('choices.bench.faults', [{ id: 'leads-crossed' }])
    await flushPromises()
    const w = mount(StepsTab)
    const look = async () => {
      if (!w.find('[data-testid="bench-spark.order"]').exists()) await w.find('[data-testid="step-order"] .title').trigger('click')
      await w.find('[data-testid="bench-spark.order"]').trigger('click')
      await flushPromises()
    }
    await look()
    expect(stop(builds)).toEqual(['spark.order'])
    expect(w.find('[data-testid="step-order"]').classes()).toContain('wrong')
    builds.change('choices.bench.faults', undefined)
    await flushPromises()
    await look()
    expect(stop(builds)).toEqual([])
  })
  it('a firing order of the wrong length is refused with the length wanted', async () => {
    const builds = await openBuild()
    const w = mount(StepsTab)
    await w.find('[data-testid="step-order"] .title').trigger('click')
    await w.find('#spark-order-cylinders').setValue('1-3-4-2')
    await w.find('#spark-order-cylinders').trigger('keydown', { key: 'Enter' })
    expect(w.find('[role="alert"]').text()).toContain('6 cylinders')
    expect(builds.context!.readings).toEqual([])
  })
  it('without a way of triggering it sends to choose one', async () => {
    await openBuild({ choices: { spark: { trigger: null } } })
    const w = mount(StepsTab)
    await button(w, 'Choose the way').trigger('click')
    expect(w.emitted('go')).toEqual([['trigger']])
  })
})

describe('timing light', () => {
  const readings = [light(900, 18.1), light(3000, 18.1), light(900, 17.9), light(3000, 17.9)]
  it('offers no fix before the proofs, and names them', async () => {
    await openBuild({}, readings)
    const w = mount(TimingLight, { global: { stubs: { LineChart: true } } })
    expect(w.find('[data-testid="unproved"]').text()).toContain('zero mark, compression stroke')
    expect(w.findAll('.fix')).toHaveLength(0)
  })
  it('setting the reference keeps the rotor; turning the distributor is recorded and carries the alignment along', async () => {
    const builds = await openBuild({ choices: { spark: { alignDegBtdc: 20 } } }, [...proven(), ...readings])
    const w = mount(TimingLight, { global: { stubs: { LineChart: true } } })
    expect(w.findAll('.fix')).toHaveLength(2)
    await button(w, 'I turned it').trigger('click')
    await flushPromises()
    // pulse 3 degrees early: turned later by 3 crank degrees, and the rotor’s alignment with it
    expect(builds.current!.choices.spark!.alignDegBtdc).toBe(17)
    expect(builds.current!.choices.spark!.referenceDeg).toBe(54)
    const moved = builds.context!.readings.find((r) => r.kind === 'spark.moved')!.value as { laterDeg: number }
    expect(moved.laterDeg).toBeCloseTo(3, 1)
    expect(w.find('.fits').text()).toContain('Timing fit of 4 readings')
    // what was read before belongs to the past
    expect(w.find('.verdict').exists()).toBe(false)
  })
  it('the bench’s light reads at the speed that helps most', async () => {
    const builds = await openBuild({}, proven())
    const w = mount(TimingLight, { global: { stubs: { LineChart: true } } })
    await w.find('[data-testid="bench-light"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="bench-light"]').text()).not.toContain('900 rpm')
    expect(builds.context!.readings.at(-1)!.kind).toBe('spark.timing-light')
  })
})

describe('dial', () => {
  it('says in words what the rotor does, and takes a school’s alignment', async () => {
    const builds = await openBuild({ choices: { spark: { alignDegBtdc: 20 } } })
    const w = mount(PhaseTab)
    await w.find('[aria-label^="Spark advance, degrees"]').setValue(30)
    // 10 crank degrees sooner is 5 of the rotor
    expect(w.find('.story').text()).toContain(
      'comes 10 crank degrees sooner; the rotor turns half as fast, so it stands 5.0° before terminal 1',
    )
    await w
      .findAll('.below button')
      .find((b) => b.text() === 'Take it')!
      .trigger('click')
    expect(builds.current!.choices.spark!.alignDegBtdc).toBe(23)
    w.unmount()
  })
  it('a cap is not drawn by a guess: which way the rotor turns is asked first', async () => {
    const builds = await openBuild()
    const w = mount(PhaseTab)
    expect(w.findAll('path.rotor')).toHaveLength(0)
    await w.findAll('[data-testid="ask-rotation"] button').at(1)!.trigger('click')
    expect(builds.context!.facts.ignition!.rotation).toBe('anticlockwise')
    expect(w.findAll('path.rotor').length).toBeGreaterThan(0)
    w.unmount()
  })
  it('the crank turned by its keys carries the rotor along at half speed', async () => {
    await openBuild({ facts: { ignition: { rotation: 'clockwise' } } })
    const w = mount(PhaseTab)
    const crank = w.find('[aria-label="Crank"]')
    const rotor = () => w.findAll('path.rotor')[0].attributes('d')
    const before = rotor()
    await crank.trigger('keydown', { key: 'ArrowRight', shiftKey: true })
    expect(w.find('[aria-label="Crank"]').attributes('aria-valuetext')).toContain('18 degrees before')
    expect(rotor()).not.toBe(before)
    w.unmount()
  })
})

describe('leads, box, step', () => {
  it('a lead goes into the record when length and ohms are there; out of bounds is said', async () => {
    const builds = await openBuild()
    const w = mount(OrderTab)
    await w.find('[aria-label="Lead 5, length, mm"]').setValue('20')
    expect(w.find('[role="alert"]').text()).toContain('at least 50')
    await w.find('[aria-label="Lead 5, length, mm"]').setValue('500')
    expect(builds.context!.readings).toEqual([])
    await w.find('[aria-label="Lead 5, ohm"]').setValue('7000')
    expect(builds.context!.readings.at(-1)!.value).toEqual({ cylinder: 5, lengthMm: 500, ohm: 7000 })
    expect(w.text()).toContain('14.0 kΩ')
  })
  it('a capacitive box shows its energy and that its wires shock', async () => {
    await openBuild({ choices: { spark: { coilDrive: 'capacitive', box: { capacitanceUf: 1, chargeV: 400 } } } })
    const w = mount(CoilTab)
    // 1e-6 x 400^2 / 2 = 0.08 J
    expect(w.text()).toContain('80 mJ')
    expect(w.text()).toContain('400 V on its coil wires')
  })
  it('a filmed step gives the needle’s own time constant', async () => {
    await openBuild({ choices: { tach: { source: 'single-coil', setCylinders: 6 } } })
    const w = mount(TachTab)
    // 1 - e^-1 of 1,900 rpm after 0.4 s
    await fill(w, 'step-2', '2101')
    await fill(w, 'step-3', '2543')
    await button(w, 'Record step').trigger('click')
    expect(w.find('[data-testid="lag"]').text()).toContain('rises with 0.40 s and falls with 0.32 s (usual)')
    w.unmount()
  })
})
