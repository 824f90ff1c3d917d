import { RAN_LAMBDA, RAN_RPM, RAN_S, RAN_SPREAD } from './limits.ts'

/** A stretch of running with the foot off. */
export interface RunStretch {
  seconds: number
  rpmLow: number
  rpmHigh: number
  /** mean over the stretch; null while the sensor is cold or nobody tells it */
  lambda: number | null
}

/** What keeps a stretch from showing that the engine runs by itself: too short, unsteady, or on a mixture nothing burns at. Empty when it runs. */
export function ranProblems({ seconds, rpmLow, rpmHigh, lambda }: RunStretch): string[] {
  const problems: string[] = []
  if (seconds < RAN_S) problems.push(`watched for ${seconds.toFixed(0)} s; ${RAN_S} s or more are wanted`)
  if (rpmLow < RAN_RPM) problems.push(`${rpmLow.toFixed(0)} rpm at the lowest; over ${RAN_RPM} is running`)
  const meanRpm = (rpmLow + rpmHigh) / 2
  if (rpmHigh - rpmLow > RAN_SPREAD * meanRpm)
    problems.push(`${rpmLow.toFixed(0)} to ${rpmHigh.toFixed(0)} rpm; within ${(100 * RAN_SPREAD).toFixed(0)} % of its mean is steady`)
  if (lambda === null) problems.push('the mixture is not known: wait until the sensor is hot')
  else if (lambda < RAN_LAMBDA.low || lambda > RAN_LAMBDA.high)
    problems.push(`lambda ${lambda.toFixed(2)}; ${RAN_LAMBDA.low} to ${RAN_LAMBDA.high} burns`)
  return problems
}
