import { type ShallowRef, shallowRef, watch } from 'vue'
import type { Refusal } from '../../workers/log-worker.ts'

/** What a worker says of the log that is shown, asked once for each; null until it has, or where it cannot. */
export function useJudged<T extends object>(logId: () => string, ask: () => Promise<T | Refusal | null>): ShallowRef<T | null> {
  const judged = shallowRef(null) as ShallowRef<T | null>
  watch(
    logId,
    async (id) => {
      judged.value = null
      const answer = await ask()
      if (id === logId() && answer && !('refused' in answer)) judged.value = answer as T
    },
    { immediate: true },
  )
  return judged
}
