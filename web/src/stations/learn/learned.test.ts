import { flushPromises, mount, RouterLinkStub } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { computeBaseTune, type LearnCell, type LearnResult, type Tune } from '@vectum/core'
import { madeReading, soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import { storedTune } from '../../testing/stored-tune.fixture.ts'
import AcceptVersion from './AcceptVersion.vue'
import BesideTheLog from './BesideTheLog.vue'
import CellMap from './CellMap.vue'
import DrivesLine from './DrivesLine.vue'
import LearnedCellWords from './LearnedCellWords.vue'
import LearnedTables from './LearnedTables.vue'
import MendConstant from './MendConstant.vue'
import SettledLine from './SettledLine.vue'

const tuneId = '11111111-1111-4111-8111-111111111111'
const logId = '22222222-2222-4222-8222-222222222222'
const inCar = storedTune()
const cell = (i: number, j: number, more: Partial<LearnCell> = {}): LearnCell => ({
  ...{
    i,
    j,
    rpm: 800 + 600 * i,
    mapKpa: 30 + 15 * j,
    correctionPct: 0.5,
    standardErrorPct: 0.3,
    seconds: 20,
    missingSeconds: 0,
    nearestMeanPct: null,
  },
  ...{ state: 'proven', learnedPct: 12, neededBasePct: 12.6, movedPct: 0.2, settled: true },
  ...more,
})
const grid = (more: Partial<LearnCell> = {}) => [0, 1, 2, 3].flatMap((j) => [0, 1, 2, 3].map((i) => cell(i, j, more)))
const result = (totals: object, more: object = {}): LearnResult =>
  ({
    ...{ rpm: [800, 1400, 2000, 2600], mapKpa: [30, 45, 60, 75], cells: grid(), verdicts: [] },
    totals: { usedSeconds: 600, settledTimePct: 90, remainderRmsPct: 1.2, ...totals },
    ...more,
  }) as unknown as LearnResult
const solve = (remainderRmsPct: number, settled: boolean) =>
  madeReading('learn.result', {
    ...{ logId, tuneId, usedSeconds: 600, provenTimePct: 90, errorRmsPct: 1, unsafeCells: 0 },
    ...{ settledTimePct: 85, remainderRmsPct, movedRmsPct: 0.8, settled, codes: [] },
  })
afterEach(() => {
  vi.restoreAllMocks()
  return flushPromises()
})

describe('the map has layers', () => {
  it('what is left, what it holds, and what the base needs', () => {
    const texts = (show: 'correction' | 'learned' | 'needed') =>
      mount(CellMap, { props: { result: result({}, { cells: [cell(0, 0)], rpm: [800], mapKpa: [30] }), show } })
        .find('.cell text')
        .text()
    expect([texts('correction'), texts('learned'), texts('needed')]).toEqual(['+0.5', '+12.0', '+12.6'])
  })
  it('what is left is what was left where it was driven, not what its corner would want', () => {
    const at = cell(0, 0, { correctionPct: -4, leftPct: 1.2, leftErrorPct: 0.2 })
    const w = mount(CellMap, { props: { result: result({}, { cells: [at], rpm: [800], mapKpa: [30] }), show: 'correction' } })
    expect(w.find('.cell text').text()).toBe('+1.2')
    expect(w.find('.cell').attributes('aria-label')).toBe('800 rpm, 30 kPa: proven, +1.2 percent')
  })
  it('and the unit’s own table over the same cells, read between its own: 4 between 2 and 6', () => {
    const table = { rpm: [600, 1000], mapKpa: [30, 60], learnedPct: [2, 6, 2, 6] }
    const one = result({}, { cells: [cell(0, 0)], rpm: [800], mapKpa: [30] })
    expect(
      mount(CellMap, { props: { result: one, show: 'table', table } })
        .find('.cell text')
        .text(),
    ).toBe('+4.0')
  })
  it('a cell says what it holds, how far it moved, and how long it still takes: 30 ln(8 / 2) s', () => {
    const words = (more: Partial<LearnCell>, settleS?: number) =>
      mount(LearnedCellWords, { props: { cell: cell(0, 0, more), usedSeconds: 600, drivenS: 1200, settleS } })
        .text()
        .replace(/\s+/g, ' ')
    expect(words({ correctionPct: 8 }, 30)).toContain('About 42 s more here until it is learned, 42 min of driving like this')
    expect(words({ correctionPct: 8, leftPct: 1.2 }, 30)).not.toContain('more here')
    expect(words({})).toBe('It holds 12.0 %, the base needs 12.6 %; moved 0.2 % since the visit before.')
    expect(words({ movedPct: null })).toContain('visited once')
  })
})

describe('settled, or what keeps it from that', () => {
  const line = (totals: object, verdicts: object[] = []) => mount(SettledLine, { props: { result: result(totals, { verdicts }) } }).text()
  it('says both numbers either way', () => {
    expect(line({})).toBe('Settled by this log. 90 % of the time settled, 1.2 % rms left.')
    expect(line({ settledTimePct: 79.9 })).toContain('less than 80 % of the driving time is in settled cells')
    expect(line({ remainderRmsPct: 2.5 })).toContain('Settled')
    expect(line({ remainderRmsPct: 2.6 })).toContain('more than 3 % rms may be left')
    expect(line({}, [{ code: 'poisoned-cell', message: '' }])).toContain('Not settled: poisoned cell')
  })
  it('drives stand in a line: what was left by a dot each, filled where it had settled', async () => {
    await openBuild({ tunes: [inCar], choices: { unit: { learns: 'itself' } } }, [solve(5.5, false), solve(1.4, true)])
    const w = mount(DrivesLine)
    expect(w.findAll('circle').map((c) => c.classes().filter((name) => ['not', 'ok'].includes(name)))).toEqual([['not'], ['ok']])
    expect(w.find('svg').attributes('aria-label')).toBe('2 drives: 1.4 % rms left after the last')
    expect(w.find('.left').attributes('points')!.split(' ')).toHaveLength(2)
  })
  it('nothing is drawn before the first drive', async () => {
    await openBuild({ tunes: [inCar] })
    expect(mount(DrivesLine).find('[data-testid="drives-line"]').exists()).toBe(false)
  })
})

it('what no log tells is asked for by its form: the exhaust, the sensor, and whether it keeps what it learned', async () => {
  const builds = await openBuild({ tunes: [inCar], choices: { unit: { learns: 'itself' } } })
  const w = mount(BesideTheLog, { global: { stubs: { EntryStanding: true } } })
  await w
    .findAll('button')
    .find((b) => b.text().startsWith('Tight'))!
    .trigger('click')
  expect(builds.context!.readings.at(-1)).toMatchObject({ kind: 'learn.exhaust', value: { tight: true } })
  expect(w.text()).toContain('key off for 10 s or more')
})

describe('learned tables', () => {
  const table = (learnedPct: number[], name: string) =>
    madeReading('unit.learned', { tuneId, rpm: [1000, 3000], mapKpa: [40, 80], learnedPct, form: 'percent', name })
  it('two of them show what moved, in the cells of the later', async () => {
    await openBuild({ tunes: [inCar] }, [table([2, 4, 2, 4], 'one'), table([2, 7, 2, 4], 'two')])
    const w = mount(LearnedTables)
    expect(w.find('[data-testid="moved"]').text()).toContain('most at 3000 rpm, 40 kPa: +3.0 %')
    expect(w.text()).toContain('7.0')
    expect(w.text()).toContain('(3.0)')
  })
  it('form and sign are asked before a file is brought; one with holes is named', async () => {
    await openBuild({ tunes: [inCar] })
    const w = mount(LearnedTables)
    const choose = async (text: string) => {
      const input = w.find('[data-testid="learned-file"]')
      Object.defineProperty(input.element, 'files', { value: [new File([text], 'map.csv')], configurable: true })
      await input.trigger('change')
      await flushPromises()
    }
    await choose('x,1000,3000\n40,2,\n80,0,1')
    expect(w.find('[data-testid="learned-problem"]').text()).toContain('row 2, column 3')
    await choose('x,1000,3000\n40,2,-4\n80,0,1')
    expect(w.find('[data-testid="bring-learned"]').attributes('disabled')).toBeDefined()
    const [form, sign, load] = w.findAll('select')
    await form.setValue('percent')
    await sign.setValue('adds')
    // 40 and 80: a throttle or a pressure
    expect(w.find('[data-testid="bring-learned"]').attributes('disabled')).toBeDefined()
    await load.setValue('kpa')
    expect(w.find('[data-testid="bring-learned"]').attributes('disabled')).toBeUndefined()
  })
})

describe('where tables are corrected', () => {
  it('the line goes over the versions: what each log left, and which was there', async () => {
    const second = { ...inCar, id: logId, number: 2 }
    const log = (id: string, errorRmsPct: number, provenTimePct: number, more: object = {}) =>
      madeReading('learn.result', { logId, tuneId: id, usedSeconds: 300, provenTimePct, errorRmsPct, unsafeCells: 0, ...more })
    await openBuild({ tunes: [inCar, second] }, [log(tuneId, 9, 20), log(logId, 6, 50, { suspect: 'misfire' }), log(logId, 1.4, 85)])
    const w = mount(DrivesLine)
    expect(w.findAll('circle').map((c) => c.classes().filter((name) => ['not', 'ok'].includes(name)))).toEqual([['not'], ['ok']])
    expect(w.findAll('g text').map((t) => t.text())).toEqual(['v 1', 'v 2'])
    expect(w.text()).toContain('left 1.4 %')
    expect(w.text()).not.toContain('moved')
    w.unmount()
  })
})

describe('a constant mended', () => {
  const { facts, choices } = soundBuild()
  const base = computeBaseTune(facts, choices)
  const tune = { ...inCar, document: { ...base, parameters: { ...base.parameters, injectorCcMin: 500 } } } as unknown as Tune
  const mount_ = (codes: string[], more: Partial<LearnCell> = {}) =>
    mount(MendConstant, {
      props: {
        solved: {
          logId,
          with: 0,
          tune,
          steps: async () => Promise.reject(new Error('not asked')),
          warmUp: async () => null,
          strip: null,
          marks: [],
          channels: [],
          scatter: async () => null,
          readings: async () => null,
          result: result(
            {},
            {
              cells: grid({ learnedPct: 25, neededBasePct: 25, correctionPct: 0, ...more }),
              verdicts: codes.map((code) => ({ code, message: '' })),
            },
          ),
        },
      },
    })
  it('is shown with the flow and every cell before anything is stored: 25 % on 500 is 400', async () => {
    await openBuild({ tunes: [inCar] })
    const w = mount_(['constant-to-mend'])
    expect(w.text()).toContain('from 500 to 400 cc/min')
    expect(w.findAll('tbody tr')).toHaveLength(16)
    expect(
      w
        .findAll('tbody tr')[0]
        .findAll('td')
        .map((d) => d.text()),
    ).toEqual(['+25.0 %', '0.0 %', '0.00 %'])
  })
  it('is not offered where the pattern is no constant', async () => {
    await openBuild({ tunes: [inCar] })
    expect(mount_([]).find('[data-testid="mend"]').exists()).toBe(false)
  })
})

describe('what it never learns', () => {
  const open = [cell(0, 1, { uncorrected: true, leftPct: -22, state: 'needs-correction' })]
  const state = (cells: LearnCell[], more: object = {}) =>
    ({
      at: 'solved',
      solved: { logId, result: result({ used: 9000 }, { cells, sound: true }), tune: { id: tuneId } },
      ...{ proposed: null, accepting: false },
      ...more,
    }) as unknown as InstanceType<typeof AcceptVersion>['$props']['state']
  const looked = [madeReading('learn.exhaust', { tight: true }), madeReading('learn.meter', { unitLambda: 1, meterLambda: 1.01 })]
  const shown = async (readings = looked, unit: object = {}, props: object = {}) => {
    await openBuild({ choices: { unit: { learns: 'itself', ...unit } }, tunes: [inCar] }, readings)
    return mount(AcceptVersion, {
      props: { state: state(open), fits: true, itself: true, ...props },
      global: { stubs: { RouterLink: RouterLinkStub } },
    })
  }
  const button = (page: Awaited<ReturnType<typeof shown>>) => page.find('[data-testid="prepare"]')

  it('names the cells with what is left, and leads to the version that has it in its base', async () => {
    const page = await shown()
    expect(page.text()).toContain('800 rpm, 45 kPa: -22.0 % left')
    expect(button(page).attributes('disabled')).toBeUndefined()
    await button(page).trigger('click')
    expect(page.emitted('propose')).toHaveLength(1)
  })
  it('stays shut until exhaust and sensor were looked at, with the words that say so', async () => {
    const page = await shown([])
    expect(button(page).attributes('disabled')).toBeDefined()
    expect(page.text()).toContain('Shut until the exhaust was smoked')
    expect(page.findComponent(RouterLinkStub).props('to')).toEqual({ query: { tab: 'beside' } })
  })
  it('a unit set by questions alone gets no table: its answers are pointed to', async () => {
    const page = await shown(looked, { setBy: 'questions' })
    expect(button(page).exists()).toBe(false)
    expect(page.text()).toContain('ask in its answers for the closed loop from a lower speed')
  })
  it('says nothing where every cell is learned', async () => {
    const page = await shown(looked, {}, { state: state(grid()) })
    expect(page.find('[data-testid="accept-version"]').exists()).toBe(false)
  })
  it('before it is accepted it says how many cells change, and that what was learned stays', async () => {
    const changes = [{ table: 've', i: 0, j: 1, fromPct: 40, toPct: 36.8, how: 'solved' }]
    const page = await shown(looked, {}, { state: state(open, { proposed: { changes, document: {} } }) })
    expect(page.text()).toContain('1 cell of VE changes, 10 % at most in one pass; what the unit has learned stays over them')
    await page.find('[data-testid="accept"]').trigger('click')
    expect(page.emitted('accept')).toHaveLength(1)
  })
  it('at the cell no time to settle is told, but that it never will', () => {
    const words = mount(LearnedCellWords, { props: { cell: open[0], usedSeconds: 600, drivenS: 1200 } }).text()
    expect(words).toContain('It never learns here')
    expect(words).not.toContain('until it is learned')
  })
})
