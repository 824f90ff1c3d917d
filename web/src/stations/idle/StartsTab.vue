<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref, shallowRef, toRaw } from 'vue'
import { DIP_RPM, FIRES_WITHIN_S, LogAnswer, OVERSHOOT_RPM, type StartScore, STEADY_WITHIN_S } from '@vectum/core'
import { api } from '../../api/client.ts'
import { useSettings } from '../../stores/settings.ts'
import { useLogWorker } from '../learn/use-log-worker.ts'
import { useIdle } from './use-idle.ts'
import { useIdleWorker } from './use-idle-worker.ts'

/** How it starts: each start of the stream or of a log with its score, and what to change of it. */
const { builds, live, streams } = useIdle()
const settings = useSettings()
const { tasks } = useIdleWorker()
const { tasks: logTasks } = useLogWorker()
const scores = shallowRef<StartScore[] | null>(null)
const logId = ref('')
const problem = ref<string | null>(null)
async function doing(work: () => Promise<StartScore[]>): Promise<void> {
  problem.value = scores.value = null
  try {
    scores.value = await work()
  } catch (e) {
    problem.value = (e as Error).message
  }
}
const fromStream = () => doing(() => tasks().starts(toRaw(live.frames)))
const fromLog = () =>
  doing(async () => {
    const { channels } = await api(`/logs/${logId.value}`, LogAnswer)
    const found = await logTasks().starts(logId.value, [...channels])
    if ('refused' in found) throw new Error(found.refused.message)
    return found
  })
</script>

<template>
  <section class="pad">
    <p class="measure">
      A start is good that fires within {{ FIRES_WITHIN_S }} s, runs up by no more than {{ OVERSHOOT_RPM }} rpm, does not fall more than
      {{ DIP_RPM }} rpm under its idle, and stands within {{ STEADY_WITHIN_S }} s. Cold ones count most: score one after a night.
    </p>
    <div class="act">
      <n-button v-if="streams" size="large" data-testid="score-stream" @click="fromStream">Score the start just made</n-button>
      <select v-model="logId" aria-label="Log with starts" @change="logId && fromLog()">
        <option value="">or those of a log</option>
        <option v-for="l in builds.current!.logs" :key="l.id" :value="l.id">{{ l.name }}</option>
      </select>
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <p v-if="scores && scores.length === 0" class="empty">No start in it: the log must hold the cranking and ten seconds after.</p>
    <table v-if="scores?.length" class="plain" data-testid="starts">
      <thead>
        <tr>
          <th>Coolant</th>
          <th>Fires in</th>
          <th>Runs up by</th>
          <th>Falls by</th>
          <th>Steady in</th>
          <th>Next</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in scores" :key="s.atS">
          <td>{{ settings.format(s.coolantC ?? undefined, 'temperature') }}</td>
          <td>{{ s.secondsToFire.toFixed(1) }} s</td>
          <td>{{ s.overshootRpm.toFixed(0) }} rpm</td>
          <td>{{ s.dipRpm.toFixed(0) }} rpm</td>
          <td>{{ s.secondsToSteady.toFixed(0) }} s</td>
          <td :class="s.good ? 'clear' : 'warn'">{{ s.good ? 'good' : s.moves.join(' ') }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
