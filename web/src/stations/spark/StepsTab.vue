<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { faultsFor, latest, entryWords, sparkProcedure, triggerWays, type SparkRoom, type SparkStep } from '@vectum/core'
import { useLanding } from '../../shell/landing.ts'
import BenchFaults from '../../shell/BenchFaults.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import StepRecord from './StepRecord.vue'

/** The bench procedure of the way chosen, in its order: the step to do now is open, the others say where they stand. */
const emit = defineEmits<{ go: [room: SparkRoom] }>()
const settings = useSettings()
const builds = useBuild()
const c = computed(() => builds.context!)
const steps = computed(() => sparkProcedure(c.value))
const now = computed(() => steps.value.find((s) => s.state === 'wrong') ?? steps.value.find((s) => s.state === 'open') ?? null)
const landing = useLanding()
const opened = ref<string | null>(null)
watch(landing.at, (at) => at && steps.value.some((s) => s.id === at) && (opened.value = at), { immediate: true })
const isOpen = (s: SparkStep) => (opened.value ?? now.value?.id) === s.id
const toggle = (s: SparkStep) => (opened.value = isOpen(s) ? '' : s.id)
const done = computed(() => steps.value.filter((s) => s.state === 'done').length)
const seen = (s: SparkStep) => {
  if (!s.kind || s.kind === 'spark.done') return s.because
  const reading = latest(c.value.readings, s.kind)
  return reading ? entryWords(s.kind, reading.value, settings.units) : s.because
}
const rooms: Record<SparkRoom, string> = {
  steps: 'Steps',
  trigger: 'Trigger',
  phase: 'Dial',
  order: 'Order',
  scope: 'Scope',
  coil: 'Coil',
}
const mark = { done: '✓', open: '', wrong: '!' } as const
</script>

<template>
  <section class="pad">
    <p v-if="!c.spark.trigger" class="first">
      First choose how the unit will see the crank; each way has its own steps.
      <n-button type="primary" size="large" @click="emit('go', 'trigger')">Choose the way</n-button>
    </p>
    <template v-else>
      <p class="head-line">
        <strong class="head">{{ triggerWays[c.spark.trigger].title }}</strong>
        <span class="soft">{{ done }} of {{ steps.length }} done; what another way shares stays done.</span>
      </p>
      <ol class="list-none mx-0 mt-0 mb-4 p-0">
        <li
          v-for="(s, i) in steps"
          :key="s.id"
          :class="[s.state, { now: now?.id === s.id, shown: isOpen(s) }]"
          :data-testid="`step-${s.id}`"
          :data-at="s.id"
        >
          <button class="plain title" :aria-expanded="isOpen(s)" @click="toggle(s)">
            <span class="n num">{{ mark[s.state] || i + 1 }}</span>
            <span><strong class="head">{{ s.title }}</strong> <small v-if="!s.required" class="soft">if wanted</small></span>
            <span class="seen" :class="s.state === 'wrong' ? 'stop' : 'soft'">{{ seen(s) }}</span>
          </button>
          <div v-if="isOpen(s)" class="body">
            <p class="mx-0 mt-0 mb-2 max-w-78ch">{{ s.how }} <span class="soft">With: {{ s.tool }}.</span></p>
            <step-record v-if="s.kind" :key="s.id" :kind="s.kind" :step="s.id" />
            <n-button v-if="s.room !== 'steps'" :type="s.kind ? 'default' : 'primary'" class="go" @click="emit('go', s.room)"
              >Open {{ rooms[s.room] }}</n-button
            >
          </div>
        </li>
      </ol>
      <p v-if="!now" class="clear head-line">Every step is done. The running engine is timed at First start with the light.</p>
      <bench-faults :ids="faultsFor(c)" />
    </template>
  </section>
</template>

<style scoped>
.first {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s4);
  align-items: center;
  font-size: var(--t3);
}
.head-line {
  margin: 0 0 var(--s2);
}
.head-line strong {
  font-size: var(--t4);
  margin-right: var(--s3);
}
li {
  border-bottom: 1px dotted var(--hair);
  border-left: 5px solid var(--hair);
}
.done {
  border-left-color: var(--clear);
}
.wrong {
  border-left-color: var(--stop);
}
.now {
  border-left-color: var(--ink);
}
.shown {
  background: var(--wash);
}
.title {
  display: grid;
  grid-template-columns: 40px minmax(180px, auto) minmax(0, 1fr);
  gap: var(--s2);
  align-items: center;
  width: 100%;
  min-height: 44px;
  padding: 2px var(--s3) 2px var(--s2);
}
.n {
  font-size: var(--t4);
  text-align: center;
}
.done .n {
  color: var(--clear);
}
.wrong .n {
  color: var(--stop);
}
.title strong {
  font-size: var(--t3);
}
.seen {
  text-align: right;
  font-size: var(--t2);
}
.body {
  padding: 0 var(--s3) var(--s3) 54px;
}
.go {
  margin-top: var(--s2);
}
</style>
