import { v4 as uuid } from 'uuid'
import { computed, ref, shallowRef, watch } from 'vue'
import { computeBaseTune, CoreError, learnedOnBench, type Tune, TuneAnswer, type TuneDocument } from '@vectum/core'
import { api, type ApiError } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'

const statusWord = { draft: 'draft', ready: 'ready', 'in-car': 'in the car', retired: 'retired' } as const

/** The versions of a build's tune: which is open, how another comes to be, and how one goes into the car or the bench's unit. */
export function useTuneVersions() {
  const builds = useBuild()
  const build = computed(() => builds.current!)
  const versions = computed(() => build.value.tunes)
  const chosen = ref<string | null>(versions.value.find((t) => t.status === 'in-car')?.id ?? versions.value.at(-1)?.id ?? null)
  const tune = ref<Tune | null>(null)
  const error = ref<string | null>(null)
  const busy = ref(false)
  /** what the set-up of today would compute, beside this version */
  const again = shallowRef<TuneDocument | null>(null)
  const path = (id: string) => `/builds/${build.value.id}/tunes/${id}`
  const fetchTune = (id: string): Promise<Tune> => api(path(id), TuneAnswer)

  watch(
    chosen,
    async (id) => {
      error.value = null
      tune.value = null
      again.value = null
      if (!id) return
      try {
        tune.value = await fetchTune(id)
      } catch (e) {
        error.value = (e as ApiError).message
      }
    },
    { immediate: true },
  )

  /** Runs a call, shows what went wrong, and reads the build again when it worked. */
  async function doing<T>(work: () => Promise<T>): Promise<T | null> {
    busy.value = true
    error.value = null
    try {
      const result = await work()
      await builds.reload()
      return result
    } catch (e) {
      error.value = (e as ApiError).message
      return null
    } finally {
      busy.value = false
    }
  }
  async function store(body: object): Promise<Tune | null> {
    const url = `/builds/${build.value.id}/tunes`
    const made = await doing(() => api(url, TuneAnswer, { method: 'POST', body: { id: uuid(), ...body } }))
    if (made) chosen.value = made.id
    return made
  }
  const compute = () => store({})
  /** A document edited from a version becomes one of its own. */
  const storeEdited = (document: TuneDocument, parentId: string) => store({ document, origin: 'edited', parentId })
  function computeAgain(): void {
    error.value = null
    try {
      again.value = computeBaseTune(build.value.facts, build.value.choices)
    } catch (e) {
      if (!(e instanceof CoreError)) throw e
      error.value = e.message
    }
  }

  const rehearsing = computed(() => builds.view === 'rehearsal')
  const version = computed(() => versions.value.find((t) => t.id === chosen.value) ?? null)
  /** as the view has it: the bench's unit may hold another version than the car's */
  const status = computed(() => version.value?.status ?? 'draft')
  /** the version learned on the bench that this one is, or comes from, while it is the car that is looked at */
  const ofBench = computed(() => (version.value && !rehearsing.value ? learnedOnBench(build.value, version.value) : null))
  async function setStatus(next: 'ready' | 'in-car'): Promise<void> {
    if (!tune.value) return
    // practising puts it into the bench's unit, and the car keeps its own
    const body = { status: next, ...(rehearsing.value && next === 'in-car' ? { view: 'rehearsal' } : {}) }
    const answer = await doing(() => api(path(tune.value!.id), TuneAnswer, { method: 'PATCH', body }))
    if (answer) tune.value = answer
  }
  const options = computed(() =>
    versions.value
      .map((t) => ({
        value: t.id,
        label: `${t.number}  ${t.name}, ${statusWord[t.status]}${learnedOnBench(build.value, t) ? ', learned on the bench' : ''}`,
      }))
      .reverse(),
  )
  /** the docket judges this version; what another one's own checks say is shown under its table */
  const judged = computed(() => (versions.value.find((t) => t.status === 'in-car') ?? versions.value.at(-1))?.id ?? null)
  return {
    ...{ build, versions, chosen, tune, error, busy, again, fetchTune, doing, compute, storeEdited, computeAgain },
    ...{ status, ofBench, setStatus, options, judged },
  }
}
export type TuneVersionsInUse = ReturnType<typeof useTuneVersions>
