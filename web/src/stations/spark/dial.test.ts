import { describe, expect, it } from 'vitest'
import { ref } from 'vue'
import { contextOf } from '@vectum/core'
import { soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import { dialStory, phaseMargins, underTerminal } from './phase-margins.ts'
import { useDialDrag } from './use-dial-drag.ts'

const key = (name: string, shiftKey = false) => new KeyboardEvent('keydown', { key: name, shiftKey })
function dial(angles: { advanceDeg: number; referenceDeg: number | null; crankDeg: number }) {
  const told: [string, number?][] = []
  const hands = useDialDrag(ref(null), 190, angles, ((event: string, deg?: number) => void told.push([event, deg])) as never, (deg) => -deg)
  return { told, ...hands }
}

describe('hands of the dial', () => {
  it('arrows go by a degree, with shift by five, and settle; left is earlier', () => {
    const d = dial({ advanceDeg: 20, referenceDeg: 54, crankDeg: 20 })
    d.key('spark', key('ArrowLeft'))
    d.key('pulse', key('ArrowRight', true))
    expect(d.told).toEqual([
      ['update:advanceDeg', 21],
      ['settled', undefined],
      ['update:referenceDeg', 49],
      ['settled', undefined],
    ])
  })
  it('stops at the ends: -10 to 60° of spark, 0 to 120° of pulse', () => {
    const d = dial({ advanceDeg: 58, referenceDeg: 2, crankDeg: 0 })
    d.key('spark', key('ArrowUp', true))
    d.key('pulse', key('ArrowDown', true))
    expect(d.told.filter(([event]) => event !== 'settled')).toEqual([
      ['update:advanceDeg', 60],
      ['update:referenceDeg', 0],
    ])
  })
  it('the crank goes round and is only looked at; without a pulse there is none to move; other keys do nothing', () => {
    const d = dial({ advanceDeg: 20, referenceDeg: null, crankDeg: -358 })
    d.key('crank', key('ArrowRight', true))
    d.key('pulse', key('ArrowRight'))
    d.key('spark', key('Enter'))
    // five degrees past -358 is 357 the other way round the cycle
    expect(d.told).toEqual([['update:crankDeg', 357]])
  })
})

describe('what is said under the dial', () => {
  it('the rotor turns half as fast: 10 crank degrees sooner are 5 before its terminal', () => {
    expect(underTerminal(30, 20, 1)).toBe('5.0° before terminal 1')
    expect(underTerminal(10, 20, 1)).toBe('5.0° past terminal 1')
    expect(underTerminal(20, 20, 3)).toBe('0.0° under terminal 3')
    expect(dialStory(true, 30, 20, 1)).toContain(
      '10 crank degrees sooner; the rotor turns half as fast, so it stands 5.0° before terminal 1',
    )
    expect(dialStory(true, 20, 20, 1)).toContain('exactly under terminal 1')
    expect(dialStory(false, -4, 20, 1)).toContain('after top centre')
  })
  it('the pulse comes before the spark by its time: 24° at 1,000 rpm are 4,000 µs', () => {
    const now = { phase: null, referenceDeg: 54, advanceDeg: 30, rpm: 1000, chargeDeg: 40, syncMarginDeg: null, slackDeg: 0 }
    const margins = phaseMargins(contextOf(soundBuild()), now)
    expect(margins).toEqual([
      { label: 'Pulse to spark', text: '24°, 4000 µs', bad: false },
      { label: 'Coil charges over', text: '40°', bad: false },
    ])
    expect(phaseMargins(contextOf(soundBuild()), { ...now, referenceDeg: 30 })[0].bad).toBe(true)
  })
})
