import { computed } from 'vue'
import { checkFact, type FuelElement, type SectionId } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

type Kind = FuelElement['kind']

/** One element of the circuit and its neighbours: changed, checked in its place, moved, added behind, taken out. */
export function useCircuitElement(place: { section: SectionId; index: number }, select: (key: string | null) => void) {
  const builds = useBuild()
  const list = computed<FuelElement[]>(() => builds.context!.fuel[place.section] ?? [])
  const element = computed<FuelElement | undefined>(() => list.value[place.index])
  const path = computed(() => `choices.fuel.${place.section}`)

  function put(next: FuelElement[]): void {
    if (checkFact(path.value, next) === null) builds.change(path.value, next)
  }
  const merged = (patch: object): FuelElement[] =>
    list.value.map((e, i) => (i === place.index ? (JSON.parse(JSON.stringify({ ...e, ...patch })) as FuelElement) : e))
  const set = (patch: object): void => put(merged(patch))
  /** a number is checked in its place, so that the refusal names bound and unit */
  const check = (field: string) => (value: number | undefined) =>
    value === undefined ? 'must be given' : checkFact(path.value, merged({ [field]: value }))

  function freshId(kind: string): string {
    const ids = new Set(list.value.map((e) => e.id))
    for (let n = 1; ; n++) if (!ids.has(`${kind}-${n}`)) return `${kind}-${n}`
  }
  function add(kind: Kind): void {
    const where = element.value?.place ?? 'under'
    const boreMm = list.value.reduce((b, e) => (e.kind === 'line' ? e.boreMm : b), 8)
    const id = freshId(kind)
    const fresh: Record<Kind, FuelElement> = {
      line: { id, kind: 'line', material: 'hard', boreMm, lengthM: 1, place: where },
      fitting: { id, kind: 'fitting', fitting: 'union', boreMm, count: 1, place: where },
      filter: { id, kind: 'filter', micron: 10, dropKpa: 8, atLph: 200, body: 'metal', place: where },
      'check-valve': { id, kind: 'check-valve', openingKpa: 3, dropKpa: 4, atLph: 200, place: where },
    }
    put([...list.value.slice(0, place.index + 1), fresh[kind], ...list.value.slice(place.index + 1)])
    select(`${place.section}:${id}`)
  }
  function shift(by: number): void {
    const to = place.index + by
    if (to < 0 || to >= list.value.length) return
    const next = [...list.value]
    const [moved] = next.splice(place.index, 1)
    next.splice(to, 0, moved)
    put(next)
  }
  function remove(): void {
    put(list.value.filter((_, i) => i !== place.index))
    select(null)
  }
  return { list, element, set, check, add, shift, remove }
}
