import { describe, expect, it } from 'vitest'
import { madeReading, severityOf } from '../judge/made-up.fixture.ts'

describe('limits of a tachometer', () => {
  const shown = (share: number) =>
    severityOf(
      'tach.reads-wrong',
      {},
      [1000, 2000, 3000, 4000].map((trueRpm) => madeReading('tach.reading', { trueRpm, shownRpm: trueRpm * share })),
    )
  it.each([
    [1.038, null],
    [1.042, 'warn'],
    [0.962, null],
    [0.958, 'warn'],
  ])('shows %d of the truth', (share, severity) => expect(shown(share)).toBe(severity))
  it('a needle that takes longer than 0.6 s to follow misleads', () => {
    const follow = (tauS: number) =>
      severityOf('tach.slow', {}, [
        madeReading('tach.step', {
          fromRpm: 1000,
          toRpm: 4000,
          points: [0.1, 0.2, 0.4, 0.6, 0.9, 1.3, 1.8].map((timeS) => ({ timeS, shownRpm: 4000 - 3000 * Math.exp(-timeS / tauS) })),
        }),
      ])
    expect([follow(0.57), follow(0.63)]).toEqual([null, 'note'])
  })
})
