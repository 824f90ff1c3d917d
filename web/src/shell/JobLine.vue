<script setup lang="ts">
import { RouterLink, useRoute } from 'vue-router'
import type { StationReport } from '@vectum/core'
import StateMark from './StateMark.vue'
import { reportWords } from './words.ts'

defineProps<{ stations: StationReport[]; buildId: string; rehearsal?: boolean }>()
const route = useRoute()
</script>

<template>
  <nav class="line" aria-label="Job line">
    <router-link
      v-for="s in stations"
      :key="s.id"
      :to="{ name: s.id, params: { id: buildId } }"
      class="stop-mark"
      :class="{ here: route.name === s.id, waits: s.state === 'open' }"
      :aria-current="route.name === s.id ? 'page' : undefined"
    >
      <span class="no num">{{ s.number }}</span>
      <span class="name">
        <strong class="head" :class="{ clear: s.state === 'cleared' && route.name !== s.id }">{{ s.title }}</strong>
        <small class="text-t1 text-soft lt-wide:hidden">{{ reportWords(s, stations) }}</small>
      </span>
      <state-mark :state="s.state" :dashed="rehearsal" :on-ink="route.name === s.id" />
    </router-link>
    <div class="foot">
      <router-link :to="{ name: 'logbook', params: { id: buildId } }" class="aside" :class="{ here: route.name === 'logbook' }"
        >Logbook</router-link
      >
      <router-link :to="{ name: 'unit', params: { id: buildId } }" class="aside" :class="{ here: route.name === 'unit' }">Unit</router-link>
      <router-link to="/" class="aside">Board</router-link>
    </div>
  </nav>
</template>

<style scoped>
.line {
  display: flex;
  flex-direction: column;
  height: 100%;
  overflow: auto;
  background: repeating-linear-gradient(to bottom, transparent 0 13px, var(--hair) 13px 14px) right / 10px 100% no-repeat;
}
.stop-mark {
  display: flex;
  align-items: center;
  gap: var(--s3);
  min-height: 62px;
  padding: 0 var(--s5) 0 var(--s4);
  text-decoration: none;
  color: var(--ink);
}
.stop-mark:hover,
.aside:hover {
  background: var(--wash);
}
.no {
  width: 26px;
  text-align: right;
  font-size: var(--t4);
  color: var(--soft);
}
.name {
  flex: 1;
  display: flex;
  flex-direction: column;
  line-height: 1.15;
}
.name strong {
  font-size: var(--t4);
}
.here {
  background: var(--ink) !important;
  color: var(--onInk) !important;
}
.here .no,
.here small {
  color: var(--onInk);
}
.foot {
  margin-top: auto;
  border-top: 1px solid var(--hair);
  display: flex;
}
.aside {
  flex: 1;
  min-height: 52px;
  display: flex;
  align-items: center;
  justify-content: center;
  text-decoration: none;
  color: var(--ink);
  font: 600 var(--t3) var(--head);
}
.aside + .aside {
  border-left: 1px solid var(--hair);
}
@media (max-width: 1000px) {
  .line {
    background: none;
  }
  .stop-mark {
    padding: 0 var(--s3) 0 var(--s2);
    gap: var(--s2);
    white-space: nowrap;
  }
  .no {
    display: none;
  }
  .name strong {
    font-size: var(--t3);
  }
  .foot {
    border: 0;
    margin: 0 0 0 auto;
  }
  .aside {
    padding: 0 var(--s3);
  }
}
</style>
