<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { axisSpecs, CoreError, parseAxis, resample, type AxisName, type TuneDocument } from '@vectum/core'

/** The breakpoints of a tune as two lines of numbers; other ones make a new version with every table read at them. */
const props = defineProps<{ tune: TuneDocument; busy: boolean }>()
const emit = defineEmits<{ take: [document: TuneDocument] }>()
const names = Object.keys(axisSpecs) as AxisName[]
const text = ref<Record<AxisName, string>>({ rpm: '', mapKpa: '' })
watch(
  () => props.tune,
  (tune) => (text.value = { rpm: tune.axes.rpm.join('  '), mapKpa: tune.axes.mapKpa.join('  ') }),
  { immediate: true },
)
const read = computed<{ axes: TuneDocument['axes'] | null; problem: string | null }>(() => {
  try {
    return { axes: { rpm: parseAxis('rpm', text.value.rpm), mapKpa: parseAxis('mapKpa', text.value.mapKpa) }, problem: null }
  } catch (e) {
    if (!(e instanceof CoreError)) throw e
    return { axes: null, problem: e.message }
  }
})
const changed = computed(() => JSON.stringify(read.value.axes) !== JSON.stringify(props.tune.axes))
</script>

<template>
  <details class="axes line-t-hair py-2 px-0">
    <summary>
      <strong class="head">Axes</strong>
      <span class="soft">{{ tune.axes.rpm.length }} × {{ tune.axes.mapKpa.length }} breakpoints, 8 to 24 each</span>
    </summary>
    <label v-for="name in names" :key="name">
      Axis of {{ axisSpecs[name].label }}, {{ axisSpecs[name].unit }}
      <input v-model="text[name]" :aria-invalid="read.problem?.includes(axisSpecs[name].label)" spellcheck="false" />
    </label>
    <p v-if="read.problem" class="stop" role="alert">{{ read.problem }}</p>
    <div class="act">
      <n-button
        type="primary"
        :disabled="!read.axes || !changed || busy"
        data-testid="take-axes"
        @click="read.axes && emit('take', resample(tune, read.axes))"
        >Read the tables at these, as a new version</n-button
      >
    </div>
  </details>
</template>

<style scoped>
label {
  display: grid;
  font-weight: 600;
  margin: var(--s2) 0;
}
input {
  min-height: 44px;
  border: 1px solid var(--soft);
  background: var(--sheet);
  color: var(--ink);
  font: 600 var(--t3) var(--head);
  padding: 0 var(--s3);
}
input[aria-invalid='true'] {
  border-color: var(--stop);
}
</style>
