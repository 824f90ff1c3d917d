import { ref, shallowRef, watch } from 'vue'
import { DrivePlan } from '@vectum/core'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'

/** The plan of the next drive, worked out by the server, and again whenever what it rests on was saved. */
export function useDrivePlan() {
  const builds = useBuild()
  const plan = shallowRef<DrivePlan | null>(null)
  const busy = ref(false)
  const problem = ref<string | null>(null)
  let asked = 0

  async function load(): Promise<void> {
    const mine = ++asked
    busy.value = true
    problem.value = null
    try {
      const answer = await api(`/builds/${builds.current!.id}/drive-plan?view=${builds.view}`, DrivePlan)
      if (mine === asked) plan.value = answer
    } catch (e) {
      if (mine === asked) problem.value = (e as Error).message
    }
    if (mine === asked) busy.value = false
  }
  watch([() => builds.saved?.version, () => builds.view], load, { immediate: true })
  return { plan, busy, problem, load }
}
