import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import {
  Anything,
  contextOf,
  evaluate,
  mergePatch,
  mergePatches,
  patchFor,
  valueAt,
  type ReadingInput,
  type EntryKind,
  type Build,
  BuildAnswer,
} from '@vectum/core'
import { ApiError, api } from '../api/client.ts'
import { useLink } from './link.ts'
import { useSettings } from './settings.ts'

interface PendingChange {
  path: string
  value: unknown
  /** what stood there when it was typed: if that changed underneath, a person decides */
  base: unknown
}
interface PendingReading {
  id: string
  body: ReadingInput
}
interface Pending {
  changes: PendingChange[]
  readings: PendingReading[]
}
export interface Conflict {
  path: string
  mine: unknown
  theirs: unknown
}

const KEPT = 'vectum.pending'
const nothing = (): Pending => ({ changes: [], readings: [] })

/** The same change by what it says: what was read back from the browser is another object. */
const sameAs = (a: PendingChange) => (b: PendingChange) => a.path === b.path && JSON.stringify(a.value) === JSON.stringify(b.value)

/**
 * The build on the screen. A change shows at once (judged by the core in the browser), is kept in the browser until the server has it,
 * and survives a reload, a dead server and somebody else's edit.
 */
export const useBuild = defineStore('build', () => {
  const link = useLink()
  const settings = useSettings()
  const saved = shallowRef<Build | null>(null)
  const loading = ref(false)
  const error = ref<ApiError | null>(null)
  const saving = ref(false)
  const conflicts = ref<Conflict[]>([])
  const refused = ref<string | null>(null)
  const kept = useLocalStorage<Record<string, Pending>>(KEPT, {})

  const id = computed(() => saved.value?.id ?? null)
  const pending = computed<Pending>(() => (id.value ? (kept.value[id.value] ?? nothing()) : nothing()))
  const pendingCount = computed(() => pending.value.changes.length + pending.value.readings.length)

  /** the build with what is still on its way to the server */
  const current = computed<Build | null>(() => {
    const base = saved.value
    if (!base) return null
    const { changes, readings } = pending.value
    if (changes.length === 0 && readings.length === 0) return base
    let data = { facts: base.facts, choices: base.choices }
    for (const { path, value } of changes) data = mergePatch(data, patchFor(path, value)) as typeof data
    const waiting = readings.map(({ id: readingId, body }) => ({
      id: readingId,
      kind: body.kind,
      value: body.value,
      instrument: body.instrument ?? null,
      who: body.who ?? settings.person,
      takenAt: body.takenAt ?? new Date().toISOString(),
      conditions: null,
      supersedes: body.supersedes ?? null,
    }))
    const merged = { ...base, ...data, readings: [...base.readings, ...(waiting as Build['readings'])] }
    return { ...merged, ...evaluate(merged) }
  })
  const context = computed(() => (current.value ? contextOf(current.value) : null))
  const station = (stationId: string) => current.value?.stations.find((s) => s.id === stationId) ?? null
  /** whether a station's requirement is met; one that this car does not have is */
  const met = (stationId: string, requirement: string) => station(stationId)?.requirements.find((r) => r.id === requirement)?.met ?? true

  function keep(change: (p: Pending) => Pending): void {
    if (!id.value) return
    // another tab may have written since this one was told: what stands in the browser is changed, not what this tab remembers of it
    const standing = JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Record<string, Pending>
    const next = { ...standing, [id.value]: change(standing[id.value] ?? nothing()) }
    localStorage.setItem(KEPT, JSON.stringify(next))
    kept.value = next
  }

  async function open(buildId: string): Promise<void> {
    if (saved.value?.id !== buildId) saved.value = null
    loading.value = saved.value === null
    error.value = null
    try {
      saved.value = await api(`/builds/${buildId}`, BuildAnswer)
      void flush()
    } catch (e) {
      error.value = e as ApiError
    } finally {
      loading.value = false
    }
  }
  const reload = () => (saved.value ? open(saved.value.id) : Promise.resolve())

  /** Sets one fact or choice by its path, such as "facts.engine.boreMm"; undefined means not known. */
  function change(path: string, value: unknown): void {
    const now = current.value
    if (!now || JSON.stringify(valueAt(now, path)) === JSON.stringify(value)) return
    const before = pending.value.changes.find((c) => c.path === path)
    const entry: PendingChange = { path, value, base: before ? before.base : valueAt(saved.value, path) }
    keep((p) => ({ ...p, changes: [...p.changes.filter((c) => c.path !== path), entry] }))
    refused.value = null
    void flush()
  }

  /** Appends a reading; kept here until the server has it, and never recorded twice. */
  function record(kind: EntryKind, value: Record<string, unknown>, more: Partial<ReadingInput> = {}): void {
    const body: ReadingInput = {
      kind,
      value,
      takenAt: new Date().toISOString(),
      ...(settings.person ? { who: settings.person } : {}),
      ...more,
    }
    keep((p) => ({ ...p, readings: [...p.readings, { id: crypto.randomUUID(), body }] }))
    void flush()
  }

  let again = false
  async function flush(): Promise<void> {
    if (saving.value) {
      again = true
      return
    }
    if (!saved.value || pendingCount.value === 0 || conflicts.value.length > 0) return
    saving.value = true
    try {
      for (const reading of [...pending.value.readings]) {
        try {
          await api(`/builds/${saved.value.id}/readings/${reading.id}`, Anything, { method: 'PUT', body: reading.body })
          // read back before it is let go of here, so that it never leaves the screen in between
          saved.value = await api(`/builds/${saved.value.id}`, BuildAnswer)
        } catch (e) {
          if ((e as ApiError).temporary) throw e
          refused.value = (e as ApiError).message
        }
        keep((p) => ({ ...p, readings: p.readings.filter((r) => r.id !== reading.id) }))
      }
      await sendChanges()
    } catch (e) {
      if (!(e instanceof ApiError && e.temporary)) throw e
    } finally {
      saving.value = false
      if (again) {
        again = false
        void flush()
      }
    }
  }

  async function sendChanges(): Promise<void> {
    for (let attempt = 0; attempt < 4 && saved.value && pending.value.changes.length > 0; attempt++) {
      const sent = pending.value.changes
      const patch = sent.reduce<unknown>((all, c) => mergePatches(all, patchFor(c.path, c.value)), {})
      try {
        saved.value = await api(`/builds/${saved.value.id}`, BuildAnswer, {
          method: 'PATCH',
          body: patch,
          headers: { 'if-match': `"${saved.value.version}"` },
        })
        keep((p) => ({
          ...p,
          changes: p.changes.filter((c) => !sent.some(sameAs(c))),
        }))
      } catch (e) {
        if (!(e instanceof ApiError)) throw e
        if (e.temporary) throw e
        if (e.status === 412) {
          const theirs = e.body.current as Build
          const touched = sent.filter(
            (c) =>
              JSON.stringify(valueAt(theirs, c.path)) !== JSON.stringify(c.base) &&
              JSON.stringify(valueAt(theirs, c.path)) !== JSON.stringify(c.value),
          )
          saved.value = theirs
          if (touched.length > 0) {
            conflicts.value = touched.map((c) => ({ path: c.path, mine: c.value, theirs: valueAt(theirs, c.path) }))
            return
          }
          continue
        }
        // the server will never take these: say why, and let go of them
        refused.value = e.fields.map((f) => `${f.path} ${f.message}`).join('; ') || e.message
        keep((p) => ({ ...p, changes: p.changes.filter((c) => !sent.some(sameAs(c))) }))
      }
    }
  }

  /** A person has decided between their own value and the one that came in between. */
  function settle(path: string, take: 'mine' | 'theirs'): void {
    const theirs = valueAt(saved.value, path)
    keep((p) => ({
      ...p,
      changes:
        take === 'mine' ? p.changes.map((c) => (c.path === path ? { ...c, base: theirs } : c)) : p.changes.filter((c) => c.path !== path),
    }))
    conflicts.value = conflicts.value.filter((c) => c.path !== path)
    if (conflicts.value.length === 0) void flush()
  }

  link.onBack(() => {
    if (saved.value) void flush()
    else if (error.value && lastAsked) void open(lastAsked)
  })
  let lastAsked: string | null = null
  const openAndRemember = (buildId: string) => {
    lastAsked = buildId
    return open(buildId)
  }

  return {
    saved,
    current,
    context,
    loading,
    error,
    saving,
    pendingCount,
    conflicts,
    refused,
    open: openAndRemember,
    reload,
    change,
    record,
    flush,
    settle,
    station,
    met,
  }
})
