import { mount } from '@vue/test-utils'
import { ref } from 'vue'
import { expect, it, vi } from 'vitest'
import { LANDING } from '../shell/landing.ts'
import { useSettings } from '../stores/settings.ts'
import { openBuild } from '../testing/open-build.fixture.ts'
import { pick, words } from './field.ts'
import FactField from './FactField.vue'

const type = async (w: ReturnType<typeof mount>, text: string) => {
  await w.find('input').setValue(text)
  await w.find('input').trigger('change')
}

it('a list of figures is typed in the units seen and kept metric', async () => {
  const builds = await openBuild()
  useSettings().system = 'inch'
  const w = mount(FactField, {
    props: {
      field: { kind: 'numbers', path: 'facts.health.compressionKpa', label: 'Compression', dimension: 'pressure', example: '150 155' },
    },
  })
  await type(w, '150 155  160')
  const kept = builds.current!.facts.health!.compressionKpa!
  expect(kept.map((v) => Math.round(v))).toEqual([1034, 1069, 1103])
  await type(w, '150 many')
  expect(w.find('[role="alert"]').text()).toContain('type the list like 150 155')
  expect(builds.current!.facts.health!.compressionKpa).toEqual(kept)
})
it('one of some options, and pressed again it is not known', async () => {
  const builds = await openBuild()
  const w = mount(FactField, {
    props: {
      field: pick('facts.exhaust.kind', [
        ['manifold', 'cast manifold'],
        ['headers', 'headers'],
      ]),
    },
  })
  await w.findAll('button')[1].trigger('click')
  expect(builds.current!.facts.exhaust!.kind).toBe('headers')
  await w.findAll('button')[1].trigger('click')
  expect(builds.current!.facts.exhaust!.kind).toBeUndefined()
})
it('text too long is refused with its bound, and can be put back', async () => {
  const builds = await openBuild({ facts: { car: { owner: 'Ada' } } })
  const w = mount(FactField, { props: { field: words('facts.car.owner', 'Owner') } })
  await type(w, 'x'.repeat(200))
  expect(w.find('[role="alert"]').text()).toContain('80')
  await w.find('.undo').trigger('click')
  expect((w.find('input').element as HTMLInputElement).value).toBe('Ada')
  expect(builds.current!.facts.car!.owner).toBe('Ada')
})

it('a value that a finding offers is taken with one tap, and only at its own field', async () => {
  const builds = await openBuild()
  const landing = { at: ref<string | null>('choices.spark.referenceDeg'), offer: ref<string | null>('53.4'), done: vi.fn() }
  const show = (path: string) =>
    mount(FactField, {
      props: { field: { kind: 'quantity', path, label: 'Angle', dimension: 'angle' } },
      global: { provide: { [LANDING as symbol]: landing } },
    })
  expect(show('choices.spark.minAdvanceDeg').find('[data-testid="take-offer"]').exists()).toBe(false)
  const w = show('choices.spark.referenceDeg')
  expect(w.find('[data-testid="take-offer"]').text()).toBe('Take 53.4°')
  await w.find('[data-testid="take-offer"]').trigger('click')
  expect(builds.current!.choices.spark!.referenceDeg).toBe(53.4)
  expect(landing.done).toHaveBeenCalledOnce()
  expect(w.find('[data-testid="take-offer"]').exists()).toBe(false)
})

it('so is a choice that is offered; what is no option of it, or stands there already, is not', async () => {
  const builds = await openBuild({ facts: { cam: { class: 'mild' } } })
  const landing = { at: ref<string | null>('facts.cam.class'), offer: ref<string | null>('wild'), done: vi.fn() }
  const options = ['stock', 'mild', 'hot', 'wild'].map((value) => ({ value, label: `${value} one` }))
  const w = mount(FactField, {
    props: { field: { kind: 'choice', path: 'facts.cam.class', label: 'Cam', options } },
    global: { provide: { [LANDING as symbol]: landing } },
  })
  expect(w.find('[data-testid="take-offer"]').text()).toBe('Take wild one')
  await w.find('[data-testid="take-offer"]').trigger('click')
  expect(builds.current!.facts.cam!.class).toBe('wild')
  expect(w.find('[data-testid="take-offer"]').exists()).toBe(false)
  landing.offer.value = 'tame'
  await w.vm.$nextTick()
  expect(w.find('[data-testid="take-offer"]').exists()).toBe(false)
})
