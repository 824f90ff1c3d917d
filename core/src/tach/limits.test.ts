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
})
