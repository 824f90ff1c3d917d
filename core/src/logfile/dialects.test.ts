import { describe, expect, it } from 'vitest'
import { writtenLog } from './dialect.fixture.ts'
import type { ChannelId } from './channels.ts'
import { readLog } from './read.ts'

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text)
/** how far a reading may be off, by what its writer rounded away */
const within: Partial<Record<ChannelId, number>> = {
  timeS: 0.06,
  rpm: 1,
  mapKpa: 0.4,
  throttlePct: 0.1,
  lambda: 0.002,
  lambdaTarget: 0.002,
  coolantC: 0.5,
  intakeAirC: 0.5,
  batteryV: 0.02,
  correctionPct: 0.1,
  pulseMs: 0.02,
  advanceDegBtdc: 0.1,
  speedKmh: 0.2,
}

function compared(seed: number, unitsWritten: boolean) {
  const { text, driven, ids } = writtenLog(seed, unitsWritten)
  const log = readLog(bytes(text))
  const wrong = ids.filter((id) => {
    const read = id === 'timeS' ? log.timeS : log.channels[id]
    if (!read) return true
    return [100, 333, 500, 777].some((i) => Number.isFinite(read[i]) && Math.abs(read[i] - driven[id][i]) > within[id]!)
  })
  return { asked: log.unsure, wrong }
}
const SEEDS = Array.from({ length: 150 }, (_, i) => i + 1)

describe('logs in any dialect', () => {
  it('with units written read to the same channels, or ask; they ask in under 5 %', () => {
    let asked = 0
    for (const seed of SEEDS) {
      const seen = compared(seed, true)
      if (seen.asked.length) asked++
      else expect(seen.wrong, `seed ${seed}`).toEqual([])
    }
    expect(asked).toBeLessThan(0.05 * SEEDS.length)
  })
  it('without units read to the same channels, or ask', () => {
    for (const seed of SEEDS.slice(0, 60)) {
      const seen = compared(seed, false)
      if (!seen.asked.length) expect(seen.wrong, `seed ${seed}`).toEqual([])
    }
  })
})
