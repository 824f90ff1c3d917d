import { type Build } from '@vectum/core'
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import { useSettings } from '../stores/settings.ts'
import { openBuild } from '../testing/open-build.fixture.ts'
import Docket from './Docket.vue'

const nothing = { template: '<i />' }
async function docket(patch: object, station: string) {
  const builds = await openBuild(patch)
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      {
        path: '/builds/:id',
        children: ['survey', 'plan', 'fuel', 'spark', 'wiring', 'fitup', 'tune', 'start', 'learn', 'handover'].map((id) => ({
          path: id,
          name: id,
          component: nothing,
        })),
        component: nothing,
      },
    ],
  })
  await router.push({ name: station, params: { id: 'sound' } })
  const w = mount(Docket, { props: { build: builds.current as Build }, global: { plugins: [router] } })
  return { w, router }
}

describe('the docket steers', () => {
  it('Next leads to the field that is wanted', async () => {
    const { w, router } = await docket({ facts: { engine: { cylinders: null } } }, 'fuel')
    expect(w.find('[data-testid="next"]').text()).toContain('Enter the number of cylinders')
    await w.find('[data-testid="next"]').trigger('click')
    await router.isReady()
    await new Promise((done) => setTimeout(done))
    expect(router.currentRoute.value).toMatchObject({ name: 'survey', query: { at: 'facts.engine.cylinders' } })
  })
  it('a finding is one tap to the place that settles it, with the value offered', async () => {
    const { w } = await docket({ choices: { spark: { referenceDeg: 20 } } }, 'spark')
    const card = w.findAll('a.card').find((a) => a.text().includes('The pulse comes after the spark is due'))!
    expect(card.attributes('href')).toMatch(/^\/builds\/sound\/spark\?tab=trigger&at=choices\.spark\.referenceDeg&offer=[\d.]+$/)
  })
  it('findings and numbers stand in the units of who reads', async () => {
    const { w } = await docket({ choices: { plan: { fuelPressureKpa: 250 } } }, 'fuel')
    expect(w.text()).toContain('300 kPa at the regulator, 250 kPa in the plan')
    useSettings().system = 'inch'
    await w.vm.$nextTick()
    expect(w.text()).toContain('43.5 psi at the regulator, 36.3 psi in the plan')
    expect(w.text()).not.toContain('kPa in the plan')
  })
})
