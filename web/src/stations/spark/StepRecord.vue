<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { CoreError, ignitionInstruments, latest, readIgnition, type EntryKind, type HeldAt, type IgnitionInstrument } from '@vectum/core'
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
// the offset last read is the one to be dealt with
const start = computed<Record<string, unknown>>(() =>
  props.kind === 'spark.zero-mark' ? { offsetDeg: latest(c.value.readings, 'spark.zero-mark')?.value.offsetDeg ?? 0 } : {},
)

const instrument = computed(() => (props.kind in ignitionInstruments ? ignitionInstruments[props.kind as IgnitionInstrument] : null))
const refused = ref<string | null>(null)
function take(): void {
  refused.value = null
  try {
    builds.record(props.kind, readIgnition(builds.current!, props.kind as IgnitionInstrument, props.at ?? {}), {
      instrument: `bench: ${instrument.value!.title}`,
    })
  } catch (e) {
    if (!(e instanceof CoreError)) throw e
    refused.value = e.message
  }
}
</script>

<template>
  <div class="record">
    <entry-form :kind="kind" :given="given" :start="start" />
    <n-button v-if="instrument" size="large" dashed class="bench" :data-testid="`bench-${kind}`" @click="take"
      >Bench: {{ instrument.title }}</n-button
    >
    <small v-if="instrument" class="soft acc">{{ instrument.accuracy }}, {{ instrument.minutes }} min</small>
    <p v-if="refused" class="stop" role="alert">{{ refused }}</p>
  </div>
</template>

<style scoped>
.record {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}
.acc {
  align-self: center;
}
p {
  width: 100%;
  margin: 0;
}
</style>
