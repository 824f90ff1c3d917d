import { flushPromises, mount } from '@vue/test-utils'
import { NMessageProvider } from 'naive-ui'
import { afterEach, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { computeBaseTune, type StepsJudged } from '@vectum/core'
import { soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import { useBuild } from '../../stores/build.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import { catchVersions } from '../../testing/stored-versions.fixture.ts'
import ThrottleSteps from './ThrottleSteps.vue'
import type { Solved } from './use-learning.ts'

const document = computeBaseTune(soundBuild().facts, soundBuild().choices)
const tuneId = '00000000-0000-4000-8000-000000000001'
const tune = { id: tuneId, number: 1, document } as unknown as Solved['tune']
const step = { atS: 3, opensPct: 20, coolantC: 85 } as StepsJudged['steps'][number]
const warm = { steps: 0, coolantC: NaN, missingPctS: 0, errorPctS: Infinity, says: 'too-few', times: null } as const
const judged = (more: Partial<StepsJudged>): StepsJudged => ({
  ...{
    steps: Array.from({ length: 7 }, () => step),
    offMapSteps: 0,
    catches: null,
    length: null,
    cold: warm,
    says: 'lean',
    missingPctS: 4.24,
    errorPctS: 0.5,
  },
  ...{ times: 1.5, shape: 'even', curve: [{ atS: 0.05, missingPct: 8, givenPct: 20 }] },
  ...more,
})
async function show(steps: StepsJudged, { fits = true, status = 201, sound = true } = {}) {
  await openBuild()
  const posted = catchVersions(status)
  const drives: object[] = []
  const props = {
    solved: { logId: 'a', steps: async () => steps, tune, result: { sound } as Solved['result'] },
    logName: 'road.csv',
    fits,
    busy: false,
    onDrive: (by: object) => drives.push(by),
  }
  const w = mount(defineComponent(() => () => h(NMessageProvider, () => h(ThrottleSteps, props))))
  await flushPromises()
  return { w, posted, drives }
}
afterEach(() => vi.unstubAllGlobals())

it('says what is missing in %·s, and makes the version that gives it', async () => {
  const { w, posted } = await show(judged({}))
  expect(w.get('[data-testid="steps-said"]').text().replace(/\s+/g, ' ')).toContain(
    'On the mean 4.2 ± 0.5 %·s of fuel are missing over a step',
  )
  const { accelPctPer100 } = document.parameters
  expect(w.get('[data-testid="steps-accept"]').text()).toBe(`A version with ${1.5 * accelPctPer100} % for ${accelPctPer100} %`)
  await w.get('[data-testid="steps-accept"]').trigger('click')
  await flushPromises()
  expect(posted[0]).toMatchObject({ parentId: tuneId, origin: 'edited' })
  expect(posted[0].document.parameters.accelPctPer100).toBe(1.5 * accelPctPer100)
  expect(posted[0].document.provenance.accelPctPer100).toBe('learned from 7 throttle steps of road.csv')
})
it('a plate that catches comes first, and nothing is offered', async () => {
  const { w } = await show(judged({ says: 'linkage-first', times: null, catches: { smooth: 1, jumped: 6, kicked: 2, jumpPct: 4.44 } }))
  expect(w.get('summary').text()).toContain('The linkage comes first')
  expect(w.get('[data-testid="steps-said"]').text()).toContain('6 of 7 times the throttle left its rest in a jump, by 4.4 % on the mean')
  expect(w.find('[data-testid="steps-accept"]').exists()).toBe(false)
  expect(w.find('[data-testid="cold-steps"]').exists()).toBe(false)
})
it('a log that is not sound changes nothing', async () => {
  const { w } = await show(judged({}), { sound: false })
  expect(w.find('[data-testid="steps-accept"]').exists()).toBe(false)
  expect(w.text()).toContain('Shut until the test above has settled what is wrong')
})
it('what could not be stored is said', async () => {
  const { w } = await show(judged({}), { status: 503 })
  await w.get('[data-testid="steps-accept"]').trigger('click')
  await flushPromises()
  expect(w.get('[role="alert"]').text()).toContain('It is full.')
})
it.each([
  [{ says: 'too-few', steps: [step], times: null }, 'hold a steady speed for five seconds and the foot still for one'],
  [{ says: 'unsure', times: null }, 'scatter too much to tell'],
  [
    { says: 'map-first', steps: [], offMapSteps: 6, times: null },
    'Over 6 openings the map itself goes from one error to another: learn it first',
  ],
  [{ says: 'right', missingPctS: -0.4, times: null }, 'As much as is wanted'],
  [{ says: 'rich', missingPctS: -4, times: 0.6, shape: 'rich-then-lean' }, 'It is rich first and lean then: less, for a longer time.'],
  [{ times: null }, 'The log does not tell what was given for a step: change it by a fifth'],
] as [Partial<StepsJudged>, string][])('%j: %s', async (more, words) => {
  const { w } = await show(judged(more))
  expect(w.text().replace(/\s+/g, ' ')).toContain(words)
  expect(w.find('[data-testid="steps-accept"]').exists()).toBe(more.says === 'rich')
})
it('a log of another tune changes nothing; the bench drives steps in rehearsal alone', async () => {
  const { w, drives } = await show(judged({}), { fits: false })
  expect(w.find('[data-testid="steps-accept"]').exists()).toBe(false)
  expect(w.find('[data-testid="bench-steps"]').exists()).toBe(false)
  useBuild().view = 'rehearsal'
  await flushPromises()
  await w.get('[data-testid="bench-steps"]').trigger('click')
  await w.get('[data-testid="bench-cold-steps"]').trigger('click')
  expect(drives).toEqual([{ steps: 12 }, { steps: 12, fromC: 10 }])
})

const cold = { steps: 8, coolantC: 30, missingPctS: 4, errorPctS: 0.6, says: 'lean', times: 1.4 } as const
it('steps of a cold engine make the version with the factor they want, once the warm ones are not off', async () => {
  const { w, posted } = await show(judged({ says: 'too-few', steps: [], times: null, cold }))
  expect(w.get('[data-testid="cold-steps"]').text().replace(/\s+/g, ' ')).toContain(
    '8 steps of an engine of 30 °C on the mean: 4.0 ± 0.6 %·s of fuel are missing over one.',
  )
  // 1.6 given at 30 degC, 2.24 wanted: 1 + 1.24 / 0.6, to a twentieth
  expect(w.get('[data-testid="cold-steps-accept"]').text()).toBe('A version with 3.05 times for 2 times at 0 °C')
  await w.get('[data-testid="cold-steps-accept"]').trigger('click')
  await flushPromises()
  expect(posted[0].document.parameters.accelColdFactor).toBe(3.05)
  expect(posted[0].document.provenance.accelColdFactor).toBe('learned from 8 throttle steps of a cold engine of road.csv')
  const map = await show(judged({ says: 'too-few', steps: [], times: null, cold: { ...cold, steps: 0, says: 'map-first', times: null } }))
  expect(map.w.get('[data-testid="cold-steps"]').text()).toContain('the map itself goes from one error to another')
  const first = await show(judged({ cold }))
  expect(first.w.find('[data-testid="cold-steps-accept"]').exists()).toBe(false)
  expect(first.w.get('[data-testid="cold-steps"]').text()).toContain('Put the warm ones right first')
})

const length = { steps: 9, coolantC: 30, standsS: 0.3, fitsS: 0.6, fromS: 0.42, toS: 0.857, misplacedPctS: 3.04 } as const
const next = { lengthS: 0.6, warmTimes: 0.5, coldTimes: 1.5 }
const quiet = { says: 'right', times: null } as const
it('fuel that does not last long enough for a cold engine makes the version in which it does, before its factor', async () => {
  const { w, posted } = await show(judged({ ...quiet, cold, length: { ...length, says: 'too-short', next } }))
  expect(w.get('details').attributes('open')).toBeDefined()
  expect(w.get('[data-testid="step-length"]').text().replace(/\s+/g, ' ')).toContain(
    'It does not last long enough: 3.0 %·s come at the wrong moment, however much is given. It decays in 0.3 s, and from 0.42 to 0.86 s fit the 9 cold steps.',
  )
  expect(w.find('[data-testid="cold-steps-accept"]').exists()).toBe(false)
  expect(w.get('[data-testid="step-length-accept"]').text()).toBe('A version in which it decays in 0.6 s for 0.3 s')
  // 1.6 given at 30 degC, 2.4 wanted: 1 + 1.4 / 0.6, to a twentieth
  expect(w.get('[data-testid="step-length"]').text()).toContain('3.35 times for 2 times at 0 °C')
  await w.get('[data-testid="step-length-accept"]').trigger('click')
  await flushPromises()
  expect(posted[0].document.parameters).toMatchObject({ accelDecayS: 0.6, accelColdFactor: 3.35 })
  expect(posted[0].document.provenance.accelDecayS).toBe('learned from 9 throttle steps of a cold engine of road.csv')
})
it.each([
  [{ ...length, says: 'too-long', next }, 'It lasts too long: 3.0 %·s', true],
  [{ ...length, says: 'right', next: null }, 'It lasts as long as is wanted: it decays in 0.3 s, and from 0.42 to 0.86 s fit', false],
  [
    { ...length, fromS: 0.02, toS: 5, says: 'unsure', next: null },
    'does not show yet: it decays in 0.3 s, and from under 0.1 to over 3 s fit the 9 cold steps. Steps from colder tell more',
    false,
  ],
] as [StepsJudged['length'], string, boolean][])('%j: %s', async (told, words, offered) => {
  const { w } = await show(judged({ ...quiet, length: told }))
  expect(w.get('[data-testid="step-length"]').text().replace(/\s+/g, ' ')).toContain(words)
  expect(w.find('[data-testid="step-length-accept"]').exists()).toBe(offered)
})
it('a length waits for the warm steps, for a log that is believed, and is not spoken of on too few', async () => {
  const off = { ...length, says: 'too-short', next } as const
  const first = await show(judged({ length: off }))
  expect(first.w.get('[data-testid="step-length"]').text()).toContain('Put the warm ones right first')
  expect(first.w.find('[data-testid="step-length-accept"]').exists()).toBe(false)
  const unsound = await show(judged({ ...quiet, length: off }), { sound: false })
  expect(unsound.w.find('[data-testid="step-length-accept"]').exists()).toBe(false)
  const few = await show(judged({ ...quiet, length: { ...off, says: 'too-few', next: null } }))
  expect(few.w.find('[data-testid="step-length"]').exists()).toBe(false)
})
