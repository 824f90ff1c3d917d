<script setup lang="ts">
import { computed } from 'vue'
import { readingsOf } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** The old ignition's timing over speed, read before it goes: the new map is compared with what the engine liked. */
const builds = useBuild()
const settings = useSettings()
const readings = computed(() => readingsOf(builds.context!.readings, 'survey.old-timing').sort((a, b) => a.value.rpm - b.value.rpm))
</script>

<template>
  <div class="old">
    <p v-if="readings.length" class="list">
      <span v-for="r in readings" :key="r.id" class="num">
        {{ settings.format(r.value.rpm, 'rpm') }} {{ r.value.observedDeg }}°{{ r.value.vacuumCan ? ' with can' : '' }}
      </span>
    </p>
    <entry-form kind="survey.old-timing" :start="{ vacuumCan: false }" />
  </div>
</template>

<style scoped>
.list {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s1) var(--s4);
  margin: 0 0 var(--s2);
  font-size: var(--t3);
}
</style>
