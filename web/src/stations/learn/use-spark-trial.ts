import { computed, ref, shallowRef, watch } from 'vue'
import {
  JudgedReadingAnswer,
  judgeTrial,
  mapAdvanceDeg,
  takeTrial,
  trialGates,
  trialsOf,
  type Tune,
  TuneAnswer,
  tuneInCar,
} from '@vectum/core'
import { v4 as uuid } from 'uuid'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'

/** A spark trial of the tune in the car: which place is held, how far the trial there has gone, and its result on the way into the map. */
export function useSparkTrial() {
  const builds = useBuild()
  const tune = shallowRef<Tune | null>(null)
  const problem = ref<string | null>(null)
  const busy = ref(false)
  const picked = ref<{ i: number; j: number } | null>(null)
  const inCar = computed(() => tuneInCar(builds.current!))
  async function trying(work: () => Promise<void>): Promise<void> {
    busy.value = true
    problem.value = null
    try {
      await work()
    } catch (e) {
      problem.value = (e as Error).message
    } finally {
      busy.value = false
    }
  }
  watch(
    () => inCar.value?.id,
    (id) => {
      tune.value = null
      if (id) void trying(async () => void (tune.value = await api(`/builds/${builds.current!.id}/tunes/${id}`, TuneAnswer)))
    },
    { immediate: true },
  )
  const gates = computed(() => trialGates(builds.context!))
  const open = computed(() => gates.value.every((g) => g.met))
  const trials = computed(() => trialsOf(builds.context!))
  const place = computed(() => {
    const document = tune.value?.document
    if (!document || !picked.value) return null
    const [rpm, mapKpa] = [document.axes.rpm[picked.value.i], document.axes.mapKpa[picked.value.j]]
    return { rpm, mapKpa, mapDeg: mapAdvanceDeg(document, rpm, mapKpa) }
  })
  /** the trial at the place, begun or not */
  const here = computed(() => {
    const at = place.value
    if (!at) return null
    return trials.value.find((t) => t.rpm === at.rpm && t.mapKpa === at.mapKpa) ?? { ...at, trial: judgeTrial([], at.mapDeg) }
  })
  const holdOnBench = (advanceDegBtdc: number): Promise<void> =>
    trying(async () => {
      const { rpm, mapKpa } = place.value!
      await api(`/builds/${builds.current!.id}/bench/trial-hold`, JudgedReadingAnswer, {
        method: 'POST',
        body: { rpm, mapKpa, advanceDegBtdc },
      })
      await builds.reload()
      builds.view = 'rehearsal'
    })
  /** what taking the result would make of the map; null before there is one */
  const proposed = computed(() => {
    const resultDeg = here.value?.trial.resultDeg ?? null
    return tune.value && here.value && resultDeg !== null ? takeTrial(tune.value.document, { ...here.value, resultDeg }) : null
  })
  /** Stores the map with the result as a new version; answers its number, or null when it was not stored. */
  async function accept(): Promise<number | null> {
    let number: number | null = null
    await trying(async () => {
      const made = await api(`/builds/${builds.current!.id}/tunes`, TuneAnswer, {
        method: 'POST',
        body: { id: uuid(), document: proposed.value!.tune, origin: 'edited', parentId: tune.value!.id },
      })
      await builds.reload()
      number = made.number
    })
    return number
  }
  return { tune, inCar, problem, busy, picked, place, here, trials, gates, open, proposed, holdOnBench, accept }
}
