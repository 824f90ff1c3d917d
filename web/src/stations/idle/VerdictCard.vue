<script setup lang="ts">
import { computed } from 'vue'
import { idleCauseWords, type IdleVerdict, spaced } from '@vectum/core'

/** A verdict on an idle: what it is, how sure, what may be behind it with the test that would tell, and the next move. */
const props = defineProps<{ verdict: IdleVerdict }>()
const sure = computed(() => {
  const { sureness } = props.verdict
  return sureness >= 0.8 ? 'sure' : sureness >= 0.6 ? 'fairly sure' : 'not sure'
})
</script>

<template>
  <article :class="['card', { good: verdict.verdict === 'good', waits: verdict.verdict === 'not-enough-data' }]" data-testid="idle-verdict">
    <p class="say">
      <strong>{{ verdict.verdict === 'not-enough-data' ? 'Not enough yet' : spaced(verdict.verdict) }}</strong>
      <span v-if="verdict.verdict !== 'not-enough-data'" class="soft">{{ sure }}, {{ (100 * verdict.sureness).toFixed(0) }} %</span>
      <span v-if="verdict.meanRpm !== null" class="num"
        >{{ verdict.meanRpm.toFixed(0) }}<template v-if="verdict.targetRpm"> of {{ verdict.targetRpm.toFixed(0) }}</template> rpm</span
      >
      <span v-if="verdict.valveMeanPct !== null" class="num">valve {{ verdict.valveMeanPct.toFixed(0) }} %</span>
    </p>
    <p class="measure">{{ verdict.next }}</p>
    <ul v-if="verdict.causes.length" class="pl-4 my-1 mx-0">
      <li v-for="cause in verdict.causes" :key="cause.cause">
        <strong>{{ (100 * cause.likelihood).toFixed(0) }} %: {{ idleCauseWords[cause.cause] }}.</strong>
        <span class="soft"> {{ cause.test }}</span>
      </li>
    </ul>
    <p v-for="note in verdict.notes" :key="note" class="warn">{{ note }}</p>
    <p v-if="verdict.wants.length" class="soft">It would be surer with {{ verdict.wants.join(', ') }}.</p>
  </article>
</template>

<style scoped>
.card {
  border-left: 6px solid var(--warn);
  padding: var(--s1) var(--s4);
  margin: var(--s3) 0;
}
.good {
  border-color: var(--clear);
}
.waits {
  border-color: var(--hair);
}
.say {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s1) var(--s4);
  align-items: baseline;
  margin: 0;
  font-size: var(--t4);
}
.say strong {
  font: 600 var(--t5) var(--head);
}
.say strong::first-letter {
  text-transform: uppercase;
}
p {
  margin: var(--s1) 0;
}
</style>
