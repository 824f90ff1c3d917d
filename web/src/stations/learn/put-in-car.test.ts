import { flushPromises, mount, RouterLinkStub } from '@vue/test-utils'
import { afterEach, expect, it, vi } from 'vitest'
import { useBuild } from '../../stores/build.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import PutInCar from './PutInCar.vue'

const version = (number: number, more: object = {}) => ({
  ...{
    id: `11111111-1111-4111-8111-11111111111${number}`,
    number,
    name: 'x',
    status: 'draft',
    origin: 'edited',
    parentId: null,
    logId: null,
  },
  ...{ createdBy: 'Ada', createdAt: '2026-01-01T00:00:00Z', inCarSince: null, problems: [] },
  ...more,
})
const inCar = version(1, { status: 'in-car', inCarSince: '2026-01-02T00:00:00Z' })
const log = {
  id: '22222222-2222-4222-8222-222222222222',
  name: 'b',
  rows: 9,
  durationS: 9,
  source: 'bench',
  createdAt: '2026-01-03T00:00:00Z',
}
async function waiting(tunes: object[], logs: object[] = []) {
  await openBuild({ tunes, logs })
  return mount(PutInCar, { global: { stubs: { RouterLink: RouterLinkStub } } })
}
afterEach(() => vi.unstubAllGlobals())

it('offers the last version made of the one in the car, and says which unit it goes into', async () => {
  const w = await waiting([inCar, version(2, { parentId: inCar.id, status: 'retired' }), version(3, { parentId: inCar.id })])
  expect(w.text()).toContain('Version 3 is stored and not in the car yet.')
  useBuild().view = 'rehearsal'
  await w.vm.$nextTick()
  expect(w.find('button').text()).toBe('Put it in the bench’s unit')
  const sent: { url: string; body: unknown }[] = []
  vi.stubGlobal('fetch', async (url: string, options: RequestInit = {}) => {
    if (options.method === 'PATCH') sent.push({ url, body: JSON.parse(String(options.body)) })
    return new Response(JSON.stringify({ detail: 'This version has a stop: lean at full load.' }), {
      status: 409,
      headers: { 'content-type': 'application/json' },
    })
  })
  await w.find('button').trigger('click')
  await flushPromises()
  expect(sent).toEqual([{ url: expect.stringContaining(`/tunes/${version(3).id}`), body: { status: 'in-car', view: 'rehearsal' } }])
  expect(w.find('[role="alert"]').text()).toContain('lean at full load')
})
it('is silent when nothing waits; what the bench taught is not offered to the car', async () => {
  expect((await waiting([inCar, version(2)])).find('[data-testid="put-in-car"]').exists()).toBe(false)
  const w = await waiting([inCar, version(2, { parentId: inCar.id, origin: 'learned', logId: log.id })], [log])
  expect(w.text()).toContain('learned on the bench')
  expect(w.find('button').exists()).toBe(false)
})
