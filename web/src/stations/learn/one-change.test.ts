import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, expect, it, vi } from 'vitest'
import { computeBaseTune, readingsOf, type TuneDocument } from '@vectum/core'
import { madeReading, soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import { useBuild } from '../../stores/build.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import OneChange from './OneChange.vue'

const uuid = (n: number) => `00000000-0000-4000-8000-00000000000${n}`
const had = computeBaseTune(soundBuild().facts, soundBuild().choices)
const has: TuneDocument = { ...had, parameters: { ...had.parameters, fuelPressureKpa: 350, stoichAfr: 14.1 } }
const version = (number: number, more: object = {}) => ({
  ...{
    id: uuid(number),
    number,
    name: 'x',
    status: 'ready',
    origin: 'edited',
    parentId: number > 1 ? uuid(number - 1) : null,
    logId: null,
  },
  ...{ createdBy: 'Ada', createdAt: '2026-01-01T00:00:00Z', inCarSince: null, problems: [] },
  ...more,
})
const changed = ['parameters.fuelPressureKpa', 'parameters.stoichAfr']
const solved = (tune: number, errorRmsPct: number, more: object = {}) =>
  madeReading('learn.result', {
    ...{ logId: uuid(9), tuneId: uuid(tune), usedSeconds: 500, provenTimePct: 85, errorRmsPct, unsafeCells: 0 },
    ...more,
  })
async function show(tunes: object[], readings: ReturnType<typeof madeReading>[], status = 201) {
  await openBuild({ tunes } as never, readings)
  const around = fetch
  const posted: { name: string; parentId: string; origin: string; document: TuneDocument }[] = []
  vi.stubGlobal('fetch', async (url: string, options: RequestInit = {}) => {
    const answer = (body: object, code = 200) =>
      new Response(JSON.stringify(body), { status: code, headers: { 'content-type': 'application/json' } })
    if (!String(url).includes('/tunes')) return around(url, options)
    if (options.method !== 'POST') return answer({ ...version(1), document: String(url).endsWith(uuid(1)) ? had : has })
    posted.push(JSON.parse(String(options.body)) as (typeof posted)[number])
    return status === 201 ? answer({ ...version(3), document: had }, 201) : answer({ detail: 'The database does not answer.' }, status)
  })
  return { w: mount(OneChange), posted }
}
afterEach(() => vi.unstubAllGlobals())
const both = [version(1), version(2, { changed })]

it('shows what went in together, and puts one back alone: a version of the newer with that part of the older', async () => {
  const { w, posted } = await show(both, [solved(1, 2), solved(2, 5)])
  expect(w.get('h2').text()).toBe('2 changes, one log: which of them?')
  expect(w.text()).toContain('Version 1 left 2.0 % rms, version 2 left 5.0 %.')
  await w.get('[data-testid="put-back-parameters.fuelPressureKpa"]').trigger('click')
  await flushPromises()
  expect(posted).toHaveLength(1)
  expect(posted[0]).toMatchObject({ name: '2 with Fuel pressure back as in 1', parentId: uuid(2), origin: 'edited' })
  expect(posted[0].document.parameters).toMatchObject({ fuelPressureKpa: had.parameters.fuelPressureKpa, stoichAfr: 14.1 })
  expect(readingsOf(useBuild().context!.readings, 'learn.reversal').at(-1)!.value).toMatchObject({
    ...{ ofTuneId: uuid(2), toTuneId: uuid(1), what: 'Fuel pressure' },
  })
})
it('a version that could not be stored is said, and nothing goes on record', async () => {
  const { w } = await show(both, [solved(1, 2), solved(2, 5)], 503)
  await w.get('[data-testid="put-back-parameters.stoichAfr"]').trigger('click')
  await flushPromises()
  expect(w.get('[role="alert"]').text()).toContain('The database does not answer.')
  expect(readingsOf(useBuild().context!.readings, 'learn.reversal')).toHaveLength(0)
})
it('what was tried, what waits, and what no version undoes have no button; the answer stands over them', async () => {
  const back = madeReading('learn.reversal', { tuneId: uuid(3), ofTuneId: uuid(2), toTuneId: uuid(1), what: 'Fuel pressure' })
  const off = madeReading('fitup.hose-off', { hose: 'brake' })
  const waits = version(4, { parentId: uuid(2), status: 'draft' })
  const waitsFor = madeReading('learn.reversal', { tuneId: uuid(4), ofTuneId: uuid(2), toTuneId: uuid(1), what: 'Stoichiometric ratio' })
  const tunes = [...both, version(3, { changed: changed.slice(0, 1) }), waits]
  const { w } = await show(tunes, [solved(1, 2), off, solved(2, 5), back, waitsFor, solved(3, 5)])
  expect(w.findAll('button')).toHaveLength(0)
  for (const words of ['put back and tested', 'put it in the car and drive', 'look at it with your hands'])
    expect(w.text()).toContain(words)
  expect(w.get('[data-testid="reversal-shown"]').text().replace(/\s+/g, ' ')).toBe('It was not this: Fuel pressure, 5.0 % rms without it.')
})
it('once the cause is found nothing more is put back', async () => {
  const back = madeReading('learn.reversal', { tuneId: uuid(3), ofTuneId: uuid(2), toTuneId: uuid(1), what: 'Fuel pressure' })
  const { w } = await show([...both, version(3, { changed: changed.slice(0, 1) })], [solved(1, 2), solved(2, 5), back, solved(3, 2)])
  expect(w.get('h2').text().replace(/\s+/g, ' ')).toBe('It was this: Fuel pressure, 2.0 % rms without it.')
  expect(w.findAll('button')).toHaveLength(0)
})
it('is silent with one change, and when nothing moved', async () => {
  const one = [version(1), version(2, { changed: ['tables.ve'] })]
  expect((await show(one, [solved(1, 2), solved(2, 5)])).w.find('section').exists()).toBe(false)
  expect((await show(both, [solved(1, 2), solved(2, 2.4)])).w.find('section').exists()).toBe(false)
})
it('two logs of other roads are not compared; of roads that meet, where both drove', async () => {
  const left = (pct: number[], seconds: number[]) => ({
    left: { axes: 'a', cells: pct.flatMap((v, c) => (seconds[c] ? [[c, v, seconds[c]]] : [])) },
  })
  const apart = await show(both, [solved(1, 2, left([2, 2], [100, 0])), solved(2, 5, left([5, 5], [0, 100]))])
  expect(apart.w.find('[data-testid="one-change"]').exists()).toBe(false)
  const met = await show(both, [solved(1, 2, left([3, 9, 2], [100, 0, 50])), solved(2, 5, left([6, 9, 5], [100, 20, 0]))])
  expect(met.w.text()).toContain('Version 1 left 3.0 % rms, version 2 left 6.0 %, at the cells that both drove.')
  const back = madeReading('learn.reversal', { tuneId: uuid(3), ofTuneId: uuid(2), toTuneId: uuid(1), what: 'Fuel pressure' })
  const three = [...both, version(3, { changed: ['parameters.fuelPressureKpa'] })]
  const logs = [solved(1, 2, left([3, 9], [100, 0])), solved(2, 5, left([6, 9], [100, 20])), back, solved(3, 2, left([3, 8], [10, 90]))]
  const { w } = await show(three, logs)
  expect(w.get('[data-testid="reversal-shown"]').text()).toBe(
    'Fuel pressure: not known yet, since the log with it put back was driven elsewhere.',
  )
  expect(w.text()).toContain('put back: drive it on the same roads')
  expect(w.text()).not.toContain('put back and tested')
})
