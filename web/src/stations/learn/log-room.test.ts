import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, type EffectScope } from 'vue'
import type { LogRow } from '@vectum/core'
import { openBuild } from '../../testing/open-build.fixture.ts'
import { clock } from './clock.ts'
import LogScreen from './LogScreen.vue'
import SeenPart from './SeenPart.vue'
import TimeStrip from './TimeStrip.vue'
import { useLogRoom } from './use-log-room.ts'

it.each([
  [0, '0:00'],
  [7.04, '0:07'],
  [59.96, '1:00'],
  [880.25, '14:40.3'],
  [3599, '59:59'],
  [3600, '1:00:00'],
  [35_999.5, '9:59:59.5'],
])('%f s on a clock is %s', (s, words) => expect(clock(s)).toBe(words))

describe('a window on a log', () => {
  const lane = (channel: 'rpm' | 'lambda', beside?: 'lambdaTarget') => ({ channel, beside, low: 0, high: 1 })
  const box = { left: 0, width: 628, top: 0, height: 200 } as DOMRect
  const asked: unknown[][] = []
  const show = (lanes = [lane('rpm'), lane('lambda', 'lambdaTarget')]) => {
    setActivePinia(createPinia())
    asked.length = 0
    const columns = async (...args: unknown[]) => {
      asked.push(args)
      return { traces: {}, fates: [] }
    }
    const w = mount(LogScreen, {
      props: { logId: 'l', durationS: 1000, lanes, columns, marks: [], cursorS: 300, values: { rpm: 900 } },
      attachTo: document.body,
    })
    const canvas = w.get('canvas')
    canvas.element.getBoundingClientRect = () => box
    Object.defineProperty(canvas.element, 'clientWidth', { value: 628 })
    canvas.element.setPointerCapture = () => undefined
    return { w, canvas }
  }
  const last = (w: ReturnType<typeof show>['w']) => w.emitted<[{ from: number; to: number }]>('seen')!.at(-1)![0]

  it('shows all of it first, asks for each channel and what is drawn beside it, and says what keys do', async () => {
    const { w, canvas } = show()
    expect(last(w)).toEqual({ from: 0, to: 1000 })
    await w.setProps({ lanes: [lane('lambda', 'lambdaTarget')] })
    await flushPromises()
    expect(asked.at(-1)![0]).toEqual(['lambda', 'lambdaTarget'])
    expect(canvas.attributes('aria-label')).toContain('lambda over time; a tap reads a moment')
  })
  // 128 px stand left of the lanes: 500 px are 1000 s
  it('a tap reads its moment; a drag of 50 px, once closer, moves the window and reads nothing', async () => {
    const { w, canvas } = show()
    await canvas.trigger('pointerdown', { clientX: 228, pointerId: 1 })
    await canvas.trigger('pointerup', { clientX: 229, pointerId: 1 })
    expect(w.emitted<[number]>('cursor')![0][0]).toBeCloseTo(202, 6)
    for (let k = 0; k < 4; k++) await canvas.trigger('keydown', { key: '+' })
    const before = last(w)
    expect(before.to - before.from).toBeCloseTo(1000 * 0.7 ** 4, 6)
    await canvas.trigger('pointerdown', { clientX: 428, pointerId: 1 })
    await canvas.trigger('pointermove', { clientX: 378, pointerId: 1 })
    await canvas.trigger('pointerup', { clientX: 378, pointerId: 1 })
    expect(last(w).from - before.from).toBeCloseTo(0.1 * 1000 * 0.7 ** 4, 6)
    expect(w.emitted('cursor')).toHaveLength(1)
  })
  it('the cursor is caught and drawn along; comma and point go row by row', async () => {
    const { w, canvas } = show()
    await canvas.trigger('pointerdown', { clientX: 280, pointerId: 1 })
    await canvas.trigger('pointermove', { clientX: 328, pointerId: 1 })
    expect(w.emitted<[number]>('cursor')!.at(-1)![0]).toBeCloseTo(400, 6)
    expect(last(w)).toEqual({ from: 0, to: 1000 })
    await canvas.trigger('keydown', { key: ',' })
    await canvas.trigger('keydown', { key: '.' })
    expect(w.emitted('step')).toEqual([[-1], [1]])
  })
  it('the wheel comes closer around the hand, never out of the log; a moment can be brought to the middle', async () => {
    const { w, canvas } = show()
    await canvas.trigger('wheel', { deltaY: -1, clientX: 128 })
    expect(last(w).from).toBeCloseTo(0, 6)
    expect(last(w).to).toBeCloseTo(1000 / 1.15, 6)
    w.vm.centre(600, 30)
    await flushPromises()
    expect(last(w)).toEqual({ from: 585, to: 615 })
    w.vm.centre(5, 30)
    await flushPromises()
    expect(last(w)).toEqual({ from: 0, to: 30 })
  })
})

it('the part in sight stands on the strip in its place, and a press on the strip asks for its moment', async () => {
  const part = mount(SeenPart, { props: { seen: { from: 250, to: 300 }, durationS: 1000 } })
  expect(part.get('div').attributes('style')).toMatch(/left: 25%; width: 5%/)
  const columns = Float32Array.from([1, 2, 1, 2])
  const strip = (seen?: { from: number; to: number }) => mount(TimeStrip, { props: { columns, durationS: 1000, label: 'Whole log', seen } })
  const w = strip({ from: 0, to: 10 })
  const svg = w.get('svg')
  svg.element.getBoundingClientRect = () => ({ left: 100, width: 400 }) as DOMRect
  svg.element.setPointerCapture = () => undefined
  await svg.trigger('pointerdown', { clientX: 200, pointerId: 1 })
  await svg.trigger('pointermove', { clientX: 900, pointerId: 1 })
  await svg.trigger('pointerup')
  await svg.trigger('pointermove', { clientX: 300, pointerId: 1 })
  expect(w.emitted('go')).toEqual([[250], [1000]])
  const still = strip()
  await still.get('svg').trigger('pointerdown', { clientX: 200 })
  expect(still.emitted('go')).toBeUndefined()
})

describe('opening a log', () => {
  let scope: EffectScope
  beforeEach(async () => {
    await openBuild()
    scope = effectScope()
    const stored = { rows: 10, durationS: 9, source: 'import', createdAt: '2026-03-01T10:00:00.000Z', buildId: 'sound', rejected: [] }
    const more = { fileHash: null, tuneId: null, mapping: { channels: {}, stoichAfr: 14.7, barometerKpa: null } }
    vi.stubGlobal('fetch', async (url: string) => {
      const id = String(url).split('/').at(-1)!
      const body = { id, name: 'a.csv', channels: id.endsWith('2') ? ['rpm', 'marker'] : ['rpm'], ...stored, ...more }
      return new Response(JSON.stringify(body), { status: 200, headers: { 'content-type': 'application/json' } })
    })
  })
  afterEach(() => {
    scope.stop()
    vi.unstubAllGlobals()
  })
  const ids = [1, 2].map((n) => `00000000-0000-4000-8000-00000000000${n}`)
  const room = (tasks: object) => {
    const all = {
      open: async (id: string) => ({ durationS: id.endsWith('2') ? 9 : 5, rows: 10, ends: [{ channel: 'rpm', low: 0, high: 900 }] }),
      strip: async () => null,
      marks: async () => [{ atS: 4 }],
      row: async (...args: unknown[]) => ({ atS: args[2], values: {}, fate: 'used', errorPct: args[3] }) as LogRow,
      ...tasks,
    }
    return scope.run(() => useLogRoom({ worker: { tasks: () => all } as never }))!
  }
  it('gives its length, its channels and its marks; without a log there is none', async () => {
    const r = room({})
    await r.open(ids[1])
    expect(r.room.value).toMatchObject({ at: 'open', log: { id: ids[1], durationS: 9, marks: [4], whole: null } })
    if (r.room.value.at === 'open') expect(await r.room.value.log.row(3, -1)).toMatchObject({ atS: 3, errorPct: -1 })
    await r.open(null)
    expect(r.room.value).toEqual({ at: 'none' })
  })
  it('the one asked for last stands, whichever comes first; one without a marker column has no marks', async () => {
    let late: (v: unknown) => void = () => undefined
    const r = room({
      open: (id: string) => (id === ids[1] ? new Promise((done) => (late = done)) : Promise.resolve({ durationS: 5, rows: 10, ends: [] })),
    })
    const first = r.open(ids[1])
    await flushPromises()
    await r.open(ids[0])
    late({ durationS: 9, rows: 10, ends: [] })
    await first
    expect(r.room.value).toMatchObject({ at: 'open', log: { id: ids[0], durationS: 5, marks: [] } })
  })
  it('what cannot be read is said', async () => {
    const r = room({ strip: async () => ({ refused: { code: 'COLUMN_MISSING', message: 'no lambda in it' } }) })
    await r.open(ids[0])
    expect(r.room.value).toEqual({ at: 'refused', because: 'no lambda in it' })
  })
})
