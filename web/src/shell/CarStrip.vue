<script setup lang="ts">
import type { Build, View } from '@vectum/core'
import { type Component, computed, shallowRef } from 'vue'
import { RouterLink } from 'vue-router'
import { useLink } from '../stores/link.ts'
import { useSettings } from '../stores/settings.ts'

/** The slim strip on top: which car, which tune is in it, is everything saved, units, help. It stands over the board too, so it asks no store of builds. */
const props = defineProps<{ build?: Build | null; pending?: { count: number; saving: boolean }; view?: View }>()
const emit = defineEmits<{ help: []; view: [view: View] }>()
const settings = useSettings()
const link = useLink()

const viewWords = [
  { id: 'car', title: 'Car', says: 'what people and loggers saw on the car' },
  { id: 'rehearsal', title: 'Rehearsal', says: 'the bench counts as well; nothing here clears the car' },
] as const
const line = computed(() => {
  const facts = props.build?.facts
  if (!facts) return ''
  const { car, engine } = facts
  const parts = [
    car?.year,
    engine?.displacementCc ? settings.format(engine.displacementCc, 'displacement') : null,
    engine?.cylinders ? `${engine.layout ?? ''} ${engine.cylinders}`.trim() : null,
    car?.body,
  ]
  return parts.filter(Boolean).join(' · ')
})
const inCar = computed(() => props.build?.tunes.find((t) => t.status === 'in-car') ?? null)
const unitWords = computed(
  () => `${settings.system === 'metric' ? 'mm · kPa' : 'in · psi'} · ${settings.mixture === 'lambda' ? 'λ' : 'AFR'}`,
)
// loaded when it is first opened: the first page does without what floats
const StripSettings = shallowRef<Component | null>(null)
async function openSettings(): Promise<void> {
  StripSettings.value = (await import('./StripSettings.vue')).default
}
const saveState = computed(() => {
  if (link.state === 'server') return { word: 'server away: kept here', bad: true }
  if (link.state === 'database') return { word: 'database away: kept here', bad: true }
  const { pending } = props
  if (pending?.count) return { word: pending.saving ? 'saving' : `${pending.count} kept here`, bad: false }
  return { word: 'saved', bad: false }
})
</script>

<template>
  <header class="strip flex items-center gap-3 h-full pr-4" :class="{ rehearsal: view === 'rehearsal' }">
    <router-link to="/" class="brand head" aria-label="Vectum, to the board">VECTUM</router-link>
    <div class="car">
      <template v-if="build"><strong class="head text-t4 mr-3">{{ build.title }}</strong> <span class="soft">{{ line }}</span></template>
      <slot v-else />
    </div>
    <div v-if="build" class="views flex" role="radiogroup" aria-label="What counts">
      <button
        v-for="v in viewWords"
        :key="v.id"
        class="chip"
        role="radio"
        :aria-checked="view === v.id"
        :title="v.says"
        :data-testid="`view-${v.id}`"
        @click="emit('view', v.id)"
      >
        {{ v.title }}
      </button>
    </div>
    <router-link v-if="build" class="chip" :to="{ name: 'tune', params: { id: build.id } }">{{
      inCar ? `Tune ${inCar.number} in car` : 'No tune in car'
    }}</router-link>
    <span class="chip state" :class="{ bad: saveState.bad }" role="status" data-testid="save-state">
      <svg class="fill-clear" width="12" height="12" viewBox="0 0 12 12" aria-hidden="true">
        <rect v-if="saveState.bad" width="12" height="12" />
        <circle v-else cx="6" cy="6" r="5" /></svg
      >{{ saveState.word }}
    </span>
    <component :is="StripSettings" v-if="StripSettings" :words="unitWords" />
    <button v-else class="chip" data-testid="settings" @click="openSettings">{{ unitWords }}</button>
    <button class="chip" aria-label="Help and keys" @click="emit('help')">?</button>
  </header>
</template>

<style scoped>
.brand {
  font-size: var(--t4);
  letter-spacing: 0.14em;
  width: 212px;
  padding-left: var(--s5);
  text-decoration: none;
  color: var(--ink);
  flex: none;
}
.car {
  flex: 1;
  min-width: 0;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.state {
  border-color: var(--hair);
}
.bad {
  border-color: var(--stop);
  color: var(--stop);
}
.bad svg {
  fill: var(--stop);
}
.views [aria-checked='true'] {
  background: var(--ink);
  color: var(--onInk);
}
/* unmistakable by day and night: a hatched strip is not the car */
.rehearsal {
  background: repeating-linear-gradient(135deg, transparent 0 14px, color-mix(in srgb, var(--warn) 34%, transparent) 14px 22px);
}
.rehearsal .views [aria-checked='true'] {
  outline: 2px dashed var(--sheet);
  outline-offset: -5px;
}
@media (max-width: 1000px) {
  .brand {
    width: auto;
    padding-left: var(--s4);
    padding-right: var(--s2);
  }
}
</style>
