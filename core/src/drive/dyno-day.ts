import { z } from 'zod'
import { type LearnCell, PROVEN_SECONDS } from '../learn/index.ts'
import { ROAD_LOAD_SHARE } from './legs.ts'
import type { LoadScale } from './load.ts'

/** What is left for a dynamometer: steady states of moderate load first, then pulls with the throttle open. */
export const DynoDay = z.object({
  holds: z.array(z.object({ rpm: z.number(), load: z.number(), seconds: z.number() })).describe('in the order they are run'),
  pulls: z.int().describe('pulls with the throttle open, each from the lowest to the highest speed'),
  fromRpm: z.number(),
  toRpm: z.number(),
  coolS: z.number().describe('of cooling after each pull, s'),
  minutes: z.number().describe('with settling, and with cooling down after each pull'),
})
export type DynoDay = z.infer<typeof DynoDay>

/** Speed rises so much in a second on a pull: inside what a log counts as steady. */
const PULL_RPM_PER_S = 120
/** Pulls are made between these: over the idle, and under the redline. */
const FROM_IDLE = 2
const UNDER_REDLINE = 0.95
/** A state settles for so long before it counts; an engine cools for so long after a pull, s. */
const SETTLE_S = 5
const COOL_S = 90

/** Cells that no road reaches, as holds in the order of load, then of speed; and full load as pulls: needed seconds over seconds per pull. */
export function dynoDay(
  scale: LoadScale,
  cells: readonly { needS: number; where: string }[],
  {
    barometerKpa,
    redlineRpm,
    idleRpm,
    seen: states,
  }: { barometerKpa: number; redlineRpm: number; idleRpm: number; seen: readonly Pick<LearnCell, 'state' | 'missingSeconds'>[] | null },
): DynoDay {
  const nr = scale.rpm.length
  const high = (c: number) => scale.mapKpa(scale.rpm[c % nr], scale.axis[Math.floor(c / nr)]) > ROAD_LOAD_SHARE * barometerKpa
  const holds = cells
    .flatMap(({ needS, where }, c) =>
      where === 'dyno' && !high(c) ? [{ rpm: scale.rpm[c % nr], load: scale.axis[Math.floor(c / nr)], seconds: Math.ceil(needS) }] : [],
    )
    .sort((a, b) => a.load - b.load || a.rpm - b.rpm)
  const [fromRpm, toRpm] = [FROM_IDLE * idleRpm, UNDER_REDLINE * redlineRpm]
  // full load is dangerous when it is lean, however seldom it is used: every cell of it is proven, where the engine can be held under load
  let pulls = 0
  for (let i = 0; i < nr; i++) {
    if (scale.rpm[i] < fromRpm || scale.rpm[i] > toRpm) continue
    for (let j = 0; j < scale.axis.length; j++) {
      const c = j * nr + i
      if (!high(c)) continue
      const seen = states?.[c]
      if (seen?.state === 'proven') continue
      const needS = seen?.state === 'thin' ? Math.max(1, seen.missingSeconds) : PROVEN_SECONDS
      const width = (scale.rpm[Math.min(nr - 1, i + 1)] - scale.rpm[Math.max(0, i - 1)]) / 2
      pulls = Math.max(pulls, Math.ceil(needS / (width / PULL_RPM_PER_S)))
    }
  }
  const pullS = (toRpm - fromRpm) / PULL_RPM_PER_S
  const seconds = holds.reduce((sum, h) => sum + h.seconds + SETTLE_S, 0) + pulls * (pullS + COOL_S)
  return { holds, pulls, fromRpm, toRpm, coolS: COOL_S, minutes: seconds / 60 }
}
