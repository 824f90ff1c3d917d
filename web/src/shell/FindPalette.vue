<script setup lang="ts">
import { Board, type BoardEntry } from '@vectum/core'
import { NInput, NModal } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../api/client.ts'

/** Find a station of this build, or another build, by typing. */
const props = defineProps<{ build: { id: string; stations: readonly { id: string; title: string }[] } | null }>()
const show = defineModel<boolean>('show', { required: true })
const router = useRouter()
const query = ref('')
const at = ref(0)
const builds = ref<BoardEntry[]>([])
// made anew each time it is asked for
api('/builds', Board)
  .then((list) => (builds.value = list))
  .catch(() => (builds.value = []))
const hits = computed(() => {
  const { build } = props
  const here = build
    ? [
        ...build.stations.map((s) => ({ text: s.title, to: { name: s.id, params: { id: build.id } } })),
        { text: 'Logbook', to: { name: 'logbook', params: { id: build.id } } },
        { text: 'Control unit', to: { name: 'unit', params: { id: build.id } } },
      ]
    : []
  const all = [
    ...here,
    ...builds.value.map((b) => ({ text: b.title, to: { name: 'survey', params: { id: b.id } } })),
    { text: 'Board', to: { name: 'board', params: {} } },
  ]
  return all.filter((h) => h.text.toLowerCase().includes(query.value.trim().toLowerCase())).slice(0, 9)
})
function go(index: number): void {
  const hit = hits.value[index]
  if (!hit) return
  show.value = false
  void router.push(hit.to)
}
function onKey(event: KeyboardEvent): void {
  if (event.key === 'ArrowDown') at.value = Math.min(hits.value.length - 1, at.value + 1)
  else if (event.key === 'ArrowUp') at.value = Math.max(0, at.value - 1)
  else if (event.key === 'Enter') go(at.value)
  else return
  event.preventDefault()
}
watch(query, () => (at.value = 0))
</script>

<template>
  <n-modal v-model:show="show" preset="card" title="Go to" style="max-width: 460px" :bordered="false">
    <n-input
      v-model:value="query"
      placeholder="station or car"
      autofocus
      :input-props="{ 'aria-label': 'Station or car' }"
      @keydown="onKey"
    />
    <ul class="list-none p-0 mx-0 mt-2 mb-0">
      <li v-for="(hit, i) in hits" :key="hit.text">
        <button class="plain" :class="{ at: i === at }" @click="go(i)">{{ hit.text }}</button>
      </li>
    </ul>
    <p v-if="!hits.length" class="soft">Nothing by that name.</p>
  </n-modal>
</template>

<style scoped>
button {
  display: block;
  width: 100%;
  min-height: 44px;
  padding: 0 var(--s3) !important;
}
.at {
  background: var(--ink) !important;
  color: var(--onInk) !important;
}
</style>
