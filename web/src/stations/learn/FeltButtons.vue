<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref } from 'vue'
import { FELT_ON_S, feltKinds, type FeltKind, momentOf, tuneInCar } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'

/** One tap, or the keys 1 to 5, for whatever the passenger felt: it keeps the seconds around it. */
const builds = useBuild()
const live = useLive()
const said = ref('')
const kinds = Object.entries(feltKinds) as [FeltKind, string][]
/** until what follows the tap is there too, and the last frame of it has come */
const WAIT_MS = 1000 * FELT_ON_S + 200
function mark(what: FeltKind): void {
  const atS = live.frame?.timeS
  if (atS === undefined) {
    said.value = 'Nothing is heard from the engine: there is no moment to keep.'
    return
  }
  said.value = `${feltKinds[what]} kept.`
  setTimeout(() => {
    const moment = momentOf(live.frames, atS)
    if (moment) builds.record('learn.felt', { what, moment, tuneId: tuneInCar(builds.current!)?.id ?? null })
  }, WAIT_MS)
}
function onKey(event: KeyboardEvent): void {
  const kind = kinds[Number(event.key) - 1]
  if (kind && !event.ctrlKey && !event.altKey && !event.metaKey) mark(kind[0])
}
onMounted(() => window.addEventListener('keydown', onKey))
onBeforeUnmount(() => window.removeEventListener('keydown', onKey))
</script>

<template>
  <div class="felt flex flex-wrap gap-3 items-center" role="group" aria-label="What was felt">
    <button v-for="([id, words], k) in kinds" :key="id" :data-testid="`felt-${id}`" @click="mark(id)">
      <small class="text-soft">{{ k + 1 }}</small> {{ words }}
    </button>
    <span class="kept" role="status" data-testid="felt-said">{{ said }}</span>
  </div>
</template>

<style scoped>
button {
  min-height: 64px;
  padding: 0 var(--s4);
  border: 2px solid var(--ink);
  background: var(--sheet);
  color: var(--ink);
  font: 600 var(--t4) var(--head);
  cursor: pointer;
}
button:hover {
  background: var(--wash);
}
/* read from the other seat */
.kept {
  font: 600 var(--t4) var(--head);
}
</style>
