import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it } from 'vitest'
import { computeBaseTune, type TuneParameters } from '@vectum/core'
import { madeReading, soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import TuneProposals from './TuneProposals.vue'

const { facts, choices } = soundBuild()
const parameters = computeBaseTune(facts, choices).parameters
const pressed = (more: object) =>
  madeReading('start.throttle', { shutPct: 0, openPct: 100, largestJumpPct: 4, deadSpotsPct: [], problems: [], ...more })
afterEach(flushPromises)

describe('what is offered to the parameters', () => {
  it('the throttle’s ends as they were pressed, taken with one press and nothing else changed', async () => {
    await openBuild({}, [pressed({ openPct: 91, problems: ['opens to 91 %'] })])
    const w = mount(TuneProposals, { props: { parameters } })
    expect(w.text()).toContain('shut 0.50 V, open 4.14 V')
    await w.find('[data-testid="take-ends"]').trigger('click')
    const [[taken]] = w.emitted<[TuneParameters]>('change')!
    expect(taken).toEqual({ ...parameters, throttleShutV: 0.5, throttleOpenV: 4.14 })
  })
  it('a low limit while the timing is not proved, and not twice', async () => {
    await openBuild()
    const w = mount(TuneProposals, { props: { parameters } })
    await w.find('[data-testid="take-limit"]').trigger('click')
    const [[taken]] = w.emitted<[TuneParameters]>('change')!
    expect(taken.revLimitRpm).toBe(3000)
    expect(
      mount(TuneProposals, { props: { parameters: taken } })
        .find('[data-testid="proposals"]')
        .exists(),
    ).toBe(false)
  })
  it('nothing without a reason: timing left to the old distributor and good presses', async () => {
    await openBuild({ choices: { spark: { trigger: 'speed-signal' }, plan: { timingControl: false } } }, [pressed({})])
    expect(mount(TuneProposals, { props: { parameters } }).find('[data-testid="proposals"]').exists()).toBe(false)
  })
})
