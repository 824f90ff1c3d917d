import { answersTold, contextOf, readingsOf, type TuneDocument, tuneOfAnswers } from '@vectum/core'
import type { Build } from '../job/store.ts'
import type { BenchUnit } from './bench-threads.ts'

/** What the bench's unit holds as it was left: answers it was told, and what it had learned over this tune, unless it loses that. */
export function benchUnitOf(build: Build, tuneId: string, tune: TuneDocument): BenchUnit {
  const answers = answersTold(contextOf(build))
  const forgets = build.choices.unit?.keepsOverKeyOff === false || build.choices.bench?.faults?.some((f) => f.id === 'unit-forgets')
  const before = beforeMending(build, tuneId)
  const last = readingsOf(build.readings, 'unit.learned').findLast((r) => r.source === 'bench' && before.includes(r.value.tuneId))
  return {
    tune: answers ? tuneOfAnswers(answers) : tune,
    answers,
    ...(last && !forgets ? { learned: last.value.learnedPct } : {}),
  }
}

/** A version and those that it was mended from: what a log puts into a base leaves what the unit has learned as it is. */
function beforeMending({ tunes }: Build, tuneId: string): (string | null)[] {
  const ids: string[] = []
  for (let tune = tunes.find((t) => t.id === tuneId); tune && !ids.includes(tune.id);) {
    ids.push(tune.id)
    const { origin, logId, parentId } = tune
    tune = origin === 'learned' && logId && parentId ? tunes.find((t) => t.id === parentId) : undefined
  }
  return ids
}
