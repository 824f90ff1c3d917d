<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Build } from '../api/types.ts'
import { useSettings } from '../stores/settings.ts'
import FindingCard from './FindingCard.vue'
import { routeTo } from './landing.ts'
import WorkingNumber from './WorkingNumber.vue'

/** The right-hand sheet: what was found, the numbers with their working, and the one next action. */
const props = defineProps<{ build: Build }>()
const route = useRoute()
const router = useRouter()
const settings = useSettings()
const here = computed(() => props.build.stations.find((s) => s.id === route.name) ?? null)
const nextTitle = computed(() => props.build.stations.find((s) => s.id === props.build.next.station)?.title ?? '')
const elsewhere = computed(() => props.build.next.station !== route.name)
</script>

<template>
  <aside class="docket" aria-label="Docket">
    <div class="scroll">
      <h2 class="caps">Docket</h2>
      <template v-if="here">
        <finding-card v-for="f in here.findings" :key="f.id" :finding="f" :build-id="build.id" />
        <p v-if="!here.findings.length" class="soft none">Nothing found against this station.</p>
        <template v-if="here.numbers.length">
          <h2 class="caps gap">Numbers</h2>
          <working-number v-for="n in here.numbers" :key="n.id" :number="n" />
        </template>
      </template>
      <slot />
    </div>
    <button class="plain next" data-testid="next" @click="router.push(routeTo(build.next.where, build.id))">
      <small>Next{{ elsewhere ? `, at ${nextTitle}` : '' }}</small>
      <span class="head">{{ settings.say(build.next.said) }}</span>
    </button>
  </aside>
</template>

<style scoped>
.docket {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-height: 0;
}
.scroll {
  flex: 1;
  overflow: auto;
  padding: 14px 16px;
  min-height: 0;
}
.caps {
  margin-bottom: 8px;
}
.gap {
  margin-top: 16px;
}
.none {
  font-size: 15px;
}
.next {
  background: var(--ink);
  color: var(--onInk);
  padding: 14px 18px 16px;
  margin: 0 16px 16px;
  display: block;
}
.next small {
  display: block;
  font-size: 14px;
}
.next .head {
  font-size: 22px;
  line-height: 1.2;
  display: block;
}
</style>
