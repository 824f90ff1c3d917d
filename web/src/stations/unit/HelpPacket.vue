<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { readingsOf } from '@vectum/core'
import { personHeader } from '../../api/client.ts'
import EntryForm from '../../kit/EntryForm.vue'
import { saveFile } from '../../shell/save-file.ts'
import { useBuild } from '../../stores/build.ts'

/** What a tuner, a maker's line or a dyno needs to help; and what they said, on record. */
const builds = useBuild()
const symptom = ref('')
const question = ref('')
const owner = ref(false)
const problem = ref<string | null>(null)
const logs = computed(() => builds.current!.logs.filter((l) => l.source === 'import'))
const logId = ref(logs.value.at(-1)?.id ?? '')
const answers = computed(() => readingsOf(builds.current!.readings, 'unit.advice').toReversed())
async function pack(): Promise<void> {
  problem.value = null
  const query = new URLSearchParams({
    owner: owner.value ? '1' : '0',
    symptom: symptom.value,
    question: question.value,
    ...(logId.value ? { logId: logId.value } : {}),
  })
  const response = await fetch(`/api/builds/${builds.current!.id}/packet.zip?${query}`, { headers: personHeader() }).catch(() => null)
  if (!response?.ok) problem.value = 'The packet could not be made. Is the server there? What was typed stays.'
  else saveFile('help-packet.zip', await response.blob())
}
</script>

<template>
  <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
  <p class="measure">
    One file for a tuner, a maker’s line or a dyno: set-up, unit with firmware, answers and what the unit told, every test with its result,
    the tune, the log, and what is asked. The owner’s name and the names of who worked stay here unless they are wanted.
  </p>
  <label
    >What it does wrong<n-input
      v-model:value="symptom"
      placeholder="stalls when warm and stopped in gear"
      type="textarea"
      :maxlength="1000"
      :input-props="{ 'data-testid': 'symptom' } as never"
  /></label>
  <label
    >What is asked<n-input
      v-model:value="question"
      placeholder="what to read or to change next"
      type="textarea"
      :maxlength="1000"
      :input-props="{ 'data-testid': 'question' } as never"
  /></label>
  <div class="row">
    <label v-if="logs.length"
      >Log<select v-model="logId" aria-label="Log">
        <option value="">none</option>
        <option v-for="l in logs" :key="l.id" :value="l.id">{{ l.name }}</option>
      </select></label
    >
    <label class="owner inline-flex gap-2 items-center min-h-44px"><input v-model="owner" type="checkbox" /> with the owner’s name</label>
    <n-button type="primary" size="large" data-testid="make-packet" @click="pack">Make the packet</n-button>
  </div>
  <h2>What they answered</h2>
  <entry-form kind="unit.advice" :given="question ? { question } : {}" />
  <ul v-if="answers.length" class="plain">
    <li v-for="r in answers" :key="r.id" class="boxed">
      <strong>{{ r.value.from }}, {{ r.takenAt.slice(0, 10) }}</strong>
      <p v-if="r.value.question" class="soft">{{ r.value.question }}</p>
      <p>{{ r.value.answer }}</p>
    </li>
  </ul>
</template>

<style scoped>
label {
  display: block;
  margin-bottom: var(--s2);
}
</style>
