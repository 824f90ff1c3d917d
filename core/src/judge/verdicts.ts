import { carIdleOptions, type IdleVerdict, judgeShown } from '../idle/index.ts'
import { CoreError, type EntryTable, type JudgedContext, type StoredReading, tuneInCar, type VerdictFrom } from '../kernel/index.ts'
import { learnReading, type LearnResult, unsafeBefore } from '../learn/index.ts'
import { fitVerdict, scopeVerdict, type Trace } from '../spark/index.ts'
import { attemptVerdict, dryCrankVerdict, ranVerdict, sanityVerdict, type StartEvidence, throttleVerdict } from '../start/index.ts'

/** What the server gathers for a verdict: the entries named, and what it read from the session, log or file named. */
export interface VerdictEvidence extends StartEvidence {
  entries: readonly StoredReading[]
  learned: { logId: string; tuneId: string | null; before?: readonly (number | null)[]; result: LearnResult } | null
  idle: IdleVerdict | null
  /** tune that the log or session ran on, where that is known */
  tuneId?: string | null
  trace: Trace | null
}
type From = keyof VerdictFrom
type Work<K extends keyof EntryTable> = (c: JudgedContext, evidence: VerdictEvidence) => EntryTable[K]

const missing = (what: string, why: string) => new CoreError('EVIDENCE_MISSING', what, why)

/** Kinds of entry that the app alone writes, each with what it may be worked out from and how. */
const verdicts = {
  'start.sanity': { from: ['entryIds'], work: sanityVerdict },
  'start.throttle': { from: ['entryIds'], work: throttleVerdict },
  'start.dry-crank': { from: ['sessionId', 'entryIds'], work: dryCrankVerdict },
  'start.attempt': { from: ['sessionId', 'entryIds'], work: attemptVerdict },
  'start.ran': { from: ['entryIds'], work: ranVerdict },
  'spark.scope': {
    from: ['fileId'],
    work: (c, { trace }) => {
      if (!trace) throw missing('the scope’s verdict', 'it wants a scope file')
      return scopeVerdict(c, trace)
    },
  },
  'spark.fit': { from: ['entryIds'], work: (c, { entries }) => fitVerdict(c, entries) },
  'learn.result': {
    from: ['logId'],
    work: (c, { learned }) => {
      if (!learned) throw missing('what was learned', 'it wants a log')
      const { result, logId, tuneId, before } = learned
      return learnReading(result, logId, tuneId, { held: before, unsafe: unsafeBefore(c, logId) })
    },
  },
  'idle.verdict': {
    from: ['logId', 'sessionId', 'entryIds'],
    work: (c, { idle, entries, tuneId }) => {
      const looks = entries.flatMap((r) => (r.kind === 'idle.point' ? [r.value] : []))
      if (!idle && !looks.length) throw missing('the idle’s verdict', 'it wants a log, a session, or looks at the display')
      const judged = idle ?? judgeShown(looks, carIdleOptions(c.build))
      const { verdict, meanRpm, rpmStdDev, seconds, targetRpm, valveMeanPct, amplitudeRpm, sureness, loop, causes, next } = judged
      const regime = entries.findLast((r) => r.kind === 'idle.regime')
      return {
        verdict,
        meanRpm,
        rpmStdDev,
        seconds,
        targetRpm,
        valveMeanPct,
        amplitudeRpm,
        sureness,
        loop,
        next,
        ...(regime?.kind === 'idle.regime' ? { regime: regime.value.regime } : {}),
        ...(causes.length ? { cause: causes[0].cause } : {}),
        tuneId: tuneId ?? tuneInCar(c.build)?.id ?? null,
      }
    },
  },
} as const satisfies { [K in keyof EntryTable]?: { from: readonly From[]; work: Work<K> } }

export type VerdictKind = keyof typeof verdicts
export const verdictKinds = Object.keys(verdicts) as [VerdictKind, ...VerdictKind[]]
/** What a kind of verdict may be worked out from. */
export const verdictWants = (kind: VerdictKind): readonly From[] => verdicts[kind].from

/**
 * A verdict as it goes into the record.
 * @throws CoreError EVIDENCE_MISSING when what was named does not carry it, in words
 */
export const verdictOf = <K extends VerdictKind>(kind: K, c: JudgedContext, evidence: VerdictEvidence): EntryTable[K] =>
  (verdicts[kind].work as unknown as Work<K>)(c, evidence)
