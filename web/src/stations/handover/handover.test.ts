import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { openBuild } from '../../testing/open-build.fixture.ts'
import HandoverView from './HandoverView.vue'

describe('before and after', () => {
  it('the same driver rates again, and the sheet shows both', async () => {
    const builds = await openBuild({ facts: { baseline: { coldStartS: 12, pullAway: 2 } } })
    const w = mount(HandoverView)
    expect(w.find('.before-after').text()).toContain('Not measured both before and after')
    await w.find('#handover-after-coldStartS').setValue('2')
    await w.find('#handover-after-coldStartS').trigger('change')
    await w.find('[data-testid="record-handover.after"]').trigger('click')
    expect(builds.context!.readings.at(-1)).toMatchObject({ kind: 'handover.after', value: { coldStartS: 2 } })
    expect(w.find('.before-after').text()).toContain('12 s before, 2 s after')
  })
})
