import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { openBuild } from '../../testing/open-build.fixture.ts'
import CoilTab from './CoilTab.vue'
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
    await fill(w, 'sig-noise', '0.2')
    await fill(w, 'sig-crank', '1.8')
    await button(w, 'Record').trigger('click')
    expect(w.text()).toContain('0.60 V')
    expect(builds.context!.readings.some((r) => r.kind === 'spark.signal')).toBe(true)
  })
  it('draws the tape at the size of the damper, with its bar of 100 mm', async () => {
    await openBuild({ facts: { ignition: { damperDiameterMm: 172 } } })
    const tape = mount(TriggerTab).find('#timing-tape')
    // 80 degrees from -10 to 70 at 1.501 mm each, and ten at both ends
    expect(parseFloat(tape.attributes('width')!)).toBeCloseTo((80 * Math.PI * 172) / 360 + 20, 6)
    expect(tape.text()).toContain('100 mm')
  })
})

describe('dwell', () => {
  it('has a row for each voltage and marks the one that falls short of the redline', async () => {
    await openBuild({ facts: { ignition: { coilInductanceMh: 9 } } })
    const rows = mount(CoilTab).findAll('tbody tr')
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
    expect(w.findAll('tbody tr')).toHaveLength(4)
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
      await fill(w, 'tach-true', rpm)
      await fill(w, 'tach-shown', shown)
      await button(w, 'Record').trigger('click')
    }
    expect(w.find('[data-testid="tach-fit"]').text()).toContain('set to 8 cylinders on an engine of 6')
    expect(builds.station('spark')!.findings.map((f) => f.id)).toEqual(expect.arrayContaining(['tach.ratio', 'tach.reads-wrong']))
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
