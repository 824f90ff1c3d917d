<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, onBeforeUnmount, ref } from 'vue'
import {
  activeSymptoms,
  interferenceSuspects,
  nextSuspect,
  speedSpikes,
  symptomIds,
  symptomWords,
  type SpeedSpike,
  type SuspectId,
  SpeedSpikes,
} from '@vectum/core'
import { api, type ApiError } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'

/** Symptom first, then suspect by suspect in order, each with how it is proved; and the spikes of a log, counted. */
const builds = useBuild()
const symptoms = computed(() => activeSymptoms(builds.context!))
const suspects = computed(() => interferenceSuspects(builds.context!))
const next = computed(() => (symptoms.value.length ? nextSuspect(suspects.value) : null))
const words = { found: 'it is this', clear: 'not this', open: '' } as const
const logs = computed(() => builds.current!.logs)
const live = useLive()
const watching = computed(() => live.state === 'up' || live.state === 'connecting' || live.state === 'lost')
onBeforeUnmount(() => live.close())
const liveSpikes = computed(() =>
  speedSpikes(
    live.frames.map((f) => f.timeS),
    live.frames.map((f) => f.rpm),
  ),
)
const benchProof = (suspect: SuspectId): void => void builds.readBench('spark.interference', { suspect })
const spikes = ref<{ name: string; list: SpeedSpike[] } | null>(null)
const problem = ref<string | null>(null)
async function look(id: string, name: string): Promise<void> {
  problem.value = null
  try {
    spikes.value = { name, list: await api(`/logs/${id}/spikes`, SpeedSpikes) }
  } catch (e) {
    problem.value = (e as ApiError).message
  }
}
</script>

<template>
  <section class="pad">
    <h2>What is seen?</h2>
    <div class="symptoms" role="group" aria-label="Symptoms">
      <button
        v-for="s in symptomIds"
        :key="s"
        :aria-pressed="symptoms.includes(s)"
        :class="{ on: symptoms.includes(s) }"
        @click="builds.record('spark.symptom', { symptom: s, seen: !symptoms.includes(s) })"
      >
        {{ symptomWords[s] }}
      </button>
    </div>
    <h2>Suspects, in order</h2>
    <ol class="list-none p-0 mx-0 mt-2 mb-4">
      <li v-for="s in suspects" :key="s.id" :class="[s.state, { next: next?.id === s.id }]">
        <span class="what"
          ><strong class="head text-t3 block">{{ s.title }}</strong> <small class="soft block text-t1">{{ s.prove }}</small
          ><small v-if="s.state === 'found'" class="cure block text-t1">{{ s.cure }}</small></span
        >
        <span class="state">{{ words[s.state] }}<small class="soft block text-t1">{{ s.because }}</small></span>
        <n-button
          size="small"
          :aria-label="`${s.title}: found`"
          @click="builds.record('spark.interference', { suspect: s.id, found: true })"
          >Found</n-button
        >
        <n-button
          size="small"
          :aria-label="`${s.title}: clear`"
          @click="builds.record('spark.interference', { suspect: s.id, found: false })"
          >Clear</n-button
        >
        <n-button size="small" dashed :aria-label="`${s.title}: proof on the bench`" @click="benchProof(s.id)">Bench</n-button>
      </li>
    </ol>
    <h2>Speed spikes, live</h2>
    <p v-if="!watching" class="logs">
      <n-button @click="live.open(builds.current!.id)">Watch the live speed</n-button>
      <span class="soft">what no crank can do is counted as it comes; the engine is run at First start</span>
    </p>
    <p v-else-if="live.state !== 'up'" class="soft">Waiting for the device…</p>
    <p v-else data-testid="live-spikes" aria-live="polite">
      <strong class="num">{{ live.frame?.rpm.toFixed(0) ?? '–' }} rpm</strong> now;
      <strong class="num" :class="{ warn: liveSpikes.length }">{{ liveSpikes.length }}</strong> spikes in the last
      {{ live.frames.length ? (live.frames[live.frames.length - 1].timeS - live.frames[0].timeS).toFixed(0) : 0 }} s{{
        liveSpikes.length ? `, the last to ${liveSpikes[liveSpikes.length - 1].toRpm.toFixed(0)} rpm` : ''
      }}.
      <n-button
        v-if="liveSpikes.length && !symptoms.includes('speed-spikes')"
        type="primary"
        @click="builds.record('spark.symptom', { symptom: 'speed-spikes', seen: true })"
        >Record the symptom</n-button
      >
    </p>
    <p v-if="live.state === 'refused'" class="warn">{{ live.why }}</p>
    <h2>Speed spikes in a log</h2>
    <p v-if="!logs.length" class="soft">Bring a log at Learn, or keep a trace at First start, to have its speed looked over.</p>
    <div v-else class="logs">
      <n-button v-for="l in logs" :key="l.id" size="small" @click="look(l.id, l.name)">{{ l.name }}</n-button>
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <p v-if="spikes" data-testid="spikes">
      <strong class="num">{{ spikes.list.length }}</strong> in {{ spikes.name
      }}{{
        spikes.list.length
          ? `, the first at ${spikes.list[0].timeS.toFixed(1)} s from ${spikes.list[0].fromRpm.toFixed(0)} to ${spikes.list[0].toRpm.toFixed(0)} rpm`
          : ': the speed is clean'
      }}.
    </p>
  </section>
</template>

<style scoped>
.symptoms,
.logs {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2);
  margin: var(--s2) 0 var(--s4);
}
.symptoms button {
  min-height: 44px;
  padding: 0 var(--s4);
  border: 1px solid var(--soft);
  background: var(--sheet);
  color: var(--ink);
  font: 600 var(--t3) var(--head);
  cursor: pointer;
}
.symptoms .on {
  background: var(--ink);
  color: var(--onInk);
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 110px auto auto auto;
  gap: var(--s3);
  align-items: center;
  border-bottom: 1px dotted var(--hair);
  border-left: 5px solid var(--hair);
  padding: var(--s2) 0 var(--s2) var(--s3);
}
.found {
  border-left-color: var(--warn);
}
.clear {
  border-left-color: var(--clear);
  color: var(--ink);
}
.next {
  background: var(--wash);
}
.cure {
  font-weight: 600;
}
</style>
