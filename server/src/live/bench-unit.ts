import { answersTold, contextOf, readingsOf, type TuneDocument, tuneOfAnswers } from '@vectum/core'
import type { Build } from '../job/store.ts'
import type { BenchUnit } from './bench-threads.ts'

/** What the bench's unit holds as it was left: answers it was told, and what it had learned over this tune, unless it loses that. */
export function benchUnitOf(build: Build, tuneId: string, tune: TuneDocument): BenchUnit {
  const answers = answersTold(contextOf(build))
  const forgets = build.choices.unit?.keepsOverKeyOff === false || build.choices.bench?.faults?.some((f) => f.id === 'unit-forgets')
  const last = readingsOf(build.readings, 'unit.learned').findLast((r) => r.source === 'bench' && r.value.tuneId === tuneId)
  return {
    tune: answers ? tuneOfAnswers(answers) : tune,
    answers,
    ...(last && !forgets ? { learned: last.value.learnedPct } : {}),
  }
}
