<script setup lang="ts">
import { type Build } from '@vectum/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSettings } from '../stores/settings.ts'
import FallenProofs from './FallenProofs.vue'
import FindingCard from './FindingCard.vue'
import { routeTo } from './landing.ts'
import WorkingNumber from './WorkingNumber.vue'

/** The right-hand sheet: what was found, the numbers with their working, and the one next action. */
const props = defineProps<{ build: Build }>()
const route = useRoute()
const router = useRouter()
const settings = useSettings()
/** a room beside the line shows what the stations found that leads into it */
const beside = computed(() => props.build.stations.flatMap((s) => s.findings).filter((f) => f.where?.station === route.name))
const here = computed(() => props.build.stations.find((s) => s.id === route.name) ?? null)
const nextTitle = computed(() => props.build.stations.find((s) => s.id === props.build.next.station)?.title ?? '')
/** on an upright tablet it is one line until it is asked for */
const open = ref(false)
const counts = computed(() => {
  const of = (severity: string) => here.value?.findings.filter((f) => f.severity === severity).length ?? 0
  return [
    [of('stop'), 'stop'],
    [of('warn'), 'to look at'],
  ]
    .filter(([n]) => n)
    .map(([n, word]) => `${n} ${word}`)
    .join(', ')
})
const elsewhere = computed(() => props.build.next.station !== route.name)
</script>

<template>
  <aside class="docket flex flex-col h-full min-h-0" aria-label="Docket">
    <button class="plain fold hidden" :aria-expanded="open" @click="open = !open">
      Docket <span v-if="counts" class="soft">{{ counts }}</span>
    </button>
    <div class="scroll flex-1 overflow-auto p-4 min-h-0 lt-wide:hidden" :class="{ open }">
      <h2 class="caps mb-2">Docket</h2>
      <template v-if="here">
        <fallen-proofs :station="here" :build-id="build.id" />
        <finding-card v-for="f in here.findings" :key="f.id" :finding="f" :build-id="build.id" />
        <p v-if="!here.findings.length" class="soft text-t2">Nothing found against this station.</p>
        <template v-if="here.numbers.length">
          <h2 class="caps mb-2 mt-4">Numbers</h2>
          <working-number v-for="n in here.numbers" :key="n.id" :number="n" />
        </template>
      </template>
      <finding-card v-for="f in here ? [] : beside" :key="f.id" :finding="f" :build-id="build.id" />
      <slot />
    </div>
    <button class="plain next" data-testid="next" @click="router.push(routeTo(build.next.where, build.id))">
      <small class="block text-t1">Next{{ elsewhere ? `, at ${nextTitle}` : '' }}</small>
      <span class="head text-t4 leading-[1.2] block">{{ settings.say(build.next.said) }}</span>
    </button>
  </aside>
</template>

<style scoped>
.next {
  background: var(--ink);
  color: var(--onInk);
  padding: var(--s4) var(--s4) var(--s4);
  margin: 0 var(--s4) var(--s4);
  display: block;
}
@media (max-width: 1000px) {
  .docket {
    display: grid;
    grid-template: auto auto / auto minmax(0, 1fr);
    align-items: center;
  }
  .fold {
    display: block;
    min-height: 52px;
    padding: 0 var(--s4);
    font: 600 var(--t3) var(--head);
    text-decoration: underline;
  }
  .scroll.open {
    display: block;
    grid-column: 1 / -1;
    grid-row: 1;
    max-height: 46vh;
  }
  .next {
    margin: 0;
    padding: var(--s2) var(--s4);
    grid-column: 2;
  }
}
</style>
