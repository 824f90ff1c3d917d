import { flushPromises, mount } from '@vue/test-utils'
import { NMessageProvider } from 'naive-ui'
import { afterEach, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { computeBaseTune, type WarmUpJudged } from '@vectum/core'
import { soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import { catchVersions } from '../../testing/stored-versions.fixture.ts'
import type { Solved } from './use-learning.ts'
import WarmUpFuel from './WarmUpFuel.vue'

const document = computeBaseTune(soundBuild().facts, soundBuild().choices)
const tuneId = '00000000-0000-4000-8000-000000000001'
const tune = { id: tuneId, number: 1, document } as unknown as Solved['tune']
const band = { fromC: 20, toC: 30, seconds: 14.4, missingPct: 8.31, errorPct: 0.42, givenPct: 22.2, wantedPct: 32.4, says: 'lean' as const }
const next: [number, number][] = [
  [-10, 45],
  [20, 34.5],
  [50, 13.1],
  [72, 0],
]
const off: WarmUpJudged = { bands: [band], mapUnknownS: 0, says: 'off', next }
async function show(
  judged: WarmUpJudged | { refused: { code: string; message: string } },
  { fits = true, status = 201, sound = true } = {},
) {
  await openBuild()
  const posted = catchVersions(status)
  const drives: number[] = []
  const props = {
    solved: { logId: 'a', warmUp: async () => judged, tune, result: { sound } as Solved['result'] },
    logName: 'morning.csv',
    fits,
    busy: false,
    onDrive: (fromC: number) => drives.push(fromC),
  }
  const w = mount(defineComponent(() => () => h(NMessageProvider, () => h(WarmUpFuel, props))))
  await flushPromises()
  return { w, posted, drives }
}
const words = (w: { text: () => string }) => w.text().replace(/\s+/g, ' ')
afterEach(() => vi.unstubAllGlobals())

it('says band by band how the mixture stood, and makes the version with the curve that is wanted', async () => {
  const { w, posted } = await show(off)
  expect(words(w.get('[data-testid="warm-up-bands"]'))).toContain('20 °C to 30 °C14 s8.3 ± 0.4 % leaner than its target too little')
  expect(words(w.get('[data-testid="warm-up-next"]'))).toBe('20 °C: +34.5 % for +25 %. 50 °C: +13.1 % for +8 %.')
  await w.get('[data-testid="warm-up-accept"]').trigger('click')
  await flushPromises()
  expect(posted[0]).toMatchObject({ parentId: tuneId, origin: 'edited', name: 'Fuel for a cold engine' })
  expect(posted[0].document.parameters.warmupPct).toEqual(next)
  expect(posted[0].document.provenance.warmupPct).toBe('learned from the warm-up in morning.csv')
})
it('in the units of who reads it', async () => {
  const { w } = await show(off)
  useSettings().system = 'inch'
  await flushPromises()
  expect(words(w.get('[data-testid="warm-up-bands"]'))).toContain('68 °F to 86 °F')
})
it('what could not be stored is said', async () => {
  const { w } = await show(off, { status: 503 })
  await w.get('[data-testid="warm-up-accept"]').trigger('click')
  await flushPromises()
  expect(w.get('[role="alert"]').text()).toContain('It is full.')
})
it.each([
  [{ says: 'no-cold', bands: [], next: null }, 'Start after a night with the log running'],
  [{ says: 'map-first', bands: [], next: null }, 'Where the engine was while cold it was not driven warm'],
  [
    { says: 'unsure', bands: [{ ...band, says: 'unsure', errorPct: Infinity }], next: null },
    '8.3 % leaner than its target too little to tell',
  ],
  [{ says: 'right', bands: [{ ...band, missingPct: -3, says: 'right' }], next: null }, '3.0 ± 0.4 % richer than its target right'],
] as [Partial<WarmUpJudged>, string][])('%j: %s', async (more, said) => {
  const { w } = await show({ ...off, ...more })
  expect(w.text().replace(/\s+/g, ' ')).toContain(said)
  expect(w.find('[data-testid="warm-up-accept"]').exists()).toBe(false)
})
it.each([
  ['of another tune', { fits: false }, 'This log was driven on another tune'],
  ['that is not sound', { sound: false }, 'Shut until the test above has settled what is wrong'],
])('a log %s changes nothing', async (_what, more, said) => {
  const { w } = await show(off, more)
  expect(w.find('[data-testid="warm-up-accept"]').exists()).toBe(false)
  expect(words(w)).toContain(said)
})
it('a log that it cannot be told of shows nothing; the bench starts cold in rehearsal alone', async () => {
  const refused = await show({ refused: { code: 'COLUMN_MISSING', message: 'no lambda' } })
  expect(refused.w.find('[data-testid="warm-up-fuel"]').exists()).toBe(false)
  const { w, drives } = await show(off)
  expect(w.find('[data-testid="bench-cold"]').exists()).toBe(false)
  useBuild().view = 'rehearsal'
  await flushPromises()
  await w.get('[data-testid="bench-cold"]').trigger('click')
  expect(drives).toEqual([10])
})
