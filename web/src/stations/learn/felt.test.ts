import { flushPromises, mount, RouterLinkStub } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { type Frame, type Moment, readingsOf } from '@vectum/core'
import { madeReading } from '../../../../core/src/judge/made-up.fixture.ts'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import FeltButtons from './FeltButtons.vue'
import FeltList from './FeltList.vue'
import LogMarks from './LogMarks.vue'

const logId = '22222222-2222-4222-8222-222222222222'
const moment: Moment = {
  ...{ rpm: 3100, mapKpa: 88, advanceDegBtdc: 31, coolantC: 86, stepPct: 20, leanLambda: 0.09, richLambda: 0, hunts: 4 },
}
const felt = (what: string, more: object = {}) => madeReading('learn.felt', { what, moment, tuneId: null, ...more } as never)
const kept = () => readingsOf(useBuild().context!.readings, 'learn.felt')
const stubs = { RouterLink: RouterLinkStub }

describe('one tap on the way', () => {
  beforeEach(() => vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] }))
  afterEach(() => vi.useRealTimers())
  const frame = (timeS: number) =>
    ({ timeS, rpm: 3100, mapKpa: 88, throttlePct: 40, lambda: 0.95, lambdaTarget: 0.88, advanceDegBtdc: 31, coolantC: 86 }) as Frame
  it('keeps the seconds around it, once the second after it is there; keys 1 to 5 do the same', async () => {
    await openBuild()
    const live = useLive()
    live.frames = Array.from({ length: 60 }, (_, i) => frame(i / 10))
    live.frame = live.frames.at(-1)!
    const w = mount(FeltButtons, { attachTo: document.body })
    expect(w.findAll('button').map((b) => b.text())).toEqual(['1 Ping', '2 Stumble', '3 Surge', '4 Smell of fuel', '5 Miss'])
    await w.find('[data-testid="felt-ping"]').trigger('click')
    expect(w.find('[data-testid="felt-said"]').text()).toBe('Ping kept.')
    expect(kept()).toHaveLength(0)
    vi.advanceTimersByTime(1300)
    expect(kept().at(-1)!.value).toMatchObject({ what: 'ping', moment: { rpm: 3100, mapKpa: 88, advanceDegBtdc: 31 } })
    expect(kept().at(-1)!.value.moment.leanLambda).toBeCloseTo(0.07, 6)
    window.dispatchEvent(new KeyboardEvent('keydown', { key: '3' }))
    window.dispatchEvent(new KeyboardEvent('keydown', { key: '3', ctrlKey: true }))
    vi.advanceTimersByTime(1300)
    expect(kept().map((r) => r.value.what)).toEqual(['ping', 'surge'])
    w.unmount()
  })
  it('says so when nothing is heard from the engine', async () => {
    await openBuild()
    const w = mount(FeltButtons)
    await w.find('[data-testid="felt-miss"]').trigger('click')
    expect(w.find('[data-testid="felt-said"]').text()).toContain('Nothing is heard')
    vi.advanceTimersByTime(1300)
    expect(kept()).toHaveLength(0)
    w.unmount()
  })
})

describe('what was felt', () => {
  it('is listed with what it showed, the next test and the way there; without a reading since it cannot be closed', async () => {
    await openBuild({}, [felt('stumble')])
    const w = mount(FeltList, { global: { stubs } })
    expect(w.find('h3').text()).toContain('Stumble at 3100 rpm, 88 kPa')
    expect(w.text()).toContain('the foot opened by 20 % and it went lean by 0.09 lambda')
    expect(w.findComponent(RouterLinkStub).props('to')).toMatchObject({ name: 'learn', query: { tab: 'log', at: 'throttle-steps' } })
    expect(w.text()).toContain('there is none yet')
    expect(w.find('[data-testid="felt-close"]').exists()).toBe(false)
  })
  it('is closed by a reading since, with what it was', async () => {
    const leak = madeReading('fuel.leak-check', { dry: true } as never)
    await openBuild({}, [madeReading('fuel.prime', { pumpStops: true } as never), felt('smell'), leak])
    const w = mount(FeltList, { global: { stubs } })
    const button = () => w.find('[data-testid="felt-close"]')
    expect(button().attributes('disabled')).toBeDefined()
    await w.find('input').setValue('the filler cap stood open')
    await button().trigger('click')
    await flushPromises()
    expect(readingsOf(useBuild().context!.readings, 'learn.felt-closed').at(-1)!.value).toMatchObject({
      readingId: leak.id,
      said: 'the filler cap stood open',
    })
    expect(w.find('[data-testid="felt-list"]').exists()).toBe(false)
  })
})

it('a mark in a log is given its word once', async () => {
  await openBuild({}, [felt('ping', { logId, atS: 75.2 })])
  const w = mount(LogMarks, {
    global: { stubs: { RouterLink: { props: ['to'], template: '<a :data-at="to.query.at"><slot /></a>' } } },
    props: {
      logId,
      marks: [
        { atS: 75, moment },
        { atS: 130, moment },
      ],
    },
  })
  const [first, second] = w.findAll('.act')
  expect(first.text()).toBe('1:153100 rpm, 88 kPaPing at 3100 rpm, 88 kPa')
  // and its clock leads to where the log can be looked at
  expect(first.get('a').attributes('data-at')).toBe('75.0')
  await second
    .findAll('button')
    .find((b) => b.text() === 'Surge')!
    .trigger('click')
  expect(kept().at(-1)!.value).toMatchObject({ what: 'surge', logId, atS: 130 })
  expect(w.findAll('.act')[1].findAll('button')).toHaveLength(0)
})
