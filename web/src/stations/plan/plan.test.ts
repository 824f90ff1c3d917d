import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { openBuild } from '../../testing/open-build.fixture.ts'
import PairList from './PairList.vue'
import PartsTable from './PartsTable.vue'
import ReuseList from './ReuseList.vue'
import RouteTable from './RouteTable.vue'
import ScheduleStrip from './ScheduleStrip.vue'
import SizeTable from './SizeTable.vue'
import ToolList from './ToolList.vue'
import UnitMatch from './UnitMatch.vue'
import WaysTable from './WaysTable.vue'

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['Date'], now: new Date('2026-03-02T10:00:00Z') })
})
const button = (w: ReturnType<typeof mount>, text: string) => w.findAll('button').find((b) => b.text().startsWith(text))!

describe('routes', () => {
  it('shows what a route would change before it is taken; leaving it leaves all as it was', async () => {
    const builds = await openBuild()
    const w = mount(RouteTable)
    expect(w.find('[data-testid="effect"]').exists()).toBe(false)
    await w.find('[data-testid="look-multi-port"]').trigger('click')
    expect(w.find('[data-testid="effect"]').text()).toContain('appears: The regulator’s port goes to the wrong place')
    await button(w, 'Leave it').trigger('click')
    expect(builds.context!.plan.route).toBe('throttle-body')
    await w.find('[data-testid="look-multi-port"]').trigger('click')
    await w.find('[data-testid="take"]').trigger('click')
    expect(builds.context!.plan).toMatchObject({ route: 'multi-port' })
    // injectors chosen for the throttle body do not carry over
    expect(builds.context!.plan.injectors).toBeUndefined()
  })
  it('compares two plans without taking either', async () => {
    const builds = await openBuild()
    const kept = JSON.stringify(builds.current!.choices)
    const w = mount(RouteTable)
    await w.findAll('[aria-label="Plan 2, route"] button')[2].trigger('click')
    expect(w.find('.compare').text()).toMatch(/Parts \d+ → \d+/)
    expect(JSON.stringify(builds.current!.choices)).toBe(kept)
  })
})

describe('what a route is good at', () => {
  it('stands in the table with the hours it counts, and follows what the owner says', async () => {
    const builds = await openBuild()
    const w = mount(RouteTable)
    const row = (title: string) => w.findAll('tbody tr').find((r) => r.find('th').text().startsWith(title))!
    expect(row('Cold start').findAll('td')[0].text()).toContain('counts 8 h')
    expect(row('Cold start').findAll('td')[1].text()).toBe('as near as any')
    await builds.change('choices.plan.aims.coldStart', 0)
    await w.vm.$nextTick()
    expect(row('Cold start').find('th').text()).toContain('does not matter, as you say')
    expect(row('Cold start').findAll('td')[0].text()).not.toContain('counts')
  })
})

describe('tools', () => {
  it('counts what is at hand and keeps what is said of each', async () => {
    const builds = await openBuild()
    const w = mount(ToolList)
    expect(w.text()).toMatch(/0 of \d+ at hand/)
    await button(w, 'have').trigger('click')
    expect(builds.context!.plan.tools).toEqual({ extinguisher: 'have' })
    expect(w.text()).toMatch(/1 of \d+ at hand/)
  })
})

describe('what can stay, and what must go together', () => {
  it('each part has a verdict in words beside its mark', async () => {
    await openBuild({ facts: { ignition: { leads: 'solid-core' } } })
    const row = mount(ReuseList)
      .findAll('tr')
      .find((r) => r.text().startsWith('Leads'))!
    expect(row.text()).toContain('does not serve')
    expect(row.find('svg').attributes('aria-label')).toBe('does not fit')
  })
  it('a pair apart says why, one not told asks', async () => {
    await openBuild({ choices: { fuel: { regulator: { setKpa: 660 } } } })
    const text = mount(PairList).text()
    expect(text).toContain('the pump’s curve ends at 650 kPa')
    expect(text).toContain('its sheet has not been asked')
  })
})

describe('sizes', () => {
  it('says what is bought for a size beside it', async () => {
    await openBuild()
    const feed = mount(SizeTable)
      .findAll('.size')
      .find((s) => s.text().includes('Feed line'))!
    expect(feed.text()).toContain('buy 8 mm or 5/16 in hard line')
  })
  it('an own figure needs a reason, stands with it, and can be let go', async () => {
    const builds = await openBuild()
    const w = mount(SizeTable)
    const pump = () => w.findAll('.size')[3]
    await pump().find('button.n-button').trigger('click')
    await pump().find('.own input').setValue('120')
    await pump().find('.own input').trigger('change')
    expect(button(w, 'Keep').attributes('disabled')).toBeDefined()
    await pump().find('#own-reason').setValue('it is in the drawer')
    await pump().find('form').trigger('submit')
    expect(builds.context!.plan.overrides!.pump).toEqual({ value: 120, reason: 'it is in the drawer' })
    expect(pump().text()).toContain('computed 47 L/h')
    await button(w, 'Take the computed one').trigger('click')
    expect(builds.context!.plan.overrides?.pump).toBeUndefined()
  })
})

describe('ways', () => {
  it('marks the standard, takes another, and lets go of it again', async () => {
    const builds = await openBuild()
    const w = mount(WaysTable)
    const lines = () => w.find('[aria-label="Lines"]').findAll('button')
    expect(lines()[0].classes()).toContain('standard')
    // what it would change is shown first: hard line becomes braided hose in the circuit and on the list
    await lines()[1].trigger('click')
    expect(w.find('[data-testid="effect"]').exists()).toBe(true)
    expect(builds.context!.plan.ways).toBeUndefined()
    await w.find('[data-testid="take"]').trigger('click')
    expect(builds.context!.plan.ways).toEqual({ lines: 'b' })
    expect(builds.context!.fuel.feed!.some((e) => e.kind === 'line' && e.hose === 'braided')).toBe(true)
    await lines()[1].trigger('click')
    await w.find('[data-testid="take"]').trigger('click')
    expect(lines()[0].classes()).toContain('standard')
    expect(builds.context!.fuel.feed!.some((e) => e.kind === 'line' && e.hose === 'braided')).toBe(false)
  })
})

describe('control unit', () => {
  it('a function the sheet denies is a stop, one it does not answer is open', async () => {
    const builds = await openBuild()
    const w = mount(UnitMatch)
    expect(w.find('ul').text()).toContain('the sheet has not been asked')
    builds.change('choices.plan.unit.hallInput', false)
    await w.vm.$nextTick()
    expect(w.find('ul').text()).toContain('missing')
    expect(builds.station('plan')!.state).toBe('blocked')
  })
})

describe('parts', () => {
  it('refuses a price that is none, with its bounds, and keeps the old one', async () => {
    const builds = await openBuild()
    const w = mount(PartsTable)
    const price = w.find('[aria-label="Price, Injector"]')
    await price.setValue('cheap')
    expect(w.find('[role="alert"]').text()).toContain('Price must be a number from 0 to 100000')
    await price.setValue('39,5')
    expect(builds.context!.plan.parts!.injector).toEqual({ price: 39.5 })
  })
  it('keeps what is half typed while the list is drawn again', async () => {
    const builds = await openBuild()
    const w = mount(PartsTable)
    const price = w.find('[aria-label="Price, Injector"]')
    ;(price.element as HTMLInputElement).value = '12'
    price.element.dispatchEvent(new Event('input'))
    builds.change('choices.plan.prices.injector', 77)
    await w.vm.$nextTick()
    expect((price.element as HTMLInputElement).value).toBe('12')
  })
  it('brings a list in by CSV, or says which line it cannot take', async () => {
    const builds = await openBuild()
    const w = mount(PartsTable)
    const bring = async (text: string) => {
      const input = w.find('[data-testid="parts-in"]')
      Object.defineProperty(input.element, 'files', { value: [new File([text], 'parts.csv')], configurable: true })
      await input.trigger('change')
      await vi.waitFor(() => expect(builds.saving).toBe(false))
    }
    await bring('id,status\npump,gone')
    await vi.waitFor(() => expect(w.find('[role="alert"]').text()).toContain('line 2, status'))
    await bring('id,status,price\npump,have,88')
    await vi.waitFor(() => expect(builds.context!.plan.parts!.pump).toEqual({ status: 'have', price: 88 }))
  })
})

describe('schedule', () => {
  it('gives a span, and the arrow keys move a task and what waits for it', async () => {
    const builds = await openBuild()
    const w = mount(ScheduleStrip)
    expect(w.text()).toMatch(/\d+–\d+ h of work/)
    const end = w.find('[data-testid="end"]').text()
    for (let i = 0; i < 6; i++) await w.find('[data-testid="task-wiring"]').trigger('keydown', { key: 'ArrowRight', shiftKey: true })
    expect(builds.context!.plan.tasks!.wiring.notBefore! > '2026-03-30').toBe(true)
    expect(w.find('[data-testid="end"]').text()).not.toBe(end)
    await w.find('[data-testid="task-wiring"]').trigger('keydown', { key: 'Delete' })
    expect(w.find('[data-testid="end"]').text()).toBe(end)
  })
  it('dragging a bar by whole days sets the day; a task is never dragged before today', async () => {
    const builds = await openBuild()
    const w = mount(ScheduleStrip)
    const bar = w.find('[data-testid="task-parts-arrive"]')
    const drag = async (px: number) => {
      bar.element.dispatchEvent(new MouseEvent('pointerdown', { clientX: 100, bubbles: true }))
      window.dispatchEvent(new MouseEvent('pointermove', { clientX: 100 + px }))
      window.dispatchEvent(new MouseEvent('pointerup', { clientX: 100 + px }))
      await w.vm.$nextTick()
    }
    await drag(300)
    expect(builds.context!.plan.tasks!['parts-arrive'].notBefore! > '2026-03-02').toBe(true)
    await drag(-4000)
    expect(builds.context!.plan.tasks!['parts-arrive'].notBefore).toBe('2026-03-02')
  })
  it('done today stands done, and people without hours are named', async () => {
    const builds = await openBuild()
    const w = mount(ScheduleStrip)
    await w.find('[data-testid="task-mock-up"]').trigger('click')
    await button(w, 'Done today').trigger('click')
    expect(builds.context!.plan.tasks!['mock-up'].done).toBe('2026-03-02')
    for (const day of ['Tue', 'Thu', 'Sat', 'Sun']) {
      const cell = w.find(`[aria-label="Me, ${day}, hours"]`)
      await cell.setValue('0')
    }
    expect(w.find('[role="alert"]').text()).toContain('no free hours')
  })
})
