import { at, type Context, type EntryTable, finding, latest, type Rule } from '../kernel/index.ts'
import { controlsTiming, zeroMark } from '../spark/index.ts'
import { CRANK_LIGHT_DEG, CRANK_RPM } from './limits.ts'

export type DryCrank = EntryTable['start.dry-crank']

/** What is wrong with a crank without fuel (handbook 06, step 4); empty when it may be fuelled. Early by more than the bound can kick back. */
export function dryCrankProblems(c: Context, seen: DryCrank): string[] {
  const problems: string[] = []
  if (seen.rpm < CRANK_RPM.low || seen.rpm > CRANK_RPM.high)
    problems.push(`${seen.rpm.toFixed(0)} rpm; ${CRANK_RPM.low} to ${CRANK_RPM.high} are wanted`)
  if (seen.dropouts > 0) problems.push(`the speed dropped out ${seen.dropouts} times`)
  if (seen.spikes > 0) problems.push(`${seen.spikes} spikes of speed`)
  if (controlsTiming(c)) {
    if (seen.lightDeg === undefined || seen.commandedDeg === undefined) problems.push('no light was read on the damper')
    else {
      const off = seen.lightDeg + (zeroMark(c)?.correctionDeg ?? 0) - seen.commandedDeg
      if (Math.abs(off) > CRANK_LIGHT_DEG)
        problems.push(
          `timing ${Math.abs(off).toFixed(1)}° ${off > 0 ? 'early: it can kick back' : 'late'}; within ${CRANK_LIGHT_DEG}° is wanted`,
        )
    }
  }
  return problems
}

/** Crank without fuel: never, with its problems, or passed. An engine that has run as it stands now does not need it again. */
export function dryCrankOf(c: Context): { done: boolean; passed: boolean; problems: string[] } {
  const seen = latest(c.readings, 'start.dry-crank')
  if (!seen) return { done: false, passed: latest(c.readings, 'start.ran') !== null, problems: [] }
  const problems = dryCrankProblems(c, seen.value)
  return { done: true, passed: problems.length === 0, problems }
}

export const dryCrankRules: Rule[] = [
  {
    id: 'start.dry-crank',
    where: at('start', 'dry'),
    check: (c) => {
      const { done, passed, problems } = dryCrankOf(c)
      return done && !passed
        ? finding(
            'stop',
            'It must not be fuelled yet',
            `Cranked without fuel: ${problems.join('; ')}.`,
            'Put it right at Spark (signal, reference, order), then crank without fuel again.',
          )
        : null
    },
  },
]
