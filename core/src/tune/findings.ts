import { finding, type Finding, type JudgedContext, type StoredProblem } from '../kernel/index.ts'

/** A problem of a tune as a finding of its station. */
export const problemFinding = ({ code, severity, message, because, remedy, said }: StoredProblem): Finding => ({
  id: `tune.${code}`,
  ...(said ? { severity, message, because, remedy, said } : finding(severity, message, because, remedy)),
})

/** The tune's own checks speak at the station: those of the version in the car, else of the newest. */
export function tuneProblems({ build }: Pick<JudgedContext, 'build'>): Finding[] {
  const tune = build.tunes.find((t) => t.status === 'in-car') ?? build.tunes.at(-1)
  return (tune?.problems ?? []).map(problemFinding)
}
