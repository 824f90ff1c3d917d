<script setup lang="ts">
import { NButton, NModal, NSelect } from 'naive-ui'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { takingWords, tuneTaking } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import type { TuneVersionsInUse } from './use-tune-versions.ts'

/** Which version is open, and where it goes: ready, into the car, or computed anew beside it. */
const props = defineProps<{ versions: TuneVersionsInUse; edited: boolean }>()
const { chosen, tune, busy, options, status, ofBench, setStatus, computeAgain, build } = props.versions
const builds = useBuild()
const taking = computed(() => tuneTaking(builds.context!))
/** a version learned on the bench fits a simulated car: before it goes into a real one a person says so */
const asking = ref(false)
function put(): void {
  if (ofBench.value) asking.value = true
  else void setStatus('in-car')
}
function allTheSame(): void {
  asking.value = false
  void setStatus('in-car')
}
</script>

<template>
  <div class="act">
    <n-select v-model:value="chosen" :options="options" aria-label="Tune version" class="flex-1 min-w-200px" />
    <n-button v-if="tune && status === 'draft'" :disabled="edited || busy" @click="setStatus('ready')">Mark ready</n-button>
    <n-button v-if="tune && status !== 'in-car'" type="primary" :disabled="edited || busy" @click="put">Put in the car</n-button>
    <n-button :disabled="!tune" @click="computeAgain">Set up again</n-button>
    <router-link v-if="taking.tune" :class="{ stop: taking.differences }" :to="{ name: 'start', params: { id: build.id } }"
      >version {{ taking.tune.number }} in the car: {{ takingWords[taking.step] }}{{ taking.differences ? ', NOT equal' : '' }}</router-link
    >
  </div>
  <n-modal v-model:show="asking" preset="card" title="Learned on the bench" style="max-width: 560px">
    <p v-if="ofBench">
      Version {{ ofBench.number }} was corrected from a rehearsed drive: it fits a simulated car, not this one. Put a computed version in
      the car, or one learned from a drive of this car.
    </p>
    <div class="act">
      <n-button type="primary" size="large" @click="asking = false">Leave the car as it is</n-button>
      <n-button size="large" data-testid="bench-tune-anyway" @click="allTheSame">Put it in the car all the same</n-button>
    </div>
  </n-modal>
</template>
