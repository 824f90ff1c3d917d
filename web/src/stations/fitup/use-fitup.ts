import { computed, shallowRef } from 'vue'
import { type EntryKind, entryWords, fitupInstruments, fitupOf, type HeldAt, readingsOf } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** Fit-up of the open car; what is dragged lies over it until it is let go. */
export function useFitup() {
  const builds = useBuild()
  const settings = useSettings()
  const held = shallowRef<object | null>(null)
  const c = computed(() => (held.value ? builds.context!.with({ choices: { fitup: held.value } }) : builds.context!))
  const fitup = computed(() => fitupOf(c.value))
  const change = (path: string, value: unknown): void => builds.change(`choices.fitup.${path}`, value)
  const onBench = computed(() => builds.view === 'rehearsal')
  const benchKind = (kind: EntryKind): kind is keyof typeof fitupInstruments => kind in fitupInstruments
  const readBench = (kind: EntryKind, at: HeldAt = {}): Promise<unknown> => builds.readBench(kind, at)
  const record = (kind: EntryKind) => readingsOf(builds.saved?.readings ?? [], kind)
  const said = (kind: EntryKind, value: unknown): string => entryWords(kind, value as never, settings.units)
  return { builds, settings, c, fitup, held, change, onBench, benchKind, readBench, record, said }
}
