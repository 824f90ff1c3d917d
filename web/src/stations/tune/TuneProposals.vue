<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { provisionalLimit, throttleEnds, type TuneParameters } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

/** What was measured or is not proved yet, offered for the parameters; taken with one press into the draft. */
const props = defineProps<{ parameters: TuneParameters }>()
const emit = defineEmits<{ change: [parameters: TuneParameters] }>()
const builds = useBuild()
const ends = computed(() => throttleEnds(builds.context!, props.parameters))
const limitRpm = computed(() => provisionalLimit(builds.met('start', 'timing'), props.parameters.revLimitRpm))
</script>

<template>
  <div v-if="ends || limitRpm" class="proposals" data-testid="proposals">
    <div v-if="ends" class="act">
      <span
        >Throttle as pressed at First start: shut {{ ends.throttleShutV.toFixed(2) }} V, open {{ ends.throttleOpenV.toFixed(2) }} V.</span
      >
      <n-button data-testid="take-ends" @click="emit('change', { ...parameters, ...ends })">Take the ends</n-button>
    </div>
    <div v-if="limitRpm" class="act">
      <span>The timing is not proved yet: {{ limitRpm }} rpm are enough until it is.</span>
      <n-button data-testid="take-limit" @click="emit('change', { ...parameters, revLimitRpm: limitRpm })"
        >Limit to {{ limitRpm }} rpm</n-button
      >
    </div>
  </div>
</template>

<style scoped>
.proposals {
  border-left: 6px solid var(--data);
  padding: 2px var(--s3);
  margin: var(--s2) 0;
}
</style>
