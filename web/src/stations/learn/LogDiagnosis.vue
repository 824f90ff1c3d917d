<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { type Cause, causes, type LearnResult, readingsOf } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

/** What the log is wrong by, or may be, before anything is learned from it: the likeliest cause, its test, and where the test's reading goes. */
const props = defineProps<{ result: LearnResult; logId: string }>()
const emit = defineEmits<{ tested: [] }>()
const builds = useBuild()
const seen = ref('')
const first = computed(() => props.result.diagnosis.find((s) => s.cause !== 'sound') ?? null)
const taken = computed(() => props.result.diagnosis.filter((s) => props.result.correctedFor?.includes(s.cause)))
/** what stands above the others by itself */
const told = computed(() => (props.result.sound ? taken.value : first.value ? [first.value] : []))
const others = computed(() => props.result.diagnosis.filter((s) => !told.value.includes(s) && s.cause !== 'sound' && s.likelihood >= 0.01))
const tested = computed(() => readingsOf(builds.context!.readings, 'learn.tested').filter((r) => r.value.logId === props.logId))
const found = computed(() => tested.value.find((r) => r.value.found))
const upper = (text: string): string => text.replace(/^./, (x) => x.toUpperCase())
const share = (likelihood: number): string => (likelihood > 0.995 ? 'over 99 %' : `${(100 * likelihood).toFixed(0)} %`)
const also = (group: Cause[] | undefined, cause: Cause): string =>
  (group ?? [])
    .filter((c) => c !== cause)
    .map((c) => c.replaceAll('-', ' '))
    .join(', ')
function record(isIt: boolean): void {
  if (!first.value || !seen.value.trim()) return
  builds.record('learn.tested', { logId: props.logId, cause: first.value.cause, found: isIt, seen: seen.value.trim() })
  seen.value = ''
  emit('tested')
}
</script>

<template>
  <section v-if="!result.sound && first" class="boxed unsound" role="alert" data-testid="unsound">
    <h2 class="stop">Nothing is learned from this log yet</h2>
    <p class="head">{{ upper(causes[first.cause].is) }}</p>
    <p>
      {{ upper(first.evidence) }}. <span class="soft">{{ share(first.likelihood) }} likely by this log.</span>
      <template v-if="also(first.group, first.cause)"> The log cannot part it from: {{ also(first.group, first.cause) }}.</template>
    </p>
    <p v-if="found" class="warn head" data-testid="found">
      Found: {{ found.value.seen }} Put it right, then drive again and bring that log.
    </p>
    <template v-else>
      <p><strong>Test it:</strong> {{ first.test }}</p>
      <div class="answer flex gap-3 flex-wrap items-center">
        <n-input
          v-model:value="seen"
          placeholder="What the test showed"
          aria-label="What the test showed"
          :input-props="{ 'aria-label': 'What the test showed' }"
        />
        <n-button type="primary" size="large" :disabled="!seen.trim()" data-testid="it-is" @click="record(true)">It is this</n-button>
        <n-button size="large" :disabled="!seen.trim()" data-testid="it-is-not" @click="record(false)">It is not this</n-button>
      </div>
    </template>
  </section>
  <section v-else-if="taken.length" class="boxed" data-testid="taken-out">
    <p class="head">Taken out first, and mended with the new version; the map shows what is left.</p>
    <p v-for="t in taken" :key="t.cause">{{ upper(causes[t.cause].is) }}: {{ t.evidence }}. <strong>Test it:</strong> {{ t.test }}</p>
  </section>
  <details v-if="others.length" class="others">
    <summary>{{ result.sound ? 'Sound by this log. What its corrections may come from' : 'What else it could be' }}</summary>
    <ul class="list-none p-0">
      <li v-for="s in others" :key="s.cause" class="grid grid-cols-[80px_1fr] gap-3 items-center mb-2">
        <span class="bar" :style="{ '--share': s.likelihood }" aria-hidden="true"></span>
        <span
          ><strong>{{ share(s.likelihood) }}</strong> {{ causes[s.cause].is }}.
          <span class="soft">{{ upper(s.evidence) }}. {{ s.test }}</span></span
        >
      </li>
    </ul>
  </details>
</template>

<style scoped>
.unsound {
  border-color: var(--stop);
}
.answer > :first-child {
  flex: 1 1 280px;
}
.bar {
  height: 12px;
  border: 1px solid var(--ink);
  background: linear-gradient(to right, var(--data) calc(100% * var(--share)), transparent 0);
}
</style>
