import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { DynoRow } from '@vectum/core'
import { openBuild } from '../../testing/open-build.fixture.ts'
import BenchDyno from './BenchDyno.vue'

const row = (rpm: number, torqueNm: number, more: Partial<DynoRow> = {}): DynoRow => ({
  rpm,
  torqueNm,
  powerKw: (torqueNm * rpm * Math.PI) / 30_000,
  mapKpa: 98,
  lambda: 0.87,
  advanceDegBtdc: 28,
  knocks: 0,
  ...more,
})
async function dyno(answer: () => Response) {
  await openBuild()
  const fetcher = vi.fn(async (_url: string, _options?: RequestInit) => answer())
  vi.stubGlobal('fetch', fetcher)
  const w = mount(BenchDyno, { global: { stubs: { LineChart: true } } })
  await w.find('[data-testid="dyno-run"]').trigger('click')
  await flushPromises()
  return { w, fetcher }
}
const json = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })
afterEach(() => vi.unstubAllGlobals())

describe('the bench dynamometer', () => {
  it('asks for a sweep up to just under the redline and tells the best of what came back', async () => {
    const { w, fetcher } = await dyno(() =>
      json(200, { tune: { id: 't4', number: 4 }, rows: [row(1500, 200), row(3000, 230), row(4500, 190, { lambda: 0.91 })] }),
    )
    expect(JSON.parse(String(fetcher.mock.calls[0][1]!.body))).toMatchObject({
      mode: 'sweep',
      fromRpm: 1500,
      toRpm: 4900,
      throttlePct: 100,
    })
    const text = w.find('[data-testid="dyno-summary"]').text()
    expect(text).toContain('Tune 4: 230 Nm at')
    expect(text).toContain('4500 rpm; leanest lambda 0.91')
    expect(text).toContain('No knock was heard')
  })
  it('says where it knocked', async () => {
    const { w } = await dyno(() =>
      json(200, { tune: { id: 't1', number: 1 }, rows: [row(1500, 200, { knocks: 3 }), row(1800, 205, { knocks: 1 }), row(3000, 220)] }),
    )
    expect(w.find('[data-testid="dyno-summary"]').text()).toContain('It knocked from 1500 to 1800 rpm')
  })
  it('shows why it would not run', async () => {
    const { w } = await dyno(() => json(409, { code: 'GATE_SHUT', detail: 'The engine has not run yet' }))
    expect(w.find('[role="alert"]').text()).toContain('has not run yet')
    expect(w.find('[data-testid="dyno-summary"]').exists()).toBe(false)
  })
})
