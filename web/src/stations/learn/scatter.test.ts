import { flushPromises, mount } from '@vue/test-utils'
import { expect, it } from 'vitest'
import type { Scatter, ScatterOver } from '@vectum/core'
import ErrorScatter from './ErrorScatter.vue'

const rows: Partial<Record<ScatterOver, Scatter>> = {
  pulseMs: {
    points: [
      { x: 2, errorPct: 12 },
      { x: 4, errorPct: 6 },
      { x: 6, errorPct: 4 },
    ],
    means: [
      { x: 2.1, errorPct: 11.4 },
      { x: 5.8, errorPct: 4.1 },
    ],
  },
}
it('offers what the log tells, draws its rows and their mean, and says it in words', async () => {
  const asked: ScatterOver[] = []
  const scatter = async (over: ScatterOver) => {
    asked.push(over)
    return rows[over] ?? null
  }
  const w = mount(ErrorScatter, { props: { solved: { logId: 'a', channels: ['timeS', 'rpm', 'pulseMs', 'lambda'], scatter } } })
  await flushPromises()
  expect(w.findAll('[role="radio"]').map((o) => o.text())).toEqual(['pulse width', 'engine speed'])
  const [first, , last] = w.findAll('circle').map((c) => [Number(c.attributes('cx')), Number(c.attributes('cy'))])
  expect(first[0]).toBeLessThan(last[0])
  expect(first[1]).toBeLessThan(last[1])
  expect(w.find('figcaption').text()).toBe('On the mean +11.4 % at 2.10 ms, +4.1 % at 5.80 ms.')
  await w.findAll('[role="radio"]')[1].trigger('click')
  await flushPromises()
  expect(asked).toEqual(['pulseMs', 'rpm'])
  expect(w.text()).toContain('No row of this log was used.')
})
