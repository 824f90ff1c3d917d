import {
  at,
  type Context,
  finding,
  madeFrom,
  readingsOf,
  type Rule,
  type StoredReading,
  type TuneSummary,
  tuneInCar,
} from '../../kernel/index.ts'
import { steadyMixtureParts, tunePartLabel } from '../../tune/index.ts'
import { CAUSE_SHARE, MOVED_PCT, NO_CAUSE_SHARE } from './limits.ts'
import { sharedErrors } from './same-places.ts'

/** Something that was changed between two logs and moves the mixture of a warm engine. */
export interface TestedChange {
  label: string
  /** parts of the tune that go back with it; none: it was done to the car */
  parts: string[]
}
/** What was done to the car between two logs that lets in air or turns a plate. */
const workOnCar = {
  'fitup.body-off': 'the throttle body was off',
  'fitup.hose-off': 'a hose was off',
  'fitup.exhaust-off': 'the exhaust was off',
} as const

type Result = StoredReading<'learn.result'>
/** Tested: a sound log of a version whose table is corrected, the last of each version, oldest first. */
function tested({ readings }: Pick<Context, 'readings'>): Result[] {
  const sound = readingsOf(readings, 'learn.result').filter(
    ({ value: v }) => v.tuneId !== null && v.errorRmsPct !== null && v.suspect === undefined && v.settled === undefined,
  )
  return sound.filter((r, i) => sound[i + 1]?.value.tuneId !== r.value.tuneId)
}

function lineOf(tunes: readonly TuneSummary[], from: TuneSummary): TuneSummary[] {
  const line = [from]
  for (let next = madeFrom(tunes, from); next && !line.includes(next); next = madeFrom(tunes, next)) line.push(next)
  return line
}

/**
 * Changes between two versions that move the mixture of a warm engine. What one log taught is one change, however many parts it has; so is a part put
 * back by a reversal.
 * @returns null: how one came from the other is not known
 */
function changesBetween({ build, readings }: Pick<Context, 'build' | 'readings'>, fromId: string, toId: string): TestedChange[] | null {
  const { tunes } = build
  const [from, to] = [fromId, toId].map((id) => tunes.find((t) => t.id === id))
  if (!from || !to) return null
  const [lineFrom, lineTo] = [lineOf(tunes, from), lineOf(tunes, to)]
  const common = lineTo.find((t) => lineFrom.includes(t))
  if (!common) return null
  const between = [...lineTo.slice(0, lineTo.indexOf(common)), ...lineFrom.slice(0, lineFrom.indexOf(common))]
  const list: TestedChange[] = []
  const add = (label: string, parts: string[]): void => {
    const known = list.find((c) => c.label === label)
    if (known) known.parts = [...new Set([...known.parts, ...parts])]
    else if (parts.length) list.push({ label, parts })
  }
  for (const t of between) {
    if (!t.changed) return null
    const parts = t.changed.filter((id) => steadyMixtureParts.has(id))
    const back = readingsOf(readings, 'learn.reversal').find((r) => r.value.tuneId === t.id)
    if (back) add(back.value.what, parts)
    else if (t.origin === 'learned') add(`what the log of version ${t.number} taught`, parts)
    else for (const id of parts) add(tunePartLabel(id), [id])
  }
  return list
}
function workBetween({ readings }: Pick<Context, 'readings'>, from: Result, to: Result): TestedChange[] {
  const kinds = Object.keys(workOnCar) as (keyof typeof workOnCar)[]
  const [a, b] = [readings.indexOf(from), readings.indexOf(to)]
  const done = new Set(readings.slice(a + 1, b === -1 ? undefined : b).map((r) => r.kind as string))
  return kinds.filter((kind) => done.has(kind)).map((kind) => ({ label: workOnCar[kind], parts: [] }))
}

/** Two tests after each other on different versions, what was changed between them, and what came of it. */
export interface LastTest {
  before: { tuneId: string; number: number; errorRmsPct: number }
  after: { tuneId: string; number: number; errorRmsPct: number }
  /** share of the shorter drive that was at cells of the other; the errors are those left there */
  sharedTime: number
  /** null: how one version came from the other is not known */
  changes: TestedChange[] | null
  /** changes that were put back alone, and tested */
  tried: string[]
  /** changes whose version with them put back is not tested yet, and not retired */
  waiting: string[]
  /** elsewhere: too little was driven at the same cells to tell, and the errors are those of all cells */
  moved: 'better' | 'worse' | 'same' | 'elsewhere'
}
/** The two that the newest test is held against: of a reversal those it was made to explain. */
function pairOf(c: Pick<Context, 'readings'>, results: readonly Result[]): [Result, Result] | null {
  const of = (id: string) => results.find((r) => r.value.tuneId === id)
  const made = readingsOf(c.readings, 'learn.reversal').findLast((r) => r.value.tuneId === results.at(-1)?.value.tuneId)
  const [before, after] = made ? [of(made.value.toTuneId), of(made.value.ofTuneId)] : results.slice(-2)
  return before && after ? [before, after] : null
}
/** @returns null before two versions have been tested */
export function lastTest(c: Pick<Context, 'build' | 'readings'>): LastTest | null {
  const results = tested(c)
  const pair = pairOf(c, results)
  if (!pair) return null
  const shared = sharedErrors(pair.map((r) => r.value))
  const [before, after] = pair.map(({ value }, k) => ({
    tuneId: value.tuneId!,
    number: c.build.tunes.find((t) => t.id === value.tuneId)?.number ?? 0,
    errorRmsPct: shared?.errorsPct[k] ?? value.errorRmsPct!,
  }))
  const changes = changesBetween(c, before.tuneId, after.tuneId)
  const by = after.errorRmsPct - before.errorRmsPct
  const made = readingsOf(c.readings, 'learn.reversal')
    .map((r) => r.value)
    .filter((v) => v.ofTuneId === after.tuneId && v.toTuneId === before.tuneId)
  const isTested = (id: string): boolean => results.some((r) => r.value.tuneId === id)
  const stands = (id: string): boolean => c.build.tunes.some((t) => t.id === id && t.status !== 'retired')
  return {
    before,
    after,
    sharedTime: shared?.share ?? 0,
    changes: changes && [...changes, ...workBetween(c, ...pair)],
    tried: made.filter((v) => isTested(v.tuneId)).map((v) => v.what),
    waiting: made.filter((v) => !isTested(v.tuneId) && stands(v.tuneId)).map((v) => v.what),
    moved: !shared ? 'elsewhere' : by >= MOVED_PCT ? 'worse' : by <= -MOVED_PCT ? 'better' : 'same',
  }
}

/** What putting one change back alone has shown, once its version was tested. */
export interface ReversalShown {
  what: string
  errorsPct: [before: number, with_: number, without: number]
  /** of what had moved, so much went back with it */
  share: number
  says: 'cause' | 'not-cause' | 'part' | 'elsewhere'
}
/** @returns null: none was tested, or nothing had moved that could go back */
export function reversalShown(c: Pick<Context, 'readings'>): ReversalShown | null {
  const results = tested(c)
  const last = results.at(-1)
  const made = last && readingsOf(c.readings, 'learn.reversal').findLast((r) => r.value.tuneId === last.value.tuneId)
  if (!made) return null
  const of = (id: string) => results.findLast((r) => r.value.tuneId === id)?.value
  const [first, second] = [of(made.value.toTuneId), of(made.value.ofTuneId)]
  if (!first || !second) return null
  const { what } = made.value
  const shared = sharedErrors([first, second, last.value])
  if (!shared) return { what, errorsPct: [first.errorRmsPct!, second.errorRmsPct!, last.value.errorRmsPct!], share: 0, says: 'elsewhere' }
  const [before, having, without] = shared.errorsPct
  if (Math.abs(having - before) < MOVED_PCT) return null
  const share = (having - without) / (having - before)
  return {
    what,
    errorsPct: [before, having, without],
    share,
    says: share >= CAUSE_SHARE ? 'cause' : share <= NO_CAUSE_SHARE ? 'not-cause' : 'part',
  }
}

const listed = (changes: readonly TestedChange[]): string => changes.map((ch) => ch.label).join('; ')
const WHERE = at('learn', 'log', 'one-change')
/** What goes into the next log all at once: changes between the version tested last and the one now in the car. */
export function untested(c: Pick<Context, 'build' | 'readings'>): TestedChange[] {
  const [last] = tested(c).slice(-1)
  const now = tuneInCar(c.build)
  if (!last || !now || last.value.tuneId === now.id) return []
  return changesBetween(c, last.value.tuneId!, now.id) ?? []
}

export const oneChangeRules: Rule[] = [
  {
    id: 'learn.many-changes',
    check: (c) => {
      const changes = untested(c)
      return changes.length > 1
        ? finding(
            'note',
            `${changes.length} changes wait for one log`,
            `Since the version that was driven last: ${listed(changes)}. Whatever that log shows, it cannot say which of them did it.`,
            'Put one in the car at a time, or drive them together and know that a cause will then want a test of its own.',
            at('tune'),
          )
        : null
    },
  },
  {
    id: 'learn.cause-unknown',
    check: (c) => {
      const test = lastTest(c)
      if (!test || test.moved === 'same' || (test.changes !== null && test.changes.length < 2)) return null
      if (reversalShown(c)?.says === 'cause') return null
      const { before, after, changes, moved, sharedTime } = test
      if (moved === 'elsewhere')
        return finding(
          'note',
          'Driven elsewhere: what it did is not known',
          `The logs of version ${before.number} and ${after.number} were hardly driven at the same cells, so that their errors cannot be compared.`,
          `Drive version ${after.number} where version ${before.number} was driven, and bring that log.`,
          WHERE,
        )
      const went = `From version ${before.number} to ${after.number} the error left went from ${before.errorRmsPct.toFixed(1)} to ${after.errorRmsPct.toFixed(1)} % rms${sharedTime < 1 ? ', at the cells that both drove' : ''}.`
      return finding(
        moved === 'worse' ? 'warn' : 'note',
        `Cause unknown: it got ${moved}`,
        changes
          ? `${went} ${changes.length} changes went in together: ${listed(changes)}.`
          : `${went} How one version came from the other is not known.`,
        changes
          ? 'Put one of them back alone, drive the same roads, and bring that log.'
          : `Put version ${before.number} back, drive the same roads, and bring that log; then change one thing.`,
        WHERE,
      )
    },
  },
  {
    id: 'learn.reversal',
    check: (c) => {
      const shown = reversalShown(c)
      if (!shown) return null
      const [before, having, without] = shown.errorsPct.map((v) => v.toFixed(1))
      if (shown.says === 'elsewhere')
        return finding(
          'note',
          `Not known yet: ${shown.what}`,
          'The log with it put back was hardly driven at the cells of the two before it, so that nothing can be compared.',
          'Drive the same roads again, and bring that log.',
          WHERE,
        )
      return finding(
        'note',
        { cause: `It was this: ${shown.what}`, 'not-cause': `It was not this: ${shown.what}`, part: `It had a part: ${shown.what}` }[
          shown.says
        ],
        `Before the changes ${before} % rms were left, with all of them ${having}, without this one ${without}: ${Math.min(100, Math.max(0, 100 * shown.share)).toFixed(0)} % of what had moved went with it.`,
        {
          cause: 'Keep the version with the smaller error, and look at why that value was wrong.',
          'not-cause': 'Put the next one back, alone.',
          part: 'Another of the changes has the rest: put the next one back, alone.',
        }[shown.says],
        WHERE,
      )
    },
  },
]
