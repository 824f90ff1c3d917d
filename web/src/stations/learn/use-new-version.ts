import { v4 as uuid } from 'uuid'
import { ref } from 'vue'
import { type Tune, TuneAnswer } from '@vectum/core'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'

/** A version of the tune stored on a press: what goes wrong is said, and nothing is made twice of one press. */
export function useNewVersion() {
  const builds = useBuild()
  const busy = ref(false)
  const problem = ref<string | null>(null)
  /** @returns the stored version, or null when it was not stored */
  async function store(make: () => Promise<Pick<Tune, 'document' | 'origin' | 'parentId'> & { name?: string }>): Promise<Tune | null> {
    busy.value = true
    problem.value = null
    try {
      const body = { id: uuid(), ...(await make()) }
      const made = await api(`/builds/${builds.current!.id}/tunes`, TuneAnswer, { method: 'POST', body })
      await builds.reload()
      return made
    } catch (e) {
      problem.value = (e as Error).message
      return null
    } finally {
      busy.value = false
    }
  }
  return { busy, problem, store }
}
