import { flushPromises, mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { contextOf, designOf, jointsOf, startingCircuit, type FuelLayout } from '@vectum/core'
import { madeReading, soundBuild, soundFuel } from '../../../../core/src/judge/made-up.fixture.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import CircuitDrawing from './CircuitDrawing.vue'
import { circuitSheet, jointPlaces, slotAt } from './circuit-layout.ts'
import ElementEditor from './ElementEditor.vue'
import JointProof from './JointProof.vue'
import ProofSteps from './ProofSteps.vue'
import WhatIf from './WhatIf.vue'

const solutionOf = () => designOf(contextOf(soundBuild()))!.solutions.find((s) => s.state === 'full')!

describe('circuit sheet', () => {
  it.each<FuelLayout>(['return', 'returnless', 'lift-sump', 'surge-tank'])(
    '%s: everything stands once, inside the sheet, in the order of the flow',
    (layout) => {
      const fuel = { ...startingCircuit(layout) }
      const sheet = circuitSheet(fuel)
      const items = sheet.pipes.flatMap((p) => p.items)
      expect(items).toHaveLength(
        (['suction', 'delivery', 'feed', 'return', 'lift', 'overflow'] as const).reduce((n, id) => n + (fuel[id]?.length ?? 0), 0),
      )
      expect(new Set([...items, ...sheet.equipment].map((i) => i.key)).size).toBe(items.length + sheet.equipment.length)
      for (const i of [...items, ...sheet.equipment]) expect(i.x > 0 && i.x < sheet.width && i.y > 0 && i.y < sheet.height).toBe(true)
      for (const pipe of sheet.pipes) {
        const xs = pipe.items.map((i) => i.x)
        const back = pipe.section === 'return' || pipe.section === 'lift'
        expect(xs).toEqual([...xs].sort((a, b) => (back ? b - a : a - b)))
      }
    },
  )
  it('a thing dropped between two others takes the place between them, on the way out and on the way back', () => {
    const sheet = circuitSheet(soundFuel)
    for (const id of ['feed', 'return'] as const) {
      const pipe = sheet.pipes.find((p) => p.section === id)!
      expect(slotAt(pipe, (pipe.items[0].x + pipe.items[1].x) / 2)).toBe(1)
    }
  })
})

describe('circuit drawing', () => {
  const drawing = () => mount(CircuitDrawing, { props: { fuel: soundFuel, solution: solutionOf(), selected: null } })
  it('says each thing with the pressure behind it', async () => {
    await openBuild()
    const label = drawing().find('[data-testid="el-feed:filter"]').attributes('aria-label')!
    expect(label).toMatch(/^filter, feed, \d+ kPa behind it$/)
  })
  it('a tap selects, arrow keys move along the flow: right is later out and earlier back', async () => {
    await openBuild()
    const w = drawing()
    await w.find('[data-testid="el-feed:filter"]').trigger('click')
    expect(w.emitted('select')).toEqual([['feed:filter']])
    await w.find('[data-testid="el-feed:filter"]').trigger('keydown', { key: 'ArrowRight' })
    await w.find('[data-testid="el-return:return-line"]').trigger('keydown', { key: 'ArrowRight' })
    expect(w.emitted('move')).toEqual([
      ['feed', 1, 2],
      ['return', 1, 0],
    ])
  })
})

describe('element editor', () => {
  const editor = async (section: 'feed' | 'return', index: number) => {
    const builds = await openBuild()
    return {
      builds,
      w: mount(ElementEditor, {
        props: {
          section,
          index,
          branch: solutionOf().branches.find((b) => b.section === section && b.elementId === soundFuel[section]![index].id)!,
          fluid: null,
        },
      }),
    }
  }
  it('refuses a length out of bounds with bound and unit, and keeps what was', async () => {
    const { builds, w } = await editor('feed', 2)
    await w.find('#el-length').setValue('99')
    await w.find('#el-length').trigger('change')
    expect(w.text()).toContain('must be at most 15 m')
    expect(builds.context!.fuel.feed![2]).toMatchObject({ lengthM: 3.6 })
  })
  it('a usual size is taken with one tap; another element is added behind and taken out again', async () => {
    const { builds, w } = await editor('feed', 2)
    await w.findAll('.bores button, [aria-label="Usual sizes"] button')[0]?.trigger('click')
    const before = builds.context!.fuel.feed!.length
    await w
      .findAll('button')
      .find((b) => b.text() === 'Fitting')!
      .trigger('click')
    expect(builds.context!.fuel.feed![3]).toMatchObject({ kind: 'fitting', id: 'fitting-1' })
    await w
      .findAll('button')
      .find((b) => b.text() === 'Take out')!
      .trigger('click')
    expect(builds.context!.fuel.feed!.map((e) => e.id)).not.toContain('feed-line')
    expect(builds.context!.fuel.feed!.length).toBe(before)
  })
})

describe('what if', () => {
  it('shows the answer beside the design and changes nothing', async () => {
    const builds = await openBuild()
    const kept = JSON.stringify(builds.current!.choices)
    const w = mount(WhatIf, { props: { design: designOf(builds.context!)!, state: 'full' } })
    expect(w.find('table').text()).not.toContain('→')
    await w.find('[aria-label="Supply voltage"]').setValue('9')
    expect(w.find('table').text()).toContain('→')
    expect(JSON.stringify(builds.current!.choices)).toBe(kept)
  })
})

describe('proof', () => {
  const safety = madeReading('start.safety', { extinguisher: true, helper: true, stopWord: 'anchor' })
  const arrows = madeReading('fuel.arrows', { right: true })
  it('gives no way to prime before the gates are met, and says which is shut', async () => {
    await openBuild()
    const w = mount(ProofSteps, { global: { stubs: { RouterLink: { template: '<a><slot /></a>' } } } })
    expect(w.find('[data-testid="record-fuel.prime"]').exists()).toBe(false)
    expect(w.find('.gates').text()).toContain('helper with a stop word')
    expect(w.findAll('.joints button').every((b) => b.attributes('disabled') !== undefined)).toBe(true)
  })
  it('a joint marked wet stops the car, marked dry lets it go', async () => {
    const builds = await openBuild({}, [arrows, safety])
    const w = mount(ProofSteps, { global: { stubs: { RouterLink: true } } })
    const of = (words: string) => w.findAll('.joints button').find((b) => b.attributes('aria-label') === words)!
    await of('tank to strainer, suction: wet').trigger('click')
    expect(builds.station('start')!.state).toBe('blocked')
    await of('tank to strainer, suction: dry').trigger('click')
    expect(builds.station('fuel')!.findings.some((f) => f.id === 'fuel.leak')).toBe(true) // nothing had pressed the rail
    await w.find('[data-testid="record-fuel.prime"]').trigger('click')
    await of('tank to strainer, suction: dry').trigger('click')
    expect(builds.station('fuel')!.findings.some((f) => f.id === 'fuel.leak')).toBe(false)
  })
  it('a delivery into a can stands beside its curve and what full power wants, and is refused without its helper', async () => {
    await openBuild()
    expect(
      mount(ProofSteps, { global: { stubs: { RouterLink: true } } })
        .find('[data-testid="record-fuel.delivery"]')
        .exists(),
    ).toBe(false)
    const builds = await openBuild({}, [arrows, safety])
    const w = mount(ProofSteps, { global: { stubs: { RouterLink: true } } })
    await w.find('#fuel-delivery-litres').setValue('1.3')
    await w.find('#fuel-delivery-litres').trigger('change')
    await w.find('[data-testid="record-fuel.delivery"]').trigger('click')
    expect(builds.context!.readings.at(-1)).toMatchObject({
      kind: 'fuel.delivery',
      value: { litres: 1.3, seconds: 30, pressureKpa: 300, voltageV: 13.5, warm: false },
    })
    // 1.3 L in 30 s is 156 L/h; the middle pump gives 165 there, 96 kW with its margin want 47
    expect(w.find('[data-at="fuel.delivery"] .seen').text()).toMatch(/Cold: 156 L\/h at 300 kPa; its curve gives 165 L\/h.*wants 47 L\/h/)
  })
  it('bleed-down is told in the reader’s unit, kept in kPa, and its verdict stands above it', async () => {
    const builds = await openBuild({}, [arrows, safety])
    const w = mount(ProofSteps, { global: { stubs: { RouterLink: true } } })
    for (const [id, kpa] of [
      ['at0Kpa', '300'],
      ['at1Kpa', '296'],
      ['at5Kpa', '290'],
      ['at10Kpa', '285'],
    ]) {
      await w.find(`#fuel-bleed-down-${id}`).setValue(kpa)
      await w.find(`#fuel-bleed-down-${id}`).trigger('change')
    }
    await w.find('[data-testid="record-fuel.bleed-down"]').trigger('click')
    expect(builds.context!.readings.at(-1)).toMatchObject({
      kind: 'fuel.bleed-down',
      value: { at0Kpa: 300, at1Kpa: 296, at5Kpa: 290, at10Kpa: 285, pinch: 'not-tried' },
      instrument: 'fuel gauge',
    })
    expect(w.find('[data-at="fuel.bleed-down"] .seen').exists()).toBe(true)
  })
})

describe('joints on the drawing', () => {
  it('each joint has a place of its own between its two neighbours', () => {
    const sheet = circuitSheet(soundFuel)
    const places = jointPlaces(sheet).flatMap((p) => p.points)
    expect(places).toHaveLength(jointsOf(soundFuel).length)
    expect(new Set(places.map(String)).size).toBe(places.length)
    const feed = sheet.pipes.find((p) => p.section === 'feed')!
    const [first] = jointPlaces(sheet).find((p) => p.section === 'feed')!.points
    // half-way from the pump to the first thing behind it
    expect(first).toEqual([(feed.points[0][0] + feed.items[0].x) / 2, feed.points[0][1]])
  })
  it('tapped, it is the one in hand; dry, the next one not looked at comes up; wet stays in hand and is said', async () => {
    const builds = await openBuild({}, [madeReading('fuel.prime', { cycles: 2, pumpStops: true })])
    const w = mount(JointProof, { props: { disabled: false } })
    const joints = jointsOf(soundFuel)
    const inHand = () => w.find('[data-testid="joint-chosen"] strong').text()
    expect(inHand()).toBe(joints[0].label)
    await w.find(`[data-testid="joint-${joints[2].id}"]`).trigger('click')
    expect(inHand()).toBe(joints[2].label)
    await w.find('[data-testid="joint-dry"]').trigger('click')
    await flushPromises()
    expect(builds.context!.readings.at(-1)).toMatchObject({ kind: 'fuel.joint', value: { jointId: joints[2].id, dry: true } })
    expect(w.find(`[data-testid="joint-${joints[2].id}"]`).classes()).toContain('dry')
    expect(inHand()).toBe(joints[0].label)
    await w.find('[data-testid="joint-wet"]').trigger('click')
    await flushPromises()
    expect(w.find('[role="alert"]').text()).toContain(`Wet: ${joints[0].label}`)
    expect(inHand()).toBe(joints[0].label)
  })
  it('shut while the rail may not be pressed', async () => {
    await openBuild()
    const w = mount(JointProof, { props: { disabled: true } })
    expect(w.find('[data-testid="joint-dry"]').attributes('disabled')).toBeDefined()
    expect(w.find('[data-testid="all-dry"]').exists()).toBe(false)
  })
})
