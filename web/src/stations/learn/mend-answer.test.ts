import { flushPromises, mount, RouterLinkStub } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { computeBaseTune, type LearnCell, type LearnResult, type Tune } from '@vectum/core'
import { madeReading, soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import { storedTune } from '../../testing/stored-tune.fixture.ts'
import MendAnswer from './MendAnswer.vue'

const tuneId = '11111111-1111-4111-8111-111111111111'
const inCar = storedTune({ number: 3 })
const { facts, choices } = soundBuild()
const base = computeBaseTune(facts, choices)
const tune = { ...inCar, document: { ...base, parameters: { ...base.parameters, injectorCcMin: 500 } } } as unknown as Tune
const cell = (rpm: number, mapKpa: number, neededBasePct: number, more: Partial<LearnCell> = {}) =>
  ({ rpm, mapKpa, neededBasePct, learnedPct: neededBasePct, seconds: 90, state: 'proven', ...more }) as LearnCell
const looked = [madeReading('learn.exhaust', { tight: true }), madeReading('learn.meter', { unitLambda: 1, meterLambda: 1.01 })]
const read = madeReading('fuel.pressure', { pressureKpa: choices.plan!.fuelPressureKpa! - 50, engineRunning: true, referenceKpa: 50 })

async function shown(cells: LearnCell[], readings = [...looked, read], codes = ['answer-to-mend'], fits = true) {
  await openBuild(
    {
      facts,
      choices: {
        ...choices,
        fuel: { ...choices.fuel, regulator: { ...choices.fuel?.regulator, reference: 'manifold' } },
        unit: { setBy: 'questions', learns: 'itself', learnLimitPct: 20 },
      },
      tunes: [inCar],
    },
    readings,
  )
  const result = { cells, sound: true, verdicts: codes.map((code) => ({ code, message: '' })) } as unknown as LearnResult
  return mount(MendAnswer, {
    props: { solved: { result, tune } as InstanceType<typeof MendAnswer>['$props']['solved'], fits, logName: 'drive 2' },
    global: { stubs: { RouterLink: RouterLinkStub } },
  })
}
const store = (page: Awaited<ReturnType<typeof shown>>) => page.find('[data-testid="mend-answer-store"]')
afterEach(() => {
  vi.restoreAllMocks()
  return flushPromises()
})

describe('the answer that a base is made of', () => {
  it('is said with what is left to learn, and every cell before anything is stored: 25 % on 500 is 400', async () => {
    const page = await shown([cell(2000, 50, 25), cell(2500, 60, 25)])
    expect(page.text()).toContain('tell it 400 instead of 500 cc/min')
    expect(page.text()).toContain('0.0 % is left for it to learn, within its 20 %')
    const rows = page.findAll('tbody tr').map((r) => r.findAll('td').map((d) => d.text()))
    expect(rows).toEqual([
      ['+25.0 %', '0.0 %', '90 s'],
      ['+25.0 %', '0.0 %', '90 s'],
    ])
  })
  it('is stored as a version that tells the flow so and nothing else', async () => {
    const page = await shown([cell(2000, 50, 25)])
    expect(store(page).attributes('disabled')).toBeUndefined()
    await store(page).trigger('click')
    await flushPromises()
    const [, post] = vi.mocked(fetch).mock.calls.find(([url, o]) => o?.method === 'POST' && String(url).endsWith('/tunes'))!
    const sent = JSON.parse(String(post!.body)) as Pick<Tune, 'document' | 'origin' | 'parentId'>
    expect(sent).toMatchObject({ origin: 'learned', parentId: tuneId })
    expect(sent.document.parameters).toEqual({ ...tune.document.parameters, toldFlowPct: 80 })
    expect(sent.document.provenance.toldFlowPct).toContain('learned from drive 2 over version 3')
  })
  it('names a cell whose loop is open and that comes right by no answer', async () => {
    const page = await shown([cell(2000, 50, 25), cell(850, 45, 5, { uncorrected: true, seconds: 10 })])
    // 25 % over 13.6 % more is 10 % to learn, half of what it may; the open cell gets some 8 % too much
    expect(page.text()).toMatch(/(9|10)\.\d % is left for it to learn/)
    expect(page.text()).toMatch(/850 rpm, 45 kPa: -[78]\.\d % would be left/)
    expect(page.text()).toContain('its loop is open there')
  })
  it.each([
    ['the exhaust was smoked', [] as typeof looked, expect.objectContaining({ name: 'learn', query: { tab: 'beside' } })],
    ['the fuel pressure was read at idle', looked, expect.objectContaining({ name: 'fuel', query: { tab: 'proof', at: 'fuel.pressure' } })],
  ])('stays shut until %s, and leads there', async (words, readings, to) => {
    const page = await shown([cell(2000, 50, 25)], readings)
    expect(store(page).attributes('disabled')).toBeDefined()
    expect(page.text()).toContain(words)
    expect(page.findComponent(RouterLinkStub).props('to')).toEqual(to)
  })
  it('stays shut for a log of another tune; is not there where the log does not say so, nor where nothing is gained', async () => {
    expect(store(await shown([cell(2000, 50, 25)], [...looked, read], undefined, false)).attributes('disabled')).toBeDefined()
    expect((await shown([cell(2000, 50, 25)], [...looked, read], ['poisoned-cell'])).find('section').exists()).toBe(false)
    expect((await shown([cell(2000, 50, 7)])).find('section').exists()).toBe(false)
  })
})
