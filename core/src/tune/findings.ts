import { type BuildData, finding, type Finding, type JudgedContext, type StoredProblem, type TuneSummary } from '../kernel/index.ts'

/** A problem of a tune as a finding of its station. */
export const problemFinding = ({ code, severity, message, because, remedy, said }: StoredProblem): Finding => ({
  id: `tune.${code}`,
  ...(said ? { severity, message, because, remedy, said } : finding(severity, message, because, remedy)),
})

/** The tune's own checks speak at the station: those of the version in the car, else of the newest. */
export function tuneProblems({ build }: Pick<JudgedContext, 'build'>): Finding[] {
  const inCar = build.tunes.find((t) => t.status === 'in-car')
  const problems = ((inCar ?? build.tunes.at(-1))?.problems ?? []).map(problemFinding)
  const onBench = inCar && inCar.id !== build.choices.rehearsal?.tuneId ? learnedOnBench(build, inCar) : null
  return onBench ? [...problems, benchFinding(inCar!, onBench)] : problems
}

/** The version, this one or one it comes from, that was learned from a drive of the bench; null when there is none. */
export function learnedOnBench(build: Pick<BuildData, 'tunes' | 'logs'>, tune: TuneSummary): TuneSummary | null {
  for (let at: TuneSummary | undefined = tune; at; at = build.tunes.find((t) => t.id === at!.parentId))
    if (at.logId && build.logs.some((l) => l.id === at!.logId && l.source === 'bench')) return at
  return null
}
const benchFinding = (tune: TuneSummary, learned: TuneSummary): Finding => ({
  id: 'tune.learned-on-bench',
  ...finding(
    'warn',
    'The tune in the car was learned on the bench',
    `Version ${tune.number}${learned.id === tune.id ? '' : ` comes from version ${learned.number}, which`} was corrected from a rehearsed drive: it fits a simulated car, not this one.`,
    'Put a version in the car that was computed, or learned from a drive of this car.',
  ),
})
