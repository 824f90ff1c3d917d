import { flushPromises, mount } from '@vue/test-utils'
import { NMessageProvider } from 'naive-ui'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { RouterLinkStub } from '@vue/test-utils'
import { computeBaseTune, readingsOf, type TuneSummary } from '@vectum/core'
import { madeReading, soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import { useBuild } from '../../stores/build.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import SparkTrialRoom from './SparkTrialRoom.vue'
import TorqueCurve from './TorqueCurve.vue'
import { judgeTrial } from '@vectum/core'

const { facts, choices } = soundBuild()
const document = computeBaseTune(facts, choices)
const tune: TuneSummary = {
  ...{
    id: '11111111-1111-4111-8111-111111111111',
    number: 3,
    name: 'base',
    status: 'in-car',
    origin: 'computed',
    parentId: null,
    logId: null,
    createdBy: 'Ada',
  },
  ...{ createdAt: '2026-01-01T00:00:00.000Z', inCarSince: '2026-01-02T00:00:00.000Z', problems: [] },
}
const [i, j] = [4, 4]
const place = { rpm: document.axes.rpm[i], mapKpa: document.axes.mapKpa[j] }
const mapDeg = document.tables.spark[j * document.axes.rpm.length + i]
const solved = madeReading('learn.result', {
  ...{ logId: tune.id, tuneId: tune.id, usedSeconds: 900, provenTimePct: 95, errorRmsPct: 1, unsafeCells: 0 },
} as never)
const point = (advanceDegBtdc: number, more: object = {}) =>
  madeReading('learn.trial-point', {
    ...{
      tuneId: tune.id,
      ...place,
      mapDeg,
      advanceDegBtdc,
      torqueNm: 200 * (1 - 2.5e-4 * (advanceDegBtdc - mapDeg - 8) ** 2),
      knock: false,
      on: 'dyno',
    },
    ...more,
  } as never)
/** the light on the mark at four speeds: nothing is off */
const timed = [
  madeReading('spark.zero-mark', { method: 'piston-stop', offsetDeg: 0, dealt: 'stored' }),
  ...[900, 900, 1500, 1500, 2400, 2400, 3300, 3300].map((rpm) =>
    madeReading('spark.timing-light', { rpm, commandedDeg: 20, observedDeg: 20, referenceDeg: 54, delayUs: 0 }),
  ),
]
const json = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })
let sent: { url: string; body: Record<string, unknown> }[] = []
async function room(readings: Parameters<typeof openBuild>[1] = []) {
  await openBuild({ tunes: [tune], choices: { spark: { ...choices.spark, referenceDeg: 54, delayUs: 0 } } }, readings)
  sent = []
  vi.stubGlobal(
    'fetch',
    vi.fn(async (url: string, options?: RequestInit) => {
      if (options?.method === 'POST') sent.push({ url, body: JSON.parse(String(options.body)) as Record<string, unknown> })
      return url.includes('/tunes') ? json(200, { ...tune, document }) : json(200, {})
    }),
  )
  const host = defineComponent({ render: () => h(NMessageProvider, null, { default: () => h(SparkTrialRoom) }) })
  const w = mount(host, { global: { stubs: { RouterLink: RouterLinkStub } } })
  await flushPromises()
  return w
}
const pick = async (w: Awaited<ReturnType<typeof room>>, at = place) => {
  await w.find(`[aria-label^="${at.rpm} rpm, ${at.mapKpa} kPa"]`).trigger('click')
  await flushPromises()
}
afterEach(() => vi.unstubAllGlobals())

describe('the spark trial', () => {
  it('is shut while the mixture is not known, with the reason; the place can be chosen all the same', async () => {
    const w = await room()
    expect(w.text()).toContain('bring a log of this tune first')
    await pick(w)
    expect(w.find('[data-testid="trial-next"]').text()).toBe(`Hold ${Math.round(mapDeg) - 6}°`)
    expect(w.find('[data-testid="trial-bench"]').attributes('disabled')).toBeDefined()
  })
  it('a hold typed by hand is recorded with its place and what the map held', async () => {
    const w = await room([solved, ...timed])
    expect(w.text()).not.toContain('read the timing with a light first')
    await pick(w)
    await w.find('input[id*="torqueNm"]').setValue('187.4')
    await w
      .findAll('[role="radio"]')
      .find((b) => b.text() === 'a dynamometer')!
      .trigger('click')
    await w
      .findAll('button')
      .find((b) => b.text() === 'Record')!
      .trigger('click')
    expect(readingsOf(useBuild().context!.readings, 'learn.trial-point').at(-1)!.value).toEqual({
      ...{ tuneId: tune.id, ...place, mapDeg: Math.round(mapDeg * 10) / 10 },
      ...{ advanceDegBtdc: Math.round(mapDeg) - 6, torqueNm: 187.4, knock: false, on: 'dyno' },
    })
    // and the next one is asked for
    expect(w.find('[data-testid="trial-next"]').text()).toBe(`Hold ${Math.round(mapDeg) - 3}°`)
  })
  it('draws the holds, says the next and why; at the end it offers the map with the result', async () => {
    const begun = [-6, -3, 0].map((by) => point(Math.round(mapDeg) + by))
    let w = await room([solved, ...begun])
    await pick(w)
    expect(w.findAll('.hold')).toHaveLength(3)
    expect(w.find('[data-testid="trial-next"]').text()).toBe(`Hold ${Math.round(mapDeg) + 3}°`)
    expect(w.text()).toContain('three degrees earlier than the last')
    w.unmount()
    const all = [-6, -3, 0, 3, 6, 9, 12, -12, -10].map((by) => point(Math.round(mapDeg) + by))
    w = await room([solved, ...all])
    await pick(w)
    // best 8° over the map: least within 1 % is 8 - 6.3 over it
    const result = Number(/(\d+)°/.exec(w.find('[data-testid="trial-end"]').text())![1])
    expect(Math.abs(result - (mapDeg + 1.7))).toBeLessThan(1.5)
    await w.find('[data-testid="trial-accept"]').trigger('click')
    await flushPromises()
    const stored = sent.find((s) => s.url.endsWith('/tunes'))!.body as { origin: string; parentId: string; document: typeof document }
    expect([stored.origin, stored.parentId]).toEqual(['edited', tune.id])
    const cell = j * document.axes.rpm.length + i
    expect(stored.document.tables.spark[cell]).toBeCloseTo(result, 1)
    expect(stored.document.tables.spark[cell + document.axes.rpm.length]).toBe(document.tables.spark[cell + document.axes.rpm.length])
  })
  it('knock stops it: four degrees back, in words and on the drawing', async () => {
    const at = Math.round(mapDeg)
    const w = await room([solved, point(at - 6), point(at - 3), point(at, { knock: true })])
    await pick(w)
    expect(w.find('[data-testid="trial-end"]').text()).toBe(`Stopped by knock: ${at - 4}°`)
    expect(w.find('.knock').exists()).toBe(true)
  })
  it('at high load only the brake is offered', async () => {
    const w = await room([solved])
    const high = { rpm: place.rpm, mapKpa: document.axes.mapKpa.at(-1)! }
    await pick(w, high)
    expect(w.text()).toContain('on a dynamometer only')
    expect(w.text()).not.toContain('a steady grade')
  })
  it('what is left out is listed with the reason', async () => {
    const w = await room([solved, point(18, { coolantC: 80 }), point(21, { coolantC: 91 })])
    await pick(w)
    expect(w.text()).toContain('21° left out: coolant 91 °C, at the first hold 80 °C')
  })
})

it('the curve’s own best is at 100 per cent, and holds lie on it', () => {
  const points = [18, 21, 24, 27, 30, 33].map((deg) => ({
    advanceDegBtdc: deg,
    torqueNm: 200 * (1 - 2.5e-4 * (deg - 28) ** 2),
    knock: false,
  }))
  const w = mount(TorqueCurve, { props: { trial: judgeTrial(points, 24), mapDeg: 24 } })
  const dots = w.findAll('.hold circle').map((c) => Number(c.attributes('cy')))
  expect(Math.min(...dots)).toBe(dots[3])
  expect(w.find('.map text').text()).toBe('map 24°')
})
