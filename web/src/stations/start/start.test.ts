import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import { madeReading } from '../../../../core/src/judge/made-up.fixture.ts'
import { kPa, say } from '../../../../core/src/kernel/say.ts'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { useLive } from '../../stores/live.ts'
import { fakeLive, liveFrame } from '../../testing/live-socket.fixture.ts'
import { asked, openBuild } from '../../testing/open-build.fixture.ts'
import StartView from './StartView.vue'

vi.mock('naive-ui', async (original) => ({
  ...(await original<object>()),
  useMessage: () => ({ success: vi.fn(), info: vi.fn(), warning: vi.fn(), error: vi.fn() }),
}))

const router = createRouter({
  history: createMemoryHistory(),
  routes: ['survey', 'plan', 'fuel', 'spark', 'wiring', 'fitup', 'tune', 'start', 'learn', 'logbook', 'unit'].map((name) => ({
    name,
    path: `/builds/:id/${name}`,
    component: { template: '<div/>' },
  })),
})
type Wrapper = ReturnType<typeof mount>
const button = (w: Wrapper, text: string | RegExp) =>
  w.findAll('button').find((b) => (typeof text === 'string' ? b.text() === text : text.test(b.text())))!
const tune = {
  id: '00000000-0000-4000-8000-000000000001',
  number: 3,
  name: 'Base tune',
  status: 'in-car',
  origin: 'computed',
  parentId: null,
  logId: null,
  createdBy: 'Ada',
  createdAt: '',
  inCarSince: null,
  problems: [],
  figures: { revLimitRpm: 5230, stoichAfr: 14.7, cylinders: 6, injectors: 2, injectorCcMin: 520, fuelPressureKpa: 300 },
}

async function shown(readings: Parameters<typeof openBuild>[1] = [], answers: Parameters<typeof fakeLive>[0] = {}, choices: object = {}) {
  await openBuild({ tunes: [tune], choices }, readings)
  const live = fakeLive(answers)
  useBuild().view = 'rehearsal'
  const w = mount(StartView, { global: { plugins: [router], stubs: { teleport: true } }, attachTo: document.body })
  await flushPromises()
  return { w, live }
}
const kinds = () => useBuild().context!.readings.map((r) => r.kind)
const step = async (w: Wrapper, title: RegExp) => {
  await w
    .findAll('.steps button')
    .find((b) => title.test(b.text()))!
    .trigger('click')
  await flushPromises()
}

let w: Wrapper | null = null
beforeEach(() => void router.push('/builds/sound/start'))
afterEach(async () => {
  w?.unmount()
  w = null
  await flushPromises()
  vi.unstubAllGlobals()
})

describe('the device in use', () => {
  it('says what it is, and offers no hands where there are none', async () => {
    const all = await shown()
    w = all.w
    expect(w.text()).toContain('BENCH')
    await step(w, /Crank and run/)
    expect(w.find('[data-testid="crank"]').exists()).toBe(true)
    all.live.hello({ device: 'line', name: 'wing logger' })
    all.live.frame({ rpm: 800, state: 'running' })
    await flushPromises()
    expect(w.text()).toContain('LOGGER')
    expect(w.text()).toContain('it only tells, act at the car')
    expect(w.find('[data-testid="crank"]').exists()).toBe(false)
    all.live.hello({ device: 'replay', name: 'drive 1' })
    await flushPromises()
    expect(w.text()).toContain('nothing of it is written down')
    all.live.say({ type: 'ended', reason: 'The log has been played to its end.' })
    await flushPromises()
    expect(w.text()).toContain('played to its end')
    await w.find('[data-testid="use-bench"]').trigger('click')
    expect(all.live.sent.at(-1)).toMatchObject({ command: 'device', use: 'bench' })
  })
  it('a refused command shows its gates, and a stop its reason until it is acted on', async () => {
    const all = await shown([], {
      key: () => ({
        ok: false,
        detail: 'The key stays off until these are met.',
        gates: [{ label: 'A tune', why: 'none', station: 'tune' }],
      }),
    })
    w = all.w
    await step(w, /Key on/)
    await w.find('[data-testid="key"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="refusal"]').text()).toContain('The key stays off')
    expect(w.find('[data-testid="refusal"]').text()).toContain('A tune: none')
    all.live.say({ type: 'stopped', reason: 'No oil pressure after 10 s (2 kPa)' })
    await flushPromises()
    expect(w.find('.alarm').text()).toContain('No oil pressure')
    await w.find('[data-testid="off"]').trigger('click')
    await flushPromises()
    expect(all.live.commands()).toContain('stop')
    expect(w.find('.alarm').exists()).toBe(false)
  })
  it('what is switched on waits for what was recorded before it, which its gates ask for; a stop never does, and ends the wait', async () => {
    const all = await shown()
    w = all.w
    const around = fetch
    let landed!: () => void
    let slow = new Promise<void>((resolve) => (landed = resolve))
    vi.stubGlobal('fetch', async (url: string, options: RequestInit = {}) => {
      if (options.method === 'PUT') await slow
      return around(url, options)
    })
    useBuild().record('note', { text: 'chocked' })
    await step(w, /Key on/)
    await w.find('[data-testid="key"]').trigger('click')
    await flushPromises()
    expect(all.live.commands()).not.toContain('key')
    landed()
    await vi.waitFor(() => expect(all.live.commands()).toContain('key'))
    let again!: () => void
    slow = new Promise((resolve) => (again = resolve))
    useBuild().record('note', { text: 'helper agreed' })
    const before = all.live.commands().length
    await w.find('[data-testid="key"]').trigger('click')
    await w.find('[data-testid="off"]').trigger('click')
    await flushPromises()
    expect(all.live.commands().slice(before)).toEqual(['stop'])
    again()
    await vi.waitFor(() => expect(w!.find('[data-testid="refusal"]').text()).toContain('It was stopped meanwhile'))
    expect(all.live.commands().slice(before)).toEqual(['stop'])
  })
  it('knock is shown while it is fresh and the engine runs', async () => {
    const all = await shown()
    w = all.w
    all.live.frame({ timeS: 20, rpm: 2000, state: 'running' })
    all.live.say({ type: 'heard', what: 'knock', timeS: 20 })
    await flushPromises()
    expect(w.find('[data-testid="knock"]').exists()).toBe(true)
    all.live.frame({ timeS: 30, rpm: 2000, state: 'running' })
    await flushPromises()
    expect(w.find('[data-testid="knock"]').exists()).toBe(false)
  })
  it('a screen that comes back adds what it missed, another session begins anew', async () => {
    const all = await shown()
    w = all.w
    all.live.frame({ timeS: 2, state: 'key-on' })
    await flushPromises()
    all.live.hello({ recent: [1.9, 2, 2.1, 2.2].map((timeS) => liveFrame({ timeS })) })
    await flushPromises()
    expect(useLive().frames.map((f) => f.timeS)).toEqual([1, 2, 2.1, 2.2])
    all.live.hello({ session: 's2', recent: [liveFrame({ timeS: 0.5 })] })
    await flushPromises()
    expect(useLive().frames.map((f) => f.timeS)).toEqual([0.5])
  })
})

describe('the tune into the unit', () => {
  it('goes on step by step, and off and on is two commands', async () => {
    const taken = (s: string, more = {}) => madeReading('tune.taking', { tuneId: tune.id, step: s, ...more })
    const first = await shown([taken('sent'), taken('stored')])
    w = first.w
    await step(w, /Tune into/)
    expect(w.text()).toContain('Version 3, Base tune')
    await button(w, 'Key off, then on').trigger('click')
    await flushPromises()
    expect(first.live.commands()).toEqual(['stop', 'key'])
    w.unmount()
    const back = await shown([taken('sent'), taken('stored'), taken('power-cycled')], {
      tune: () => ({ data: { differences: 1, labels: ['Fan on'] } }),
    })
    w = back.w
    back.live.frame({ state: 'key-on' })
    await step(w, /Tune into/)
    await button(w, 'Read it back').trigger('click')
    await flushPromises()
    expect(back.live.sent.at(-1)).toMatchObject({ command: 'tune', action: 'read-back' })
  })
  it('says when it came back other than sent, and when it is held with its limit', async () => {
    const all = (more: object) =>
      ['sent', 'stored', 'power-cycled', 'read-back'].map((s) =>
        madeReading('tune.taking', { tuneId: tune.id, step: s, ...(s === 'read-back' ? more : {}) }, { source: 'app' }),
      )
    w = (await shown(all({ differences: 2 }))).w
    await step(w, /Tune into/)
    expect(w.find('[role="alert"]').text()).toContain('2 values came back other than sent')
    w.unmount()
    w = (await shown(all({ differences: 0, revLimitRpm: 5200 }))).w
    await step(w, /Tune into/)
    expect(w.text()).toContain('its rev limit is 5200 rpm')
    expect(w.find('[data-testid="take-tune"]').exists()).toBe(false)
  })
  it('with a logger it is ticked off by hand', async () => {
    const all = await shown()
    w = all.w
    all.live.hello({ device: 'line', name: 'wing logger' })
    await step(w, /Tune into/)
    await w.find('[data-testid="taken-by-hand"]').trigger('click')
    await flushPromises()
    expect(useBuild().context!.readings.at(-1)).toMatchObject({ kind: 'tune.taking', value: { tuneId: tune.id, step: 'sent' } })
  })
  it('with a logger, a count typed in proves nothing: it leads to where values are typed back', async () => {
    const steps = (['sent', 'stored', 'power-cycled'] as const).map((s) => madeReading('tune.taking', { tuneId: tune.id, step: s }))
    const all = await shown(steps)
    w = all.w
    all.live.hello({ device: 'line', name: 'wing logger' })
    await step(w, /Tune into/)
    expect(w.find('[data-testid="to-unit"]').exists()).toBe(true)
    expect(w.text()).toContain('A tick proves nothing')
    expect(w.find('[data-testid="record-tune.taking"]').exists()).toBe(false)
  })
  it('a unit set by questions: typed on its display, stored, off and on, read', async () => {
    const all = await shown([], {}, { unit: { setBy: 'questions', learns: 'nobody' } })
    w = all.w
    all.live.frame({ state: 'key-on' })
    await step(w, /Tune into/)
    expect(w.find('[data-testid="asked-unit"]').text()).toMatch(/0 of \d+ answers were read in it/)
    for (const id of ['answers-enter', 'answers-store', 'answers-read']) {
      await w.find(`[data-testid="${id}"]`).trigger('click')
      await flushPromises()
    }
    const sent = all.live.sent.filter((m) => m.command === 'answers') as unknown as {
      action: string
      values?: Record<string, { value: unknown }>
    }[]
    // the unit sleeps for ten seconds and a half of the bench's clock, however long that takes
    const before = all.live.commands().length
    all.live.frame({ state: 'key-on', timeS: 100 })
    await w.find('[data-testid="answers-off"]').trigger('click')
    await flushPromises()
    all.live.frame({ state: 'off', timeS: 110.4 })
    await flushPromises()
    expect(all.live.commands().slice(before)).toEqual(['stop'])
    all.live.frame({ state: 'off', timeS: 110.6 })
    await flushPromises()
    expect(all.live.commands().slice(before)).toEqual(['stop', 'key'])
    expect(sent.map((m) => m.action)).toEqual(['enter', 'store', 'read-back'])
    expect(sent[0].values!['rev-limit']).toEqual({ value: 5200, unit: 'rpm' })
  })
})

describe('key on', () => {
  it('shows each check with what was seen and what is wanted', async () => {
    const all = await shown()
    w = all.w
    all.live.frame({ state: 'key-on' })
    all.live.say({
      type: 'checks',
      checks: [
        {
          id: 'battery',
          label: 'Battery',
          state: 'fail',
          seen: '11.4 V',
          limit: '12.2 V or more',
          said: { seen: '11.4 V', limit: say`${kPa(12)} or more` },
        },
      ],
    })
    await step(w, /Key on/)
    const row = w.find('[data-testid="check-battery"]')
    expect(row.text()).toContain('BAD')
    expect(row.text()).toContain('11.4 V')
    expect(row.text()).toContain('12 kPa or more')
    useSettings().system = 'inch'
    await flushPromises()
    // 12 kPa is 1.7 psi
    expect(row.text()).toContain('1.7 psi or more')
  })
  it('injectors are opened one by one and recorded only when each was heard or not', async () => {
    const all = await shown([], { click: (l) => ({ data: { injector: l.injector, clicks: l.injector !== 2 } }) })
    w = all.w
    all.live.frame({ state: 'key-on' })
    all.live.say({ type: 'primed', primes: 5 })
    await step(w, /Key on/)
    expect(w.text()).toContain('primed 5 times: the intake is wet')
    await w.find('[data-testid="click-1"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="record-injectors"]').attributes('disabled')).toBeDefined()
    await w.find('[data-testid="click-2"]').trigger('click')
    await flushPromises()
    await w.find('[data-testid="record-injectors"]').trigger('click')
    await flushPromises()
    expect(useBuild().context!.readings.at(-1)!.value).toEqual({ clicked: [1], silent: [2], primes: 5 })
    expect(
      useBuild()
        .station('start')!
        .findings.map((f) => f.message),
    ).toContain('Injector 2 does not click')
  })
  it('a flag of the unit stands with its meaning until it is written down what cleared it', async () => {
    w = (await shown([madeReading('start.flag', { flag: 'map-range' })])).w
    await step(w, /Key on/)
    expect(w.text()).toContain('manifold pressure out of range')
    expect(w.text()).toContain('open wire, short')
    await w.find('[id^="start-flag-clearedBy"]').setValue('plug dried')
    await button(w, 'Cleared').trigger('click')
    await flushPromises()
    expect(w.text()).toContain('cleared by plug dried')
  })
})

describe('from leak to hands', () => {
  it('the bench’s towel fills in where it is wet, and wet stops everything at once', async () => {
    const all = await shown([], { instrument: () => ({ data: { says: 'wet at the feed joint', values: { where: 'feed' } } }) })
    w = all.w
    await step(w, /Leak check/)
    await w.find('[data-testid="bench-leak"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="leak-seen"]').text()).toBe('wet at the feed joint')
    await button(w, 'One is wet').trigger('click')
    await flushPromises()
    expect(all.live.commands()).toContain('stop')
    expect(useBuild().context!.readings.at(-1)).toMatchObject({ kind: 'fuel.leak-check', value: { dry: false, where: 'feed' } })
  })
  it('the hot round is its own reading', async () => {
    w = (await shown()).w
    await step(w, /hot/)
    await w.find('[data-testid="record-fuel.recheck"]').trigger('click')
    await flushPromises()
    expect(useBuild().context!.readings.at(-1)).toMatchObject({ kind: 'fuel.recheck', value: { when: 'hot', dry: true } })
  })
  it('two people and an extinguisher before it is agreed', async () => {
    w = (await shown()).w
    await step(w, /Ready and safe/)
    const agreed = () => button(w!, 'Agreed, record it')
    expect(agreed().attributes('disabled')).toBeDefined()
    await w.find('[data-testid="start-safety-extinguisher"]').trigger('click')
    await w.find('#start-safety-stopWord').setValue('anchor')
    await agreed().trigger('click')
    await flushPromises()
    expect(kinds()).toContain('start.safety')
    // and what belongs to start day
    await step(w, /Ready and safe/)
    for (const id of ['batteryCharged', 'connectorsDone']) await w.find(`[data-testid="start-prepared-${id}"]`).trigger('click')
    expect(w.find('[data-testid="record-start.prepared"]').attributes('disabled')).toBeDefined()
    await w.find('[data-testid="start-prepared-chocked"]').trigger('click')
    await w.find('[data-testid="record-start.prepared"]').trigger('click')
    await flushPromises()
    expect(kinds()).toContain('start.prepared')
  })
  it('instruments tell in words and count their minutes; a screw is turned by quarters', async () => {
    const all = await shown([], {
      instrument: () => ({ data: { says: '52 kPa below the air; the needle stands still', values: {} } }),
      screw: () => ({ data: { turns: 0.25 } }),
    })
    w = all.w
    await w.find('[data-testid="instrument-vacuum-gauge"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="instrument-says"]').text()).toContain('52 kPa below the air')
    expect(w.text()).toContain('4 min spent measuring')
    await button(w, '¼ open').trigger('click')
    await flushPromises()
    expect(w.text()).toContain('screw +0.25 turns')
  })
})

describe('what a start shows', () => {
  /** A crank of three seconds and what came of it, as the stream tells it. */
  const cranked = (all: Awaited<ReturnType<typeof shown>>, after: Parameters<typeof liveFrame>[0][]) => {
    const still = { state: 'key-on', rpm: 0, mapKpa: 99, throttlePct: 0, coolantC: 15, intakeAirC: 15 } as const
    for (let i = 0; i < 10; i++) all.live.frame({ ...still, timeS: i * 0.03 })
    for (let i = 0; i < 100; i++)
      all.live.frame({
        ...still,
        state: 'cranking',
        rpm: 190,
        mapKpa: 95,
        pulseMs: 9,
        fuelPressureKpa: 300,
        batteryV: 10.3,
        timeS: 1 + i * 0.03,
      })
    after.forEach((f, i) => all.live.frame({ ...still, fuelPressureKpa: 300, timeS: 4 + i * 0.1, ...f }))
  }
  it('the idle valve is listened to at key-on, and one that stands still is a finding', async () => {
    const all = await shown([], { listen: () => ({ data: { moves: false } }) })
    w = all.w
    all.live.frame({ state: 'key-on' })
    await step(w, /Key on/)
    await w.find('[data-testid="bench-valve"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="valve-heard"]').text()).toBe('nothing moves')
    await button(w, 'It does not move').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="valve-recorded"]').text()).toContain('does NOT move')
    expect(
      useBuild()
        .station('start')!
        .findings.map((f) => f.message),
    ).toContain('The idle valve does not move')
  })
  it('after an attempt the likeliest causes stand there with their minutes, and the cheapest thing to look at next', async () => {
    const all = await shown([], { plugs: () => ({ data: { plugs: 'wet' } }) })
    w = all.w
    await step(w, /Crank and run/)
    cranked(all, [{ state: 'key-on', rpm: 0 }])
    await flushPromises()
    const fire = w.find('[data-testid="first-fire"]')
    expect(fire.find('[data-testid="branch"]').text()).toBe('It turns, and does not fire')
    expect(fire.findAll('li')).toHaveLength(3)
    expect(fire.find('[data-testid="next-test"]').text()).toMatch(/^Next, \d+ min:/)
    await fire.find('[data-testid="bench-plugs"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="branch"]').text()).toContain('Wet plugs')
    await button(w, 'Record this attempt').trigger('click')
    await flushPromises()
    expect(useBuild().context!.readings.at(-1)).toMatchObject({ kind: 'start.crank-heard', value: { plugs: 'wet' } })
    expect(asked.at(-1)).toMatchObject({ kind: 'start.attempt' })
  })
  it('an engine that runs on one cylinder less is told so while it runs, and is a stop once it is written down', async () => {
    const all = await shown([], {
      instrument: () => ({
        data: { says: 'exhaust ports 1: 300, 2: 290, 3: 60, 4: 310 °C', values: { port1C: 300, port2C: 290, port3C: 60, port4C: 310 } },
      }),
    })
    w = all.w
    await step(w, /Crank and run/)
    cranked(
      all,
      Array.from({ length: 120 }, (_, i) => ({ state: 'running' as const, rpm: 750 + (i % 2 ? 90 : -90), mapKpa: 55 })),
    )
    await flushPromises()
    expect(w.find('[data-testid="branch"]').text()).toBe('It runs, but badly')
    await w.find('[data-testid="bench-ports"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="ports-seen"]').text()).toContain('3: 60')
    expect(w.find('[data-testid="cool-3"]').attributes('aria-pressed')).toBe('true')
    await w.find('[data-testid="cylinders-record"]').trigger('click')
    await flushPromises()
    expect(useBuild().context!.readings.at(-1)!.value).toEqual({ cool: [3], how: 'ports' })
    expect(w.find('[data-testid="cylinders-recorded"]').text()).toContain('Cylinder 3 does NOT work')
    expect(useBuild().station('start')!.state).toBe('blocked')
  })
  it('one lead off at a time is asked with its caution', async () => {
    w = (await shown([madeReading('start.ran', { secondsToFire: 1, idleRpm: 750, coolantC: 80, tuneId: 't1' })])).w
    await step(w, /Crank and run/)
    expect(w.text()).not.toContain('pacemaker')
    await w
      .findAll('[role="radio"]')
      .find((r) => r.text() === 'one lead off at a time')!
      .trigger('click')
    await flushPromises()
    expect(w.text()).toContain('pacemaker')
    await w.find('[data-testid="cylinders-record"]').trigger('click')
    await flushPromises()
    expect(w.find('[data-testid="cylinders-recorded"]').text()).toContain('one lead off at a time')
  })
})

describe('a car without a logger', () => {
  const byHand = async (readings: Parameters<typeof openBuild>[1] = []) => {
    const all = await shown(readings)
    useBuild().view = 'car'
    await flushPromises()
    w = all.w
    return all
  }
  const fill = async (values: Record<string, string>) => {
    for (const [id, value] of Object.entries(values)) {
      await w!.find(`#${id}`).setValue(value)
      await w!.find(`#${id}`).trigger('change')
    }
  }
  it('nothing of the bench is offered or shown, and one tap goes there', async () => {
    await byHand()
    expect(w!.text()).toContain('type in what its display shows')
    expect(w!.find('[data-testid="rpm"]').exists()).toBe(false)
    await step(w!, /Crank and run/)
    expect(w!.find('[data-testid="crank"]').exists()).toBe(false)
    await w!.find('[data-testid="rehearse"]').trigger('click')
    expect(useBuild().view).toBe('rehearsal')
    expect(w!.find('[data-testid="crank"]').exists()).toBe(true)
  })
  it('what the display showed at key-on is judged by the server, with its throttle', async () => {
    await byHand()
    await step(w!, /Key on/)
    const p = 'start-key-on-shown-'
    await fill({
      ...{ [`${p}batteryV`]: '12.6', [`${p}mapKpa`]: '99', [`${p}coolantC`]: '17', [`${p}intakeAirC`]: '18' },
      ...{ [`${p}throttleShutPct`]: '0.4', [`${p}throttleOpenPct`]: '99', [`${p}lambda`]: '2.1' },
    })
    const record = () => w!.find('[data-testid="record-start.key-on-shown"]')
    // not before it was pressed twice
    expect(record().attributes('disabled')).toBeDefined()
    await w!.find(`[data-testid="${p}pressedTwice"]`).trigger('click')
    await record().trigger('click')
    await vi.waitFor(() => expect(asked.map((a) => a.kind)).toEqual(['start.throttle', 'start.sanity']))
    const entry = useBuild().saved!.readings.find((r) => r.kind === 'start.key-on-shown')!
    expect(asked.every((a) => a.from.entryIds![0] === entry.id)).toBe(true)
    await vi.waitFor(() => expect(w!.find('[data-testid="key-on-passed"]').exists()).toBe(true))
  })
  it('a crank without fuel wants the light first, then the display; both go into the verdict', async () => {
    await byHand()
    await step(w!, /Crank, no fuel/)
    await fill({
      ...{ 'start-crank-shown-rpm': '190', 'start-crank-shown-seconds': '4', 'start-crank-shown-batteryV': '10.4' },
    })
    for (const option of ['steady', 'stayed on']) await button(w!, option).trigger('click')
    expect(w!.find('[data-testid="record-start.crank-shown"]').attributes('disabled')).toBeDefined()
    await fill({ 'start-crank-light-observedDeg': '11', 'start-crank-light-commandedDeg': '10' })
    await w!.find('[data-testid="record-start.crank-light"]').trigger('click')
    await flushPromises()
    await w!.find('[data-testid="record-start.crank-shown"]').trigger('click')
    await vi.waitFor(() => expect(asked).toHaveLength(1))
    expect(asked[0]).toMatchObject({ kind: 'start.dry-crank', from: { entryIds: [expect.any(String), expect.any(String)] } })
    await vi.waitFor(() => expect(w!.text()).toContain('It may be fuelled.'))
  })
})
