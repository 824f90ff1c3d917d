import { describe, expect, it } from 'vitest'
import { handoverReport } from '../judge/report.ts'
import { madeReading, severityOf, soundBuild } from '../judge/made-up.fixture.ts'
import { wordsOf } from '../kernel/index.ts'

const before = { facts: { baseline: { coldStartS: 12, idleRpm: 850, pullAway: 2, fuelUseLPer100km: 14 } } }
const ran = madeReading('start.ran', { secondsToFire: 1, idleRpm: 700, coolantC: 80, tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80009' })
const after = madeReading('handover.after', { coldStartS: 2, pullAway: 5, hotRestartS: 3 })

describe('before and after', () => {
  it('stands on the sheet where both were measured, and nowhere else', () => {
    const lines = handoverReport(soundBuild(before, [ran, after])).find((s) => s.id === 'before-after')!.lines
    expect(lines.map((l) => `${l.label}: ${wordsOf(l.text)}`)).toEqual([
      'Cold start takes: 12 s before, 2 s after',
      'Pull-away: 2 before, 5 good after',
    ])
  })
  it('asks for the second rating once it runs, and not where there was no first', () => {
    expect(severityOf('handover.after', before, [ran])).toBe('note')
    expect(severityOf('handover.after', before, [ran, after])).toBeNull()
    expect(severityOf('handover.after', before)).toBeNull()
    expect(severityOf('handover.after', {}, [ran])).toBeNull()
  })
})
