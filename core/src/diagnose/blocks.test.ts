import { describe, expect, it } from 'vitest'
import type { LogData } from '../logfile/read.ts'
import type { Samples } from '../samples/samples.ts'
import { blocksOf } from './blocks.ts'

const HERTZ = 20
/** Steady running at one place, rows of which some are left out, as a log and what was judged of it. */
function steady(seconds: number, left: (s: number) => boolean = () => false) {
  const n = Math.round(seconds * HERTZ)
  const column = (v: number) => new Float32Array(n).fill(v)
  const timeS = Float64Array.from({ length: n }, (_, i) => i / HERTZ)
  const log = { timeS, channels: { rpm: column(2000), mapKpa: column(50), lambda: column(1), pulseMs: column(4) } as LogData['channels'] }
  const samples = {
    fate: Uint8Array.from(timeS, (s) => (left(s) ? 1 : 0)),
    causeRpm: column(2000),
    causeMapKpa: column(50),
    error: column(0.02),
    overTarget: column(0),
    stepS: column(1 / HERTZ),
  } as unknown as Samples
  return { log, samples }
}
const blocks = (...of: Parameters<typeof steady>) => {
  const { log, samples } = steady(...of)
  return blocksOf(log, samples)
}

describe('steady running in blocks', () => {
  it('of four seconds: 25 in a hundred', () => expect(blocks(100)).toHaveLength(25))
  it('at most 120 of them, spread over all of a log', () => {
    const list = blocks(1200)
    expect(list).toHaveLength(120)
    expect(list.at(-1)!.timeS).toBeGreaterThan(1180)
  })
  // every second stretch of so long, six of them
  it.each([
    [0.85, 6],
    [0.75, 0],
  ])('one of %d s counts: %d', (lastsS, count) => expect(blocks(12, (s) => (s % 2) + 1e-9 >= lastsS)).toHaveLength(count))
  it('tell the middle pulse, and what is wanted in per cent', () => {
    const { log, samples } = steady(20)
    // one row in five is lengthened by a foot
    log.channels.pulseMs!.forEach((_, i) => i % 5 === 0 && (log.channels.pulseMs![i] = 9))
    const [first] = blocksOf(log, samples)
    expect([first.pulseMs, first.needPct]).toEqual([4, expect.closeTo(2, 5)])
  })
})
