<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, shallowRef, toRaw } from 'vue'
import {
  applyStartMove,
  DIP_RPM,
  drivenWith,
  FIRES_WITHIN_S,
  LogAnswer,
  OVERSHOOT_RPM,
  type StartMove,
  type StartScore,
  STEADY_WITHIN_S,
  type TuneDocument,
} from '@vectum/core'
import { api } from '../../api/client.ts'
import { useSettings } from '../../stores/settings.ts'
import { useLogWorker } from '../learn/use-log-worker.ts'
import { useNewVersion } from '../learn/use-new-version.ts'
import { useIdle } from './use-idle.ts'
import { useIdleWorker } from './use-idle-worker.ts'

/** How it starts: each start of the stream or of a log with its score, and what to change of it. */
const { builds, live, streams, tune } = useIdle()
const settings = useSettings()
const { tasks } = useIdleWorker()
const { tasks: logTasks } = useLogWorker()
const scores = shallowRef<StartScore[] | null>(null)
const logId = ref('')
const problem = ref<string | null>(null)
const stored = ref<number | null>(null)
async function doing(work: () => Promise<StartScore[]>): Promise<void> {
  problem.value = scores.value = stored.value = null
  try {
    scores.value = await work()
  } catch (e) {
    problem.value = (e as Error).message
  }
}
const fromStream = () => {
  logId.value = ''
  return doing(() => tasks().starts(toRaw(live.frames)))
}
const fromLog = () =>
  doing(async () => {
    const { channels } = await api(`/logs/${logId.value}`, LogAnswer)
    const found = await logTasks().starts(logId.value, [...channels])
    if ('refused' in found) throw new Error(found.refused.message)
    return found
  })
/** what was started on an older tune says nothing of this one; at the car itself the one in it is what starts */
const fits = computed(() => {
  const log = builds.current!.logs.find((l) => l.id === logId.value)
  return log
    ? drivenWith(
        log,
        builds.current!.tunes.find((t) => t.status === 'in-car'),
      )
    : live.device === 'line' || live.tuneNumber === tune.value?.number
})
const withMove = (score: StartScore, move: StartMove) =>
  tune.value && fits.value && score.coolantC !== null
    ? applyStartMove(toRaw(tune.value.document), move, score.coolantC, `from a start at ${score.coolantC.toFixed(0)} °C`)
    : null
const shown = computed(() => scores.value?.map((s) => ({ ...s, moves: s.moves.map((m) => ({ ...m, made: withMove(s, m) })) })))
const { busy, problem: notStored, store } = useNewVersion()
async function storeMove(document: TuneDocument): Promise<void> {
  const version = await store(async () => ({ name: 'Fuel and air at a start', origin: 'edited', parentId: tune.value!.id, document }))
  stored.value = version?.number ?? null
}
</script>

<template>
  <section class="pad">
    <p class="measure">
      A start is good that fires within {{ FIRES_WITHIN_S }} s, runs up by no more than {{ OVERSHOOT_RPM }} rpm over its idle, falls by no
      more than {{ DIP_RPM }} rpm from where it had come to, and stands within {{ STEADY_WITHIN_S }} s. Cold ones count most: score one
      after a night, and log half a minute of idle, until the mixture sensor reads.
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
          <th></th>
        </tr>
      </thead>
      <tbody v-for="s in shown" :key="s.atS">
        <tr>
          <td>{{ settings.format(s.coolantC ?? undefined, 'temperature') }}</td>
          <td>{{ s.secondsToFire.toFixed(1) }} s</td>
          <td>{{ s.overshootRpm.toFixed(0) }} rpm</td>
          <td>{{ s.dipRpm.toFixed(0) }} rpm</td>
          <td>{{ s.secondsToSteady.toFixed(0) }} s</td>
          <td :class="s.good ? 'clear' : 'warn'">{{ s.good ? 'good' : 'not yet' }}</td>
        </tr>
        <tr v-if="s.found">
          <td colspan="6">
            <p class="warn">{{ s.found }}.</p>
            <div v-for="m in s.moves" :key="m.text" class="act flex-nowrap justify-between">
              <span><strong v-if="m.when">{{ m.when }}: </strong>{{ m.text }}.</span>
              <n-button v-if="m.made" size="large" :loading="busy" data-testid="start-version" @click="storeMove(m.made.tune)"
                >A version with {{ m.made.toPct.toFixed(0) }} % for {{ m.made.fromPct.toFixed(0) }} %</n-button
              >
            </div>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="notStored" class="stop" role="alert">{{ notStored }}</p>
    <p v-if="stored !== null" data-testid="start-stored">
      Version {{ stored }} stored: one change, for one test. Put it in the car at Base tune, and start again as cold.
    </p>
  </section>
</template>
