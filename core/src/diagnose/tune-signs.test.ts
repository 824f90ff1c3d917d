import { expect, it } from 'vitest'
import { soundBuild } from '../judge/made-up.fixture.ts'
import type { LogData } from '../logfile/read.ts'
import { bilinear, computeBaseTune, pulseAsked } from '../tune/index.ts'
import type { Block } from './blocks.ts'
import { tuneSigns } from './tune-signs.ts'

/** Twenty places of a log whose pulses are open longer than the tune asks for, and whose targets stand beside its own. */
function says({ longerPct = 0, targetOver = 0 }) {
  const { facts, choices } = soundBuild()
  const held = computeBaseTune(facts, choices)
  const blocks = Array.from({ length: 20 }, (_, k) => {
    const at = { rpm: 1200 + 100 * k, mapKpa: 40 + k, intakeAirC: 25, coolantC: 88, batteryV: 13.8, correctionPct: 0 }
    const target = bilinear(held.axes, held.tables.lambdaTarget, at.rpm, at.mapKpa) + targetOver
    const { deadMs, openMs } = pulseAsked(held, { ...at, lambda: target } as never)
    return { ...at, target, pulseMs: deadMs + openMs * (1 + longerPct / 100) } as Block
  })
  const channels = { pulseMs: new Float32Array(1), correctionPct: new Float32Array(1) } as LogData['channels']
  return tuneSigns(blocks, channels, { barometerKpa: 100, held, learns: 'trim' })[0]?.group
}
it.each([
  [{}, undefined],
  [{ longerPct: 2.4 }, undefined],
  [{ longerPct: 2.6 }, ['learned-apart', 'other-tune']],
  [{ longerPct: 7.7 }, ['learned-apart', 'other-tune']],
  [{ longerPct: 8.3 }, ['other-tune', 'learned-apart', 'other-car']],
  [{ longerPct: 21 }, ['other-tune', 'learned-apart', 'other-car']],
  [{ longerPct: 23 }, ['other-tune', 'other-car']],
  [{ targetOver: 0.014 }, undefined],
  [{ targetOver: 0.016 }, ['other-tune', 'other-car']],
])('pulses and targets beside those of the tune, %o: %o', (of, group) => expect(says(of)).toEqual(group))
