import { CoreError } from '../kernel/index.ts'
import type { IdleOptions, IdleVerdict } from './answer.ts'
import { FAR_OVER_RPM, HUNT_RPM } from './limits.ts'
import { deviation, mean } from './measure.ts'
import { overTarget } from './over-target.ts'
import { type Judged, likely } from './rules.ts'
import { judged } from './verdict.ts'

/** What a person read from the unit's display at a warm idle. */
export interface ShownIdle {
  rpm: number
  valvePct: number
  mapKpa: number
}
export const LOOKS_WANTED = 3
/** a look at a display is worth so many seconds of a log, and a display shows no swing and no roughness */
const LOOK_S = 10
const DISPLAY_SEES = 0.7
/**
 * The idle from three looks at a display, a few seconds apart: speed, valve, reach. A display does not show mixture over time or roughness.
 * @throws CoreError DATA_TOO_SHORT with fewer looks
 */
export function judgeShown(looks: readonly ShownIdle[], options: IdleOptions = {}): IdleVerdict {
  if (looks.length < LOOKS_WANTED)
    throw new CoreError(
      'FACT_MISSING',
      `${LOOKS_WANTED} looks at the display; there ${looks.length === 1 ? 'is one' : `are ${looks.length}`}`,
    )
  const of = (key: keyof ShownIdle) => looks.map((look) => look[key])
  const spread = (values: number[]) => (Math.max(...values) - Math.min(...values)) / 2
  const amplitudeRpm = spread(of('rpm'))
  const meanRpm = mean(of('rpm'))
  const targetRpm = options.targetRpm ?? null
  const m: Judged = {
    seconds: looks.length * LOOK_S,
    meanRpm,
    rpmStdDev: deviation(of('rpm')),
    roughRpm: 0,
    swing:
      amplitudeRpm >= HUNT_RPM ? { periodS: NaN, amplitudeRpm, lambda: null, correctionPct: null, valvePct: spread(of('valvePct')) } : null,
    valveMeanPct: mean(of('valvePct')),
    valveStdDevPct: deviation(of('valvePct')),
    lambdaMean: null,
    flicker: null,
    leanBy: null,
    correctionMeanPct: null,
    authorityPct: options.authorityPct ?? 0,
    saturatedShare: 0,
    correctionDrivenPct: null,
    mapMeanKpa: mean(of('mapKpa')),
    mapStdDevKpa: null,
    advanceMeanDeg: null,
    coolantMeanC: null,
    restsAtPct: null,
    overRpm: targetRpm === null ? null : overTarget(meanRpm, targetRpm, options.offsetsRpm ?? []),
    reach: options.reach,
    restsApartPct: 0,
  }
  const hunts = m.swing !== null && (m.overRpm === null || m.overRpm <= FAR_OVER_RPM)
  return {
    ...(hunts
      ? {
          verdict: 'hunting-valve' as const,
          causes: [
            likely(
              'controller-gain',
              0.5,
              `the looks lie ${(2 * amplitudeRpm).toFixed(0)} rpm apart`,
              'Hold the valve still, or log half a minute.',
            ),
          ],
          sureness: 0.4,
          next: `The speed was not the same at each look (±${amplitudeRpm.toFixed(0)} rpm): it swings. Log half a minute, so that period and cause can be told.`,
        }
      : judged({ ...m, swing: null }, DISPLAY_SEES)),
    meanRpm,
    rpmStdDev: m.rpmStdDev,
    periodS: null,
    amplitudeRpm,
    valveMeanPct: m.valveMeanPct,
    lambdaMean: null,
    correctionMeanPct: null,
    seconds: m.seconds,
    targetRpm,
    notes: [],
    idles: [],
    loop: null,
    wants: ['half a minute of log, for swings, roughness and mixture', ...(targetRpm === null ? ['the target speed'] : [])],
  }
}
