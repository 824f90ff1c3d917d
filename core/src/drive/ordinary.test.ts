import { describe, expect, it } from 'vitest'
import type { LearnCell, LearnResult } from '../learn/index.ts'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import { baseComesFirst, ordinaryMinutes } from './ordinary.ts'
import { planDrive } from './plan.ts'

const cell = (seconds: number, more: Partial<LearnCell> = {}): LearnCell => ({
  ...{ i: 0, j: 0, rpm: 2000, mapKpa: 50, correctionPct: 0, standardErrorPct: 0.3, missingSeconds: 0, nearestMeanPct: null },
  ...{ seconds, state: 'proven', settled: true, leftPct: 0 },
  ...more,
})
const open = (seconds: number, leftPct: number) => cell(seconds, { settled: false, state: 'needs-correction', leftPct })
const result = (cells: LearnCell[], totals: object = {}): LearnResult =>
  ({
    ...{ cells, verdicts: [], sound: true },
    totals: { usedSeconds: 600, settledTimePct: 50, remainderRmsPct: 2, ...totals },
  }) as unknown as LearnResult

describe('ordinary driving that a learning unit still wants', () => {
  it('ten minutes before its first log; none once it has settled, nor of a log that does not tell what it holds', () => {
    expect(ordinaryMinutes(null, 0)).toBe(10)
    expect(ordinaryMinutes(result([cell(60)], { settledTimePct: 90, remainderRmsPct: 1 }), 600)).toBeNull()
    expect(ordinaryMinutes(result([cell(60)], { settledTimePct: undefined }), 600)).toBeNull()
  })
  // 30 ln(3 / 2) = 12.2 s: of a cell that got 20 s in 15 minutes that is 9.1 minutes more
  it('a cell that got 20 s in fifteen minutes and has 3 % left wants nine minutes more', () =>
    expect(ordinaryMinutes(result([cell(30), open(20, 3)]), 900)).toBe(9))
  it('what settles first comes first, until 85 % of the driving is settled: the last tenth is not waited for', () => {
    // 60 of 100 s have settled, 26 s more make 86; 30 ln(3.8 / 2) = 19.3 s, of 26 s in ten minutes: 7.4
    expect(ordinaryMinutes(result([cell(60), open(26, 3.8), open(14, 20)]), 600)).toBe(7)
    // with 24 s it is 84 %: then the last counts, 20 s at most of 16 s in ten minutes
    expect(ordinaryMinutes(result([cell(60), open(24, 3.8), open(16, 20)]), 600)).toBe(13)
  })
  it('never under five minutes, never over twenty', () => {
    expect(ordinaryMinutes(result([cell(90), open(60, 2.1)]), 300)).toBe(5)
    expect(ordinaryMinutes(result([open(4, 20)]), 1200)).toBe(20)
  })
  it('the base comes first where it never learns, or an answer is to be mended', () => {
    const by = (code: string) => baseComesFirst({ verdicts: [{ code, message: '' }] })
    expect([by('not-learned-here'), by('answer-to-mend'), by('short-pulse'), baseComesFirst(null)]).toEqual([true, true, false, false])
  })
  it('is in the plan of a unit that learns by itself, and in no other', () => {
    const build = demoBuild('2-rampart.json')
    const plan = (learns: 'itself' | 'nobody') =>
      planDrive({ ...build, choices: { ...build.choices, unit: { ...build.choices.unit, learns } } }, null, null).ordinaryMin
    expect([plan('itself'), plan('nobody')]).toEqual([10, null])
  })
})
