import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import type { ScopeVerdict } from '../../workers/scope-worker.ts'
import ScopeNumbers from './ScopeNumbers.vue'

const sound: ScopeVerdict = {
  kind: 'magnetic',
  slope: 'falling',
  unsure: null,
  counted: null,
  pulses: 105,
  firstS: 0,
  missing: [],
  extra: [],
  rpm: 598.7,
  jitterDeg: 0.083,
  noiseV: 0.04,
  peakV: 1.5,
  thresholdV: 0.45,
}
const shown = (verdict: Partial<ScopeVerdict>, polarity: 'right' | 'reversed' | 'unknown' = 'right') =>
  mount(ScopeNumbers, { props: { verdict: { ...sound, ...verdict }, polarity } })

describe('numbers of a scope’s record', () => {
  it('speed, missing of all that should be there, jitter, peak over noise', () => {
    const text = shown({ missing: [0.1, 0.2] }).text()
    for (const part of ['599 rpm', 'Missing of 107', '0.08°', '1.50 / 0.04 V', 'as set up']) expect(text).toContain(part)
    expect(text).not.toContain('between its gaps')
  })
  it('shows the wheel as counted, and why a polarity cannot be told', () => {
    const text = shown({ counted: { places: 36, missing: 2 }, unsure: 'the signal is a wave without a gap' }, 'unknown').text()
    expect(text).toContain('36 less 2')
    expect(text).toContain('cannot be told: the signal is a wave without a gap.')
  })
  it('what is wrong stands out: missing, too many, the wrong way round; what is sound does not', () => {
    expect(shown({}).findAll('.stop')).toHaveLength(0)
    expect(shown({ missing: [1], extra: [2] }, 'reversed').findAll('.stop')).toHaveLength(3)
  })
})
