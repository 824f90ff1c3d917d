import { mount } from '@vue/test-utils'
import { beforeEach, expect, it } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import { openBuild } from '../testing/open-build.fixture.ts'
import PartsView from './PartsView.vue'

beforeEach(async () => void (await openBuild()))
const shown = () => {
  const empty = { template: '<div/>' }
  const router = createRouter({
    history: createMemoryHistory(),
    routes: ['/', '/:id/start', '/:id/fuel', '/:id/tune'].map((path) => ({ path, name: path.split('/')[2] ?? 'board', component: empty })),
  })
  return mount(PartsView, { global: { plugins: [router] }, attachTo: document.body })
}

it('shows each part in each of its states', () => {
  const w = shown()
  for (const words of ['stop', 'Look', 'Note', 'not answered', 'Of the bench', 'Rehearsal, not the car'])
    expect(w.text().toLowerCase()).toContain(words.toLowerCase())
  // four marks as they are, four dashed, none of them twice alike
  const marks = w.findAll('svg.dashed')
  expect(marks).toHaveLength(4)
  expect(w.findAll('svg.open, svg.ready, svg.cleared, svg.blocked').length).toBeGreaterThanOrEqual(8)
  w.unmount()
})
it('a field beyond its bound says so and keeps what was typed', async () => {
  const w = shown()
  const field = w.findAll('input').find((i) => i.element.id === 'f-bounded')!
  await field.setValue('601')
  await field.trigger('change')
  expect(w.text()).toContain('Bounded must be at most 600 kPa')
  expect((field.element as HTMLInputElement).value).toBe('601')
  await field.setValue('600')
  await field.trigger('change')
  expect(w.text()).not.toContain('must be at most')
  w.unmount()
})
it('arrows walk along the rooms', async () => {
  const w = shown()
  const tab = () => w.find('[role="tab"][aria-selected="true"]')
  expect(tab().text()).toBe('First room')
  await tab().trigger('keydown', { key: 'ArrowRight' })
  expect(tab().text()).toBe('Second')
  w.unmount()
})
