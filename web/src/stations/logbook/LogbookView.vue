<script setup lang="ts">
import { NButton, NInput, NSpin } from 'naive-ui'
import { onMounted, ref, watch } from 'vue'
import type { LogbookEntry } from '@vectum/core'
import { changeSays, entryKinds, entryWords, type Change, type EntryKind, LogbookPage } from '@vectum/core'
import type { ApiError } from '../../api/client.ts'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import EntryStanding from '../../kit/EntryStanding.vue'
import StationHead from '../../kit/StationHead.vue'

const builds = useBuild()
const settings = useSettings()
const entries = ref<LogbookEntry[]>([])
const more = ref(false)
const loading = ref(true)
const error = ref<string | null>(null)
const kind = ref<string | null>(null)
const query = ref('')
const kinds = [
  { id: null, label: 'all' },
  { id: 'reading', label: 'readings' },
  { id: 'facts', label: 'facts' },
  { id: 'tune', label: 'tunes' },
  { id: 'log', label: 'logs' },
]
let asked = 0
async function load(onward = false): Promise<void> {
  const mine = ++asked
  loading.value = true
  error.value = null
  try {
    const parameters = new URLSearchParams({
      limit: '100',
      ...(kind.value ? { kind: kind.value } : {}),
      ...(query.value.trim() ? { q: query.value.trim() } : {}),
      ...(onward && entries.value.length ? { before: String(entries.value.at(-1)!.seq) } : {}),
    })
    const page = await api(`/builds/${builds.current!.id}/logbook?${parameters}`, LogbookPage)
    if (mine !== asked) return
    entries.value = onward ? [...entries.value, ...page.entries] : page.entries
    more.value = page.more
  } catch (e) {
    if (mine === asked) error.value = (e as ApiError).message
  } finally {
    if (mine === asked) loading.value = false
  }
}
onMounted(() => void load())
let timer: ReturnType<typeof setTimeout>
watch([kind, query], () => {
  clearTimeout(timer)
  timer = setTimeout(() => void load(), 200)
})
watch(
  () => builds.saved?.readings.length,
  () => void load(),
)
const when = (at: string) => new Date(at).toLocaleString(undefined, { day: '2-digit', month: 'short', hour: '2-digit', minute: '2-digit' })
/** a reading taken on another day than it was written down says so */
const takenEarlier = (e: LogbookEntry) => {
  const taken = (e.detail as { takenAt?: string } | null)?.takenAt
  return taken && Math.abs(Date.parse(e.at) - Date.parse(taken)) > 3_600_000 ? `taken ${when(taken)}` : ''
}
/** the line in this person's units; what is no reading and no change of one fact stands as it was written */
const words = (e: LogbookEntry): string => {
  const detail = e.detail as { kind?: string; value?: unknown; changes?: Change[]; supersedes?: string | null } | null
  if (e.kind === 'reading' && detail?.kind && detail.kind in entryKinds)
    return `${detail.supersedes ? 'Superseded: ' : ''}${entryWords(detail.kind as EntryKind, detail.value, settings.units)}`
  if (e.kind === 'facts' && detail?.changes?.length) return detail.changes.map((c) => settings.say(changeSays(c))).join('; ')
  return e.summary
}
const readingOf = (e: LogbookEntry): string | null =>
  e.kind === 'reading' ? ((e.detail as { readingId?: string } | null)?.readingId ?? null) : null
const withdrawn = (e: LogbookEntry): boolean => {
  const id = readingOf(e)
  return id !== null && builds.context?.standings.get(id)?.withdrawn != null
}
const word: Record<string, string> = { reading: 'reading', facts: 'facts', tune: 'tune', log: 'log', build: 'build' }
</script>

<template>
  <div>
    <station-head
      title="Logbook"
      line="Everything entered, measured and changed, with who and when. Nothing here is edited; a wrong entry is withdrawn with a reason, and stays."
    />
    <div class="filter">
      <div class="kinds" role="radiogroup" aria-label="Kind of entry">
        <button
          v-for="k in kinds"
          :key="k.label"
          role="radio"
          :aria-checked="kind === k.id"
          :class="{ on: kind === k.id }"
          @click="kind = k.id"
        >
          {{ k.label }}
        </button>
      </div>
      <n-input v-model:value="query" placeholder="search words or a name" clearable :input-props="{ 'aria-label': 'Search the logbook' }" />
    </div>
    <p v-if="error" class="stop" role="alert">{{ error }} <n-button size="small" @click="load()">Try again</n-button></p>
    <table v-if="entries.length">
      <tbody>
        <tr v-for="e in entries" :key="e.seq">
          <td class="when soft">{{ when(e.at) }}</td>
          <td class="who">{{ e.who }}</td>
          <td class="kind soft">{{ word[e.kind] ?? e.kind }}</td>
          <td>
            <component :is="withdrawn(e) ? 's' : 'span'">{{ words(e) }}</component>
            <span v-if="takenEarlier(e)" class="soft taken">{{ takenEarlier(e) }}</span>
            <entry-standing v-if="readingOf(e)" :reading-id="readingOf(e)!" class="worth" />
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="!loading && !error" class="soft">{{ query || kind ? 'Nothing matches.' : 'Nothing written down yet.' }}</p>
    <n-spin v-if="loading" size="small" />
    <n-button v-if="more" @click="load(true)">Older entries</n-button>
  </div>
</template>

<style scoped>
.taken {
  margin-left: var(--s3);
}
.worth {
  display: flex;
}
.filter {
  display: flex;
  gap: var(--s4);
  margin-bottom: var(--s3);
  flex-wrap: wrap;
}
.filter :deep(.n-input) {
  max-width: 320px;
}
.kinds {
  display: flex;
}
.kinds button {
  min-height: 44px;
  padding: 0 var(--s4);
  border: 1px solid var(--soft);
  margin-right: -1px;
  background: var(--sheet);
  color: var(--ink);
  font: 600 var(--t3) var(--head);
  cursor: pointer;
}
.kinds .on {
  background: var(--ink);
  color: var(--onInk);
}
.when {
  white-space: nowrap;
  width: 130px;
}
.who {
  width: 190px;
  font-weight: 600;
}
.kind {
  width: 90px;
}
</style>
