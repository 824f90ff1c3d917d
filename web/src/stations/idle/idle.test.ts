import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { NMessageProvider } from 'naive-ui'
import { defineComponent, h } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { demoBuild } from '../../../../core/src/bench/demo-build.fixture.ts'
import { madeReading } from '../../../../core/src/judge/made-up.fixture.ts'
import {
  computeBaseTune,
  framesToLog,
  type Frame,
  idleRuns,
  type IdleOptions,
  judgeIdle,
  loadDrop,
  speedSpectrum,
  startScores,
  tuneFigures,
} from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'
import { fakeLive } from '../../testing/live-socket.fixture.ts'
import { asked, openBuild } from '../../testing/open-build.fixture.ts'
import IdleView from './IdleView.vue'

const tries: object[] = []
// the thread's work, done here: a browser's worker is not there
vi.mock('./use-idle-worker.ts', () => ({
  useIdleWorker: () => ({
    tasks: () => ({
      judge: async (frames: Frame[], options: IdleOptions) => {
        const log = framesToLog(frames)
        return { verdict: judgeIdle(log, options), spectrum: speedSpectrum(log, idleRuns(log, options.targetRpm)) }
      },
      starts: async (frames: Frame[]) => startScores(framesToLog(frames)),
      drop: async (frames: Frame[], atS: number) => loadDrop(framesToLog(frames), atS - frames[0].timeS),
      tried: async (_build: object, _tune: object, parameters: object) => {
        tries.push(parameters)
        return null
      },
    }),
    cancel: () => undefined,
  }),
}))

const router = createRouter({
  history: createMemoryHistory(),
  routes: ['survey', 'wiring', 'fitup', 'tune', 'start', 'idle', 'learn', 'unit'].map((name) => ({
    name,
    path: `/builds/:id/${name}`,
    component: { template: '<div/>' },
  })),
})
const TUNE = '00000000-0000-4000-8000-000000000001'
const demo = demoBuild('1-lowland.json')
const document_ = computeBaseTune(demo.facts, demo.choices)
const summary = {
  ...{ id: TUNE, number: 3, name: 'Base tune', status: 'in-car', origin: 'computed', parentId: null, logId: null },
  ...{ createdBy: 'Ada', createdAt: '', inCarSince: null, problems: [], figures: tuneFigures(document_, demo) },
}
type Wrapper = ReturnType<typeof mount>
let w: Wrapper | null = null
const stored: { body: Record<string, unknown> }[] = []

async function shown(
  tab: string,
  readings: Parameters<typeof openBuild>[1] = [],
  view: 'car' | 'rehearsal' = 'car',
  answers: Parameters<typeof fakeLive>[0] = {},
) {
  await openBuild({ tunes: [summary] }, readings)
  const build = globalThis.fetch
  vi.stubGlobal('fetch', async (url: string, options: RequestInit = {}) => {
    if (!/\/tunes/.test(String(url))) return build(url, options)
    const body = options.body ? (JSON.parse(String(options.body)) as Record<string, unknown>) : null
    if (body) stored.push({ body })
    return new Response(JSON.stringify({ ...summary, document: body?.document ?? document_, ...(body ? { number: 4 } : {}) }), {
      status: options.method === 'POST' ? 201 : 200,
      headers: { 'content-type': 'application/json' },
    })
  })
  const live = fakeLive(answers)
  useBuild().view = view
  await router.push(`/builds/sound/idle?tab=${tab}`)
  // files of this room share modules: what speaks in messages gets somebody to speak to
  const provided = defineComponent(() => () => h(NMessageProvider, () => h(IdleView)))
  w = mount(provided, { global: { plugins: [router], stubs: { teleport: true } }, attachTo: document.body })
  await flushPromises()
  return live
}
/** A warm idle on the stream, a reading each thirtieth of a second. */
async function idles(live: ReturnType<typeof fakeLive>, seconds: number, more: (t: number) => Partial<Frame> = () => ({}), fromS = 0) {
  const target = summary.figures.idleHotRpm!
  for (let t = fromS; t < fromS + seconds; t += 0.033)
    live.frame({
      ...{ timeS: t, state: 'running', rpm: target + 4 * Math.sin(7 * t), mapKpa: 40, throttlePct: 0, coolantC: 86, intakeAirC: 30 },
      ...{ idleValvePct: 18, lambda: 1, lambdaTarget: 1, correctionPct: 0, ...more(t) },
    })
  await flushPromises()
}
const made = (kind: Parameters<typeof madeReading>[0], value: object) => madeReading(kind, value)
const kinds = () => useBuild().context!.readings.map((r) => r.kind)
const field = async (id: string, text: string) => {
  const input = w!.find<HTMLInputElement>(`#${id}`)
  await input.setValue(text)
  await input.trigger('keydown', { key: 'Enter' })
  await input.trigger('blur')
}
beforeEach(() => {
  stored.length = tries.length = 0
  vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval'] })
})
afterEach(async () => {
  w?.unmount()
  w = null
  vi.useRealTimers()
  await flushPromises()
  vi.unstubAllGlobals()
})

describe('where the air comes from', () => {
  it('without a logger: looks typed from the display, the turn they tell, and its record', async () => {
    await shown('air')
    expect(w!.text()).toContain('type speed, valve and pressure below')
    const look = async (valve: string) => {
      await field('idle-point-rpm', '750')
      await field('idle-point-valvePct', valve)
      await field('idle-point-mapKpa', '36')
      await w!.find('[data-testid="record-idle.point"]').trigger('click')
      await flushPromises()
    }
    await look('48')
    expect(w!.find('[data-testid="screw-advice"]').text()).toContain('0.25 turns open')
    await w!.find('[data-testid="turn"]').trigger('click')
    await flushPromises()
    expect(useBuild().context!.readings.at(-1)).toMatchObject({ kind: 'idle.screw', value: { turns: 0.25 } })
    // 48 % at none, 38 % after a quarter: 40 % a turn; 18 % is wanted, half a turn more
    await look('38')
    expect(w!.find('[data-testid="screw-advice"]').text()).toContain('0.50 turns open')
    expect(w!.find('[data-testid="moves"]').text()).toContain('better')
    expect(w!.find('[data-testid="air-bar"] svg').attributes('aria-label')).toMatch(/^Idle air: not parted yet/)
    // the wrong way is taken back first
    useBuild().record('idle.screw', { turns: -0.4 })
    await flushPromises()
    await look('54')
    expect(w!.find('[data-testid="screw-advice"]').text()).toContain('Take it back: 0.40 turns open')
  })
  it('a look out of bounds is refused by field, bound and unit', async () => {
    await shown('air')
    await field('idle-point-mapKpa', '140')
    expect(w!.find('[role="alert"]').text()).toContain('Manifold pressure must be at most 115 kPa')
  })
  it('on the bench the hand turns it, and the zero is learned and noted', async () => {
    const live = await shown('air', [], 'rehearsal')
    await idles(live, 6, () => ({ idleValvePct: 2, throttlePct: 0.1 }))
    await w!.find('[data-testid="turn"]').trigger('click')
    await flushPromises()
    expect(live.sent.at(-1)).toMatchObject({ command: 'screw', turns: -0.25 })
    await w!.find('[data-testid="look"]').trigger('click')
    await flushPromises()
    expect(kinds()).toEqual(expect.arrayContaining(['idle.screw', 'idle.point']))
    await w!.find('[data-testid="block"]').trigger('click')
    await flushPromises()
    expect(live.sent.at(-1)).toMatchObject({ command: 'valve', blocked: true })
    expect(w!.find('[data-testid="plate"]').text()).toMatch(/of 638 rpm on the plate alone/)
  })
  it('cold it waits, and a swing comes first', async () => {
    const live = await shown('air', [], 'rehearsal')
    await idles(live, 4, () => ({ coolantC: 55 }))
    expect(w!.text()).toContain('Let it warm up: 55 °C now, 70 °C before anything is turned')
    await idles(live, 40, (t) => ({ rpm: 700 + 80 * Math.sin(4.2 * t), idleValvePct: 18 + 9 * Math.sin(4.2 * t + 2) }), 10)
    await vi.advanceTimersByTimeAsync(1100)
    await flushPromises()
    expect(w!.text()).toContain('The speed swings: mend that first')
    expect(w!.find('[data-testid="screw-advice"]').exists()).toBe(false)
  })
})

describe('the trace', () => {
  it('is judged every second, and put on record as what it idled in', async () => {
    const live = await shown('trace', [], 'rehearsal')
    await idles(live, 44)
    await vi.advanceTimersByTimeAsync(1100)
    await flushPromises()
    expect(w!.find('[data-testid="idle-verdict"]').text()).toMatch(/good/i)
    await w!.find('[data-testid="record-idle"]').trigger('click')
    await flushPromises()
    expect(asked.at(-1)).toMatchObject({ kind: 'idle.verdict', from: { sessionId: 's1' } })
    await w!
      .findAll('[role="radio"]')
      .find((b) => /fan, lights/.test(b.text()))!
      .trigger('click')
    await w!.find('[data-testid="record-idle"]').trigger('click')
    await flushPromises()
    expect(kinds()).toContain('idle.regime')
    expect(asked.at(-1)!.from.entryIds).toHaveLength(1)
  })
  it('what was judged is not shown once the stream tells too little, and a clock too quick is said', async () => {
    const live = await shown('trace', [], 'rehearsal')
    await idles(live, 44)
    await vi.advanceTimersByTimeAsync(1100)
    await flushPromises()
    expect(w!.find('[data-testid="idle-verdict"]').exists()).toBe(true)
    useLive().rate = 20
    for (let t = 200; t < 208; t += 0.6) live.frame({ timeS: t, rpm: 750, state: 'running' })
    await flushPromises()
    await vi.advanceTimersByTimeAsync(1100)
    await flushPromises()
    expect(w!.find('[data-testid="idle-verdict"]').exists()).toBe(false)
    expect(w!.text()).toContain('too far apart to be judged: ×5 or slower')
  })
  it('says what a leak looks like, with the tests that would tell', async () => {
    const live = await shown('trace', [], 'rehearsal')
    await idles(live, 44, () => ({ rpm: 1020, idleValvePct: 0 }))
    await vi.advanceTimersByTimeAsync(1100)
    await flushPromises()
    const card = w!.find('[data-testid="idle-verdict"]').text()
    expect(card).toMatch(/high valve shut/i)
    expect(card).toContain('Clamp hoses one at a time')
  })
  it('without a logger three looks are judged', async () => {
    const point = (rpm: number) => made('idle.point', { rpm, valvePct: 18, mapKpa: 36 })
    await shown('trace', [point(700), point(706), point(695)])
    await w!.find('[data-testid="judge-looks"]').trigger('click')
    await flushPromises()
    expect(asked.at(-1)!.from.entryIds).toHaveLength(3)
    expect(useBuild().context!.readings.at(-1)).toMatchObject({
      kind: 'idle.verdict',
      value: { verdict: 'good', meanRpm: 700.3333333333334 },
    })
  })
  it('two looks are not enough', async () => {
    const point = () => made('idle.point', { rpm: 700, valvePct: 18, mapKpa: 36 })
    await shown('trace', [point(), made('idle.screw', { turns: 0.2 }), point(), point()])
    expect(w!.find('[data-testid="judge-looks"]').attributes('disabled')).toBeDefined()
  })
})

describe('the controller', () => {
  const hunting = () =>
    made('idle.verdict', {
      ...{ verdict: 'hunting-valve', meanRpm: 700, rpmStdDev: 60, seconds: 60, tuneId: TUNE },
      loop: { periodS: 1.5, rpmPerSPct: 20, delayS: 0.25 },
    })
  it('works gain and integral out from the swing, tries them on the bench, and makes them a version', async () => {
    await shown('controller', [hunting()])
    expect(w!.find('[data-testid="plant"]').text()).toContain('every 1.5 s')
    await w!.find('[data-testid="take-moves"]').trigger('click')
    // 15° / 0.25 s = 1.047 rad/s; / 20 cos 20° = 4.9 % for 100 rpm
    expect(w!.find<HTMLInputElement>('#idle-idleGainPct').element.value).toBe('4.9')
    await w!.find('[data-testid="try-idle"]').trigger('click')
    await flushPromises()
    expect(tries).toEqual([{}, { idleGainPct: 4.9, idleIntegralPctS: 1.9 }])
    expect(w!.text()).toContain('the bench car does not go on running')
    await w!.find('[data-testid="store-moves"]').trigger('click')
    await flushPromises()
    expect(stored.at(-1)!.body).toMatchObject({ origin: 'edited', document: { parameters: { idleGainPct: 4.9, idleIntegralPctS: 1.9 } } })
    expect(w!.text()).toContain('Version 4 holds it')
  })
  it('quick is with damping, and idle spark is worked out once the air was parted', async () => {
    const point = (value: object) => made('idle.point', { rpm: 750, valvePct: 30, mapKpa: 36, ...value })
    await shown('controller', [hunting()])
    expect(w!.text()).toContain('Idle spark is worked out too once the air was parted')
    w!.unmount()
    await shown('controller', [point({}), point({ rpm: 520, mapKpa: 39, valve: 'blocked' }), hunting()])
    await w!
      .findAll('[role="radio"]')
      .find((b) => b.text() === 'quick, with damping')!
      .trigger('click')
    await w!.find('[data-testid="take-moves"]').trigger('click')
    expect(w!.find<HTMLInputElement>('#idle-idleGainPct').element.value).toBe('10')
    expect(w!.find<HTMLInputElement>('#idle-idleDampingPct').element.value).toBe('1.4')
    expect(Number(w!.find<HTMLInputElement>('#idle-idleSparkDegPer100').element.value)).not.toBe(3)
  })
  it('says that nothing is known of an engine that does not swing, and refuses a gain out of bounds', async () => {
    await shown('controller')
    expect(w!.text()).toContain('It does not swing')
    await field('idle-idleGainPct', '40')
    expect(w!.find('[role="alert"]').text()).toMatch(/at most 30/)
    expect(w!.find('[data-testid="store-moves"]').attributes('disabled')).toBeDefined()
  })
})

describe('leaks, loads, starts, days', () => {
  it('a hose that changes the speed is a leak', async () => {
    await shown('leaks')
    await w!.find('#idle-hose-hose').setValue('Brake booster')
    await field('idle-hose-beforeRpm', '700')
    await field('idle-hose-afterRpm', '640')
    await w!.find('[data-testid="record-idle.hose"]').trigger('click')
    await flushPromises()
    expect(w!.text()).toContain('Brake booster clamped: 700 to 640 rpm, air comes in')
    expect(
      useBuild()
        .current!.stations.find((s) => s.id === 'idle')!
        .findings.map((f) => f.id),
    ).toContain('idle.hose-leaks')
  })
  it('hoses are named as Fit-up leads them, and what its map leaves open with its hole', async () => {
    await shown('leaks')
    expect(w!.find('[data-testid="led-hoses"]').exists()).toBe(false)
    useBuild().change('choices.fitup.vacuum', {
      ports: { rear: { name: 'rear', kind: 'manifold', boreMm: 10 }, side: { name: 'side', kind: 'manifold', boreMm: 4 } },
      joined: { booster: 'rear' },
    })
    await flushPromises()
    expect(w!.find('[data-testid="led-hoses"]').text()).toContain('Brake booster at “rear”')
    // pi/4 x 4^2
    expect(w!.find('[data-testid="open-ports"]').text()).toContain('“side”, a hole of 13 mm²')
  })
  it('a load is measured from the press on', async () => {
    const live = await shown('loads', [], 'rehearsal')
    await idles(live, 5)
    await w!.find('[data-testid="load-fan"]').trigger('click')
    await flushPromises()
    expect(live.sent.at(-1)).toMatchObject({ command: 'load' })
    await idles(live, 8, (t) => ({ rpm: t < 6 ? 690 : 748 }), 5.01)
    expect(w!.text()).not.toMatch(/(5[5-9]|6[0-3]) rpm/)
    await idles(live, 2, () => ({ rpm: 748 }), 13.01)
    await vi.waitFor(() => expect(w!.text()).toMatch(/(5[5-9]|6[0-3]) rpm/))
    await w!.find('[data-testid="record-drop"]').trigger('click')
    await flushPromises()
    expect(kinds()).toContain('idle.load')
  })
  it('a start of the stream is scored', async () => {
    const live = await shown('starts', [], 'rehearsal')
    await idles(live, 2, () => ({ rpm: 0, state: 'key-on' }))
    await idles(live, 3, () => ({ rpm: 180, state: 'cranking' }), 2)
    await idles(live, 14, () => ({ rpm: 1100 }), 5)
    await w!.find('[data-testid="score-stream"]').trigger('click')
    await flushPromises()
    expect(w!.find('[data-testid="starts"]').text()).toMatch(/3\.0 s.*10 % more cranking fuel/)
    // on another tune than the one that is in it says nothing of this one
    expect(w!.find('[data-testid="start-version"]').exists()).toBe(false)
    useLive().tuneNumber = summary.number
    await flushPromises()
    // of a start at 86 degC: 130 % at 80 degC become 143 where the plugs are dry, and 117 where they are wet
    const checked = w!.findAll('[data-testid="starts"] strong').map((b) => b.text())
    expect(checked).toEqual(['The plug is dry:', 'The plug is wet:'])
    expect(w!.findAll('[data-testid="start-version"]').map((b) => b.text())).toEqual([
      'A version with 143 % for 130 %',
      'A version with 117 % for 130 %',
    ])
    for (const [press, pct] of [
      [1, 117],
      [0, 143],
    ]) {
      await w!.findAll('[data-testid="start-version"]')[press].trigger('click')
      await flushPromises()
      const { origin, document } = stored.at(-1)!.body as { origin: string; document: typeof document_ }
      expect([origin, document.provenance.crankingPct]).toEqual(['edited', 'from a start at 86 °C'])
      expect(document.parameters.crankingPct.at(-1)).toEqual([80, pct])
    }
    expect(w!.find('[data-testid="start-stored"]').text()).toContain('Version 4 stored: one change, for one test')
  })
  it('three days of a unit that adapts its idle are counted', async () => {
    await shown('days')
    expect(w!.text()).toContain('Whether the unit adapts its idle by itself is not known')
  })
})
