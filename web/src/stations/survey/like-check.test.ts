import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { notLookedAt } from '@vectum/core'
import { openBuild } from '../../testing/open-build.fixture.ts'
import LikeCheck from './LikeCheck.vue'

const taken = { choices: { survey: { like: { title: 'the one before', taken: { 'engine/cylinders': 6, 'fuel/tankL': 60 } } } } }
const paths = ['facts.engine.cylinders', 'facts.engine.displacementCc']

describe('facts taken over from a like car', () => {
  it('names those of the zone, and takes them off the list when somebody has looked', async () => {
    const builds = await openBuild(taken)
    const w = mount(LikeCheck, { props: { paths } })
    expect(w.text()).toContain('Taken over from the one before, not looked at on this car: Cylinders')
    await w.find('[data-testid="looked"]').trigger('click')
    expect(notLookedAt(builds.context!)).toEqual(['fuel.tankL'])
    expect(w.text()).toContain('other zones, as taken over from the one before: 1')
  })
  it('says nothing on a build of its own', async () => {
    await openBuild()
    expect(mount(LikeCheck, { props: { paths } }).text()).toBe('')
  })
})
