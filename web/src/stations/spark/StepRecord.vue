<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { ignitionInstruments, latest, type EntryKind, type HeldAt, type IgnitionInstrument } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import { useBuild } from '../../stores/build.ts'

/** What a person enters for one kind of reading, and the bench's instrument for it. */
const props = defineProps<{ kind: EntryKind; step: string; at?: HeldAt }>()
const builds = useBuild()
const c = computed(() => builds.context!)

/** what nobody types: the step that is done, the angles that are set */
const given = computed<Record<string, unknown>>(() => {
  const { referenceDeg, alignDegBtdc } = c.value.spark
  if (props.kind === 'spark.done') return { step: props.step }
  if (props.kind === 'spark.fitted') return { referenceDeg, ...(alignDegBtdc === undefined ? {} : { alignDegBtdc }) }
  return {}
})
// what was last read at the stop is what is dealt with
const start = computed<Record<string, unknown>>(() => {
  if (props.kind !== 'spark.zero-mark') return {}
  const { beforeDeg, afterDeg } = latest(c.value.readings, 'spark.zero-mark')?.value ?? {}
  return { beforeDeg, afterDeg }
})

const instrument = computed(() => (props.kind in ignitionInstruments ? ignitionInstruments[props.kind as IgnitionInstrument] : null))
const taking = ref(false)
async function take(): Promise<void> {
  taking.value = true
  await builds.readBench(props.kind, props.at)
  taking.value = false
}
</script>

<template>
  <div class="record flex flex-wrap gap-3 items-end">
    <entry-form :kind="kind" :given="given" :start="start" />
    <n-button v-if="instrument" size="large" dashed class="bench" :loading="taking" :data-testid="`bench-${kind}`" @click="take"
      >Bench: {{ instrument.title }}</n-button
    >
    <small v-if="instrument" class="soft self-center">{{ instrument.accuracy }}, {{ instrument.minutes }} min</small>
  </div>
</template>
