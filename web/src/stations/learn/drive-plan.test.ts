import { flushPromises, mount, type VueWrapper, RouterLinkStub } from '@vue/test-utils'
import { nextTick } from 'vue'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { DrivePlan, Frame, PlannedLeg } from '@vectum/core'
import { fakeLive, liveFrame } from '../../testing/live-socket.fixture.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import DriveFollow from './DriveFollow.vue'
import DrivePlanRoom from './DrivePlanRoom.vue'
import PlanMap from './PlanMap.vue'

const leg = (more: Partial<PlannedLeg>): PlannedLeg => ({
  ...{
    kind: 'hold',
    gear: 3,
    fromKmh: 60,
    toKmh: 60,
    gradePct: 0,
    load: 60,
    by: 'pressure',
    fromRpm: 2000,
    toRpm: 2000,
    seconds: 8,
    passes: 1,
  },
  gives: [[4, 6]],
  ...more,
})
const cell = (where: DrivePlan['cells'][number]['where'], needS = 0) => ({ usePct: 11, needS, getsS: needS, where })
const made = (more: Partial<DrivePlan> = {}): DrivePlan => ({
  missing: [],
  topKmh: 90,
  topAssumed: true,
  steepestPct: 0,
  ordinaryMin: null,
  baseFirst: false,
  by: 'pressure',
  rpm: [1000, 2000, 3000],
  axis: [40, 60, 100],
  cells: [
    ...[cell('proven'), cell('correct-first'), cell('seldom')],
    ...[cell('seldom'), cell('road', 4), cell('road', 4)],
    ...[cell('dyno', 4), cell('seldom'), cell('seldom')],
  ],
  legs: [leg({}), leg({ kind: 'run-up', gear: 4, toKmh: 80, toRpm: 3000, seconds: 12, gives: [[5, 5]] })],
  totalS: 190,
  steadyS: 20,
  provenUsePct: 41.4,
  afterUsePct: 77.6,
  dyno: { holds: [{ rpm: 1000, load: 100, seconds: 4 }], pulls: 2, fromRpm: 1400, toRpm: 5320, coolS: 70, minutes: 4 },
  inputs: [{ label: 'Mass as driven', value: 1250, dimension: 'mass', assumed: true }],
  torque: { fittedS: 0, workScale: 1, frictionScale: 1 },
  ...more,
})
let w: VueWrapper
/** The room over a server that answers with this plan, or with this refusal. */
async function room(plan: DrivePlan | { status: number; detail: string }) {
  await openBuild({})
  const around = fetch
  const asked: string[] = []
  vi.stubGlobal('fetch', async (url: string, options: RequestInit = {}) => {
    if (!String(url).includes('/drive-plan')) return around(url, options)
    asked.push(String(url))
    const status = 'status' in plan ? plan.status : 200
    return new Response(JSON.stringify(plan), { status, headers: { 'content-type': 'application/json' } })
  })
  w = mount(DrivePlanRoom, {
    props: { driving: false, coolantMinC: 72 },
    global: { stubs: { RouterLink: RouterLinkStub } },
    attachTo: document.body,
  })
  await flushPromises()
  return { asked }
}
afterEach(async () => {
  w.unmount()
  vi.unstubAllGlobals()
  vi.restoreAllMocks()
  await flushPromises()
})

describe('what to drive next', () => {
  it('says how long, what it is worth, and each leg in words with its seconds', async () => {
    await room(made())
    expect(w.get('[data-testid="plan-says"]').text()).toBe('2 legs in 3 min: 41 % of the driving is proven now, 78 % after them')
    expect(w.findAll('[data-testid="legs"] li').map((li) => li.text())).toEqual([
      '3rd gear, hold 60 km/h8 s',
      '4th gear, up from 60 km/h to 80 km/h with a still foot, near 60 kPa12 s',
    ])
    expect(w.text()).toContain('1 cell is measured and off')
    expect(w.text()).toContain('Taken while you have not said: 90 km/h')
  })
  it('in the units of the person', async () => {
    await room(made())
    useSettings().system = 'inch'
    await nextTick()
    expect(w.get('[data-testid="legs"] li').text()).toBe('3rd gear, hold 37 mph8 s')
    useSettings().system = 'metric'
  })
  it('names what is left for a dynamometer, light load first, then pulls with their cooling', async () => {
    await room(made())
    expect(w.get('[data-testid="dyno-day"]').text().replace(/\s+/g, ' ')).toBe(
      'Steady first, light load before heavy: 1000 rpm at 100 kPa for 4 s. Then 2 pulls with the throttle open from 1400 to 5300 rpm, slowly, 70 s of cooling after each. Stop at the first knock, or when it reads lean. About 4 min.',
    )
  })
  it('says what it rests on, and what of it is assumed', async () => {
    await room(made())
    const why = w.get('details').text()
    expect(why).toContain('Mass as driven: 1250 kg, assumed')
    expect(why).toContain('the textbook’s; a log with road speed fits it')
    w.unmount()
    await room(made({ torque: { fittedS: 412.3, workScale: 1.06, frictionScale: 1.2 } }))
    expect(w.get('details').text()).toContain('fitted to 412 s of the last log, work 1.06 and friction 1.20')
  })
  it('asks for the gearing where it is not known, with the fields at hand, and shows no leg', async () => {
    await room(made({ missing: ['gearing.gearRatios', 'gearing.axleRatio'], legs: [] }))
    const ask = w.get('[data-testid="plan-missing"]')
    expect(ask.text()).toContain('gear ratios, first to top, axle ratio')
    expect(ask.findAll('input')).toHaveLength(2)
    expect(w.find('[data-testid="legs"]').exists()).toBe(false)
  })
  it('a unit that learns by itself is driven as ever first: so many minutes, and the bench does that with no leg in the plan too', async () => {
    await room(made({ ordinaryMin: 12 }))
    expect(w.get('[data-testid="plan-says"]').text()).toBe('Drive about 12 minutes as this car is driven: town, road, hills')
    expect(w.find('[data-testid="legs"]').exists()).toBe(true)
    expect(w.text()).not.toContain('accept the correction')
    await room(made({ ordinaryMin: 12, baseFirst: true }))
    expect(w.get('[data-testid="plan-says"]').text()).toBe('First the base: Logs says what it wants')
    expect(w.text()).toContain('After it about 12 minutes as ever')
    await room(made({ ordinaryMin: 12, legs: [] }))
    expect(w.get('[data-testid="bench-plan"]').attributes('disabled')).toBeUndefined()
    expect(w.get('[data-testid="follow"]').attributes('disabled')).toBeDefined()
  })
  it('with nothing to drive for there is nothing to follow', async () => {
    await room(made({ legs: [], provenUsePct: 93 }))
    expect(w.get('[data-testid="plan-says"]').text()).toBe('Nothing to drive for on the road: 93 % of the driving is proven')
    expect(w.get('[data-testid="follow"]').attributes('disabled')).toBeDefined()
  })
  it('a refusal of the server is said in its own words', async () => {
    await room({ status: 504, detail: 'This took longer than 60 s and was stopped.' })
    expect(w.get('[role="alert"]').text()).toContain('This took longer than 60 s')
  })
  it('is asked for again when something it rests on was saved, in the view that is looked at', async () => {
    const { asked } = await room(made())
    expect(asked).toEqual([expect.stringContaining('/drive-plan?view=car')])
    useBuild().view = 'rehearsal'
    await flushPromises()
    expect(asked.at(-1)).toContain('view=rehearsal')
  })
  it('the bench drives it on a tap', async () => {
    await room(made())
    await w.get('[data-testid="bench-plan"]').trigger('click')
    expect(w.emitted('drive')).toHaveLength(1)
  })
})

describe('the plan on the map', () => {
  it('says of each cell what becomes of it, and marks each leg: a dot for a hold, an arrow for a run', async () => {
    w = mount(PlanMap, { props: { plan: made(), lit: 1 } })
    const titles = w.findAll('title').map((t) => t.text())
    expect(titles[0]).toBe('1000 rpm, 40 kPa: proven; 11.0 % of the driving')
    expect(titles[6]).toBe('1000 rpm, 100 kPa: for a dynamometer; 11.0 % of the driving')
    const legs = w.findAll('.leg')
    expect(legs.map((g) => [g.find('line').exists(), g.classes('lit')])).toEqual([
      [false, false],
      [true, true],
    ])
  })
})

describe('followed while it is driven', () => {
  const spoken: string[] = []
  /** twenty frames a second, steady at a place */
  const steady = (fromS: number, seconds: number, more: Partial<Frame>) =>
    Array.from({ length: seconds * 20 }, (_, i) =>
      liveFrame({ timeS: fromS + i / 20, state: 'running', lambda: 1, coolantC: 85, batteryV: 14, mapKpa: 60, rpm: 2000, ...more }),
    )
  async function follow() {
    spoken.length = 0
    vi.stubGlobal('speechSynthesis', { cancel: () => undefined, speak: (u: { text: string }) => spoken.push(u.text) })
    vi.stubGlobal(
      'SpeechSynthesisUtterance',
      class {
        constructor(readonly text: string) {}
      },
    )
    await openBuild({})
    const live = fakeLive()
    w = mount(DriveFollow, { props: { plan: made(), coolantMinC: 72 }, attachTo: document.body })
    await flushPromises()
    const drive = async (frames: Frame[]) => {
      for (const f of frames) live.frame(f)
      await new Promise((r) => requestAnimationFrame(r))
      await flushPromises()
    }
    return { live, drive }
  }
  const call = () => w.get('[data-testid="call"]').text()
  it('calls the first leg, counts it while it is held, then calls the next, out loud', async () => {
    const { drive } = await follow()
    expect(call()).toBe('3rd gear, hold 60 km/h')
    expect(spoken).toEqual(['3rd gear, hold 60 km/h'])
    await drive(steady(10, 3, {}))
    expect(w.get('[data-testid="counting"]').text()).toContain('counting')
    expect(call()).toBe('3rd gear, hold 60 km/h')
    await drive(steady(13, 5, {}))
    expect(call()).toContain('4th gear, up from 60 km/h to 80 km/h')
    expect(spoken).toHaveLength(2)
    expect(w.get('[data-testid="whole"]').text()).toBe('50 % of the drive')
    await drive(steady(18, 9, { rpm: 3000 }))
    expect(call()).toContain('That was all of it')
    expect(w.get('[data-testid="whole"]').text()).toBe('100 % of the drive')
  })
  it('says why nothing counts: no device, a cold engine, nothing steady', async () => {
    const { live, drive } = await follow()
    const says = () => w.get('[data-testid="counting"]').text()
    live.hello({ session: 's9', recent: [] })
    await flushPromises()
    expect(says()).toContain('Nothing is heard from the engine')
    await drive(steady(10, 3, { coolantC: 50 }))
    expect(says()).toContain('Too cold to count yet: it counts from 72 °C')
    await drive(steady(13, 3, {}).map((f, i) => ({ ...f, rpm: 1500 + 30 * i })))
    expect(says()).toContain('not steady enough to count')
  })
  it('what cannot be driven here is put off, and asked for again at the end', async () => {
    const { drive } = await follow()
    await w.get('[data-testid="skip"]').trigger('click')
    expect(call()).toContain('4th gear')
    await drive(steady(10, 9, { rpm: 3000 }))
    expect(call()).toBe('3rd gear, hold 60 km/h')
  })
  it('who drives alone has a dark screen while the engine works, and sees it again standing', async () => {
    const { drive } = await follow()
    await w.get('[data-testid="alone"]').trigger('click')
    await drive(steady(10, 1, {}))
    expect(w.find('[data-testid="dark"]').exists()).toBe(true)
    expect(w.find('[data-testid="call"]').exists()).toBe(false)
    await drive(steady(11, 1, { rpm: 750 }))
    expect(w.find('[data-testid="dark"]').exists()).toBe(false)
  })
  it('is left by Escape', async () => {
    await follow()
    await w.get('[data-testid="follow-screen"]').trigger('keydown', { key: 'Escape' })
    expect(w.emitted('close')).toHaveLength(1)
  })
})
