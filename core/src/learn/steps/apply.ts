import { accelColdShare, type TuneDocument } from '../../tune/index.ts'
import type { StepLength } from './length.ts'
import { ACCEL_MOST_PCT, LEAST_COLD_SHARE, MOST_COLD_FACTOR } from './limits.ts'
import type { ColdSteps } from './steps.ts'

/**
 * A tune with the fuel for a step multiplied, by throttle and by pressure alike, inside what a tune may hold.
 * @returns null when nothing changes
 */
export function applySteps(tune: TuneDocument, times: number, provenance: string): TuneDocument | null {
  const scaled = (key: 'accelPctPer100' | 'accelMapPctPer100'): number =>
    Math.round(Math.min(ACCEL_MOST_PCT, tune.parameters[key] * times) * 10) / 10
  const parameters = { ...tune.parameters, accelPctPer100: scaled('accelPctPer100'), accelMapPctPer100: scaled('accelMapPctPer100') }
  if (parameters.accelPctPer100 === tune.parameters.accelPctPer100 && parameters.accelMapPctPer100 === tune.parameters.accelMapPctPer100)
    return null
  return { ...tune, parameters, provenance: { ...tune.provenance, accelPctPer100: provenance, accelMapPctPer100: provenance } }
}

/**
 * A tune whose factor of a cold engine gives its steps as many times more as `cold` wants, at the coolant that they were taken at.
 * @returns null when nothing changes, or it was too warm for the factor to tell
 */
export function applyColdSteps(
  tune: TuneDocument,
  { times, coolantC }: Pick<ColdSteps, 'times' | 'coolantC'>,
  provenance: string,
): TuneDocument | null {
  const share = accelColdShare(coolantC)
  if (times === null || !(share >= LEAST_COLD_SHARE)) return null
  const stands = tune.parameters.accelColdFactor
  const given = 1 + (stands - 1) * share
  const wanted = 1 + (given * times - 1) / share
  const accelColdFactor = Math.round(20 * Math.min(MOST_COLD_FACTOR, Math.max(1, wanted))) / 20
  if (accelColdFactor === stands) return null
  return { ...tune, parameters: { ...tune.parameters, accelColdFactor }, provenance: { ...tune.provenance, accelColdFactor: provenance } }
}

/**
 * A tune whose fuel for a step lasts as long as it is wanted, as much of it for a warm engine as before, and for a cold one as much as it wants.
 * @returns null when nothing changes
 */
export function applyLength(tune: TuneDocument, { next, coolantC }: StepLength, provenance: string): TuneDocument | null {
  if (!next || next.lengthS === tune.parameters.accelDecayS) return null
  const lasts: TuneDocument = {
    ...tune,
    parameters: { ...tune.parameters, accelDecayS: next.lengthS },
    provenance: { ...tune.provenance, accelDecayS: provenance },
  }
  const warm = applySteps(lasts, next.warmTimes, provenance) ?? lasts
  return applyColdSteps(warm, { times: next.coldTimes, coolantC }, provenance) ?? warm
}
