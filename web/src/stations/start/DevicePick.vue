<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'
import { useStartDesk } from './use-start-desk.ts'

/** Which device the stream comes from: the bench, a log played again, or a logger that has connected. */
const builds = useBuild()
const live = useLive()
const { say } = useStartDesk()
const picked = ref('')
const logs = computed(() => builds.current?.logs ?? [])
async function useBench(): Promise<void> {
  if ((await say('device', { use: 'bench' })).ok) builds.view = 'rehearsal'
}
async function play(): Promise<void> {
  if (picked.value) await say('replay', { logId: picked.value })
}
</script>

<template>
  <div class="device flex flex-wrap gap-y-1 gap-x-3 items-center">
    <template v-if="live.device === 'bench' && builds.view === 'car'">
      <strong class="mark">CAR</strong>
      <span>no logger: type in what its display shows</span>
      <n-button data-testid="rehearse" @click="builds.view = 'rehearsal'">Rehearse on the bench</n-button>
    </template>
    <strong v-else-if="live.device === 'bench'" class="mark">BENCH</strong>
    <strong v-else-if="live.device === 'replay'" class="mark">REPLAY</strong>
    <strong v-else-if="live.device === 'line'" class="mark">LOGGER</strong>
    <span v-if="live.device !== 'bench' || builds.view === 'rehearsal'">{{
      live.device === null
        ? live.ended || 'no device'
        : live.device === 'bench'
          ? `simulated car, tune ${live.tuneNumber ?? '–'}`
          : live.device === 'replay'
            ? `${live.name}, as it was; nothing of it is written down`
            : `${live.name}: it only tells, act at the car`
    }}</span>
    <n-button v-if="live.device !== 'bench'" size="small" data-testid="use-bench" @click="useBench">Use the bench</n-button>
    <label v-if="logs.length && live.device !== 'line' && builds.view === 'rehearsal'" class="log flex gap-2 items-center"
      ><span class="soft">or play</span>
      <select v-model="picked" class="w-130px" aria-label="Log to play" @change="play">
        <option value="">a log</option>
        <option v-for="l in logs" :key="l.id" :value="l.id">{{ l.name }}</option>
      </select></label
    >
  </div>
</template>

<style scoped>
.mark {
  border: 1px solid var(--data);
  color: var(--data);
  padding: 0 var(--s2);
  letter-spacing: 0.08em;
}
</style>
