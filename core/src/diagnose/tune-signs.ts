import type { LogData } from '../logfile/index.ts'
import { bilinear, pulseAsked } from '../tune/index.ts'
import type { Block } from './blocks.ts'
import type { DiagnosedCar } from './car.ts'
import type { Cause } from './causes.ts'
import type { Sign } from './direct.ts'
import { LEARNED_MEAN_PCT, MOST_SIGN, OTHER_CAR_PCT, PULSE_APART_PCT, TARGET_APART } from './limits.ts'

const INNER_SHARE = 0.8
/** Whether the pulses are those that the tune asks for: else the unit holds another tune, or has learned what nobody was told. */
export function tuneSigns(blocks: readonly Block[], channels: LogData['channels'], { held, learns }: DiagnosedCar): Sign[] {
  if (
    !held ||
    !channels.pulseMs ||
    (held.runner && !channels.throttlePct) ||
    !channels.correctionPct ||
    channels.learnedPct?.some((v) => Math.abs(v) > 0.5)
  )
    return []
  const usable = blocks.filter((b) => Number.isFinite(b.pulseMs) && Number.isFinite(b.intakeAirC) && Number.isFinite(b.coolantC))
  if (usable.length < 12) return []
  const apart = usable.map((b) => {
    const asked = pulseAsked(held, { ...b, batteryV: Number.isFinite(b.batteryV) ? b.batteryV : 13.8, lambda: b.target })
    return 100 * ((b.pulseMs - asked.deadMs) / (asked.openMs * (1 + b.correctionPct / 100)) - 1)
  })
  const target = usable.map((b) => Math.abs(b.target - bilinear(held.axes, held.tables.lambdaTarget, b.rpm, b.mapKpa)))
  const mean = (values: readonly number[]) => values.reduce((a, v) => a + v, 0) / values.length
  // a few blocks after a cut of fuel or a tip-in carry fuel of their own
  const inner = apart
    .map(Math.abs)
    .sort((a, b) => a - b)
    .slice(0, Math.ceil(INNER_SHARE * apart.length))
  const rms = Math.sqrt(mean(inner.map((v) => v * v)))
  const otherTarget = mean(target) > TARGET_APART
  if (rms < PULSE_APART_PCT && !otherTarget) return []
  const shift = mean(apart)
  // the same factor everywhere is another engine or other injectors; a pattern within what a unit may learn is that, or another table
  const group: Cause[] =
    otherTarget || Math.abs(shift) > OTHER_CAR_PCT || learns === 'nobody'
      ? ['other-tune', 'other-car']
      : Math.abs(shift) > LEARNED_MEAN_PCT
        ? ['other-tune', 'learned-apart', 'other-car']
        : ['learned-apart', 'other-tune']
  const evidence = otherTarget
    ? `its targets differ from the tune’s by ${mean(target).toFixed(3)} lambda`
    : `its pulses differ from what the tune asks for by ${rms.toFixed(1)} % rms, ${Math.min(...apart).toFixed(1)} to ${Math.max(...apart).toFixed(1)} %`
  return [{ cause: group[0], group, logBayes: Math.min(MOST_SIGN, 10 + rms), evidence }]
}
