import { computed, ref } from 'vue'
import { harnessOf, type Point, wheelbaseMm, wiringOf } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

/** The harness of the open car, laid anew while a place is dragged. */
export function useHarness() {
  const builds = useBuild()
  const c = computed(() => builds.context!)
  const dragged = ref<(Point & { id: string }) | null>(null)
  const harness = computed(() => {
    if (!dragged.value) return harnessOf(c.value)
    const { id, ...to } = dragged.value
    return harnessOf(c.value.with({ choices: { wiring: { places: { [id]: to } } } }))
  })
  const wiring = computed(() => wiringOf(c.value))
  const baseMm = computed(() => wheelbaseMm(c.value))
  const change = (path: string, value: unknown): void => builds.change(`choices.wiring.${path}`, value)
  return { builds, c, harness, wiring, baseMm, dragged, change }
}
