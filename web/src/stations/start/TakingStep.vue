<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import {
  heldAnswers,
  KEY_OFF_S,
  nextTaking,
  PROVISIONAL_LIMIT_RPM,
  setByQuestions,
  takingSteps,
  takingWords,
  tuneTaking,
  unitLeft,
  type TakingStep,
} from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'
import { useStartDesk } from './use-start-desk.ts'

/** The tune on its way into the unit: sent, stored, key off and on, read back. Each step shows what is known, and only the last one counts. */
const builds = useBuild()
const live = useLive()
const { on, busy, hands, say, stopAll } = useStartDesk()
const taking = computed(() => tuneTaking(builds.context!))
const timingProved = computed(() => builds.met('start', 'timing'))
const reached = (step: TakingStep) => takingSteps.indexOf(step) <= takingSteps.indexOf(taking.value.step)
const next = computed(() => nextTaking(taking.value))
const differing = ref<string[]>([])
const asked = computed(() => setByQuestions(builds.context!))
const held = computed(() => heldAnswers(builds.context!))
const left = computed(() => unitLeft(builds.context!))
/** the card's answers typed on the bench's display, as a person would */
const enterAll = () =>
  say('answers', {
    action: 'enter',
    values: Object.fromEntries(
      held.value.all.flatMap(({ answer: { id, value, unit } }) => (value === null ? [] : [[id, { value, unit }]])),
    ),
  })
/** the key is off for its time: what needs it on waits, so that nobody turns it on too early */
const asleep = ref(false)
async function offAndOn(): Promise<void> {
  asleep.value = true
  try {
    await stopAll()
    // the unit takes its time to write and to go to sleep
    await live.passed(KEY_OFF_S + 0.5)
    await say('key', { on: true })
  } finally {
    asleep.value = false
  }
}
async function keyed(work: () => Promise<unknown>): Promise<void> {
  if (!on.value && !(await say('key', { on: true })).ok) return
  await work()
}

async function act(step = next.value): Promise<void> {
  if (!on.value && step !== 'power-cycled' && !(await say('key', { on: true })).ok) return
  switch (step) {
    case 'sent':
      return void (await say('tune', { action: 'send' }))
    case 'stored':
      return void (await say('tune', { action: 'store' }))
    case 'power-cycled':
      await stopAll()
      return void (await say('key', { on: true }))
    case 'read-back': {
      const reply = await say('tune', { action: 'read-back' })
      differing.value = reply.ok ? (reply.data as { labels: string[] }).labels : []
    }
  }
}
const words: Record<Exclude<TakingStep, 'edited'>, string> = {
  sent: 'Send it to the unit',
  stored: 'Store it in the unit',
  'power-cycled': 'Key off, then on',
  'read-back': 'Read it back',
}
function byHand(): void {
  if (taking.value.tune && next.value)
    builds.record('tune.taking', {
      tuneId: taking.value.tune.id,
      step: next.value,
    })
}
</script>

<template>
  <div data-testid="taking">
    <p v-if="taking.tune">
      Version {{ taking.tune.number }}, {{ taking.tune.name }}: what is written here counts for nothing until the unit gives it back the
      same after its key was off.<template v-if="!timingProved">
        Until the timing is proved, {{ PROVISIONAL_LIMIT_RPM }} rpm are enough: set the rev limit there at Base tune to keep the engine from
        more.</template
      >
    </p>
    <p v-else>No tune is in the car yet.</p>
    <div v-if="asked" class="boxed" data-testid="asked-unit">
      <p>
        This unit is set by questions: {{ held.equal }} of {{ held.all.length }} answers were read in it after a key-off and are what was
        meant.<template v-if="left"> Left: {{ left }}.</template><template v-else> The unit holds it.</template>
      </p>
      <div class="act">
        <template v-if="hands">
          <n-button :disabled="busy || asleep" data-testid="answers-enter" @click="keyed(enterAll)"
            >Type the answers on its display</n-button
          >
          <n-button :disabled="busy || asleep" data-testid="answers-store" @click="keyed(() => say('answers', { action: 'store' }))"
            >Store them</n-button
          >
          <n-button :disabled="busy || asleep" :loading="asleep" data-testid="answers-off" @click="offAndOn"
            >Key off for {{ KEY_OFF_S }} s, then on</n-button
          >
          <n-button
            type="primary"
            :disabled="busy || asleep"
            data-testid="answers-read"
            @click="keyed(() => say('answers', { action: 'read-back' }))"
            >Read its display</n-button
          >
        </template>
        <router-link :to="{ name: 'unit', params: { id: builds.current!.id } }">Walk through the questions</router-link>
      </div>
    </div>
    <ol v-else class="way">
      <li v-for="s in takingSteps" :key="s" :class="{ done: reached(s), now: taking.step === s }">{{ takingWords[s] }}</li>
    </ol>
    <p v-if="!asked && taking.differences" class="stop" role="alert">
      {{ taking.differences }} values came back other than sent{{ differing.length ? `: ${differing.join(', ')}` : '' }}. Send it again.
    </p>
    <p v-else-if="!asked && taking.taken" class="clear">
      The unit holds it<template v-if="taking.revLimitRpm !== null">; its rev limit is {{ taking.revLimitRpm }} rpm</template>.
    </p>
    <div v-if="!asked && hands && taking.step === 'read-back' && next !== 'sent'" class="act">
      <n-button :disabled="busy" @click="act('sent')">Send it again</n-button>
    </div>
    <div v-if="!asked && next" class="act">
      <n-button v-if="hands" type="primary" size="large" :disabled="busy" :loading="busy" data-testid="take-tune" @click="act()">{{
        words[next]
      }}</n-button>
      <p v-else-if="next === 'read-back'">
        A tick proves nothing: type back what the unit shows, and compare its tables with what it gives out again.
        <template v-if="left">Left: {{ left }}.</template>
        <router-link :to="{ name: 'unit', params: { id: builds.current!.id } }" data-testid="to-unit">Read it back at the unit</router-link>
      </p>
      <n-button v-else size="large" data-testid="taken-by-hand" @click="byHand">Done at the unit: {{ words[next].toLowerCase() }}</n-button>
      <span v-if="live.tuneNumber !== null" class="soft">the bench’s unit runs version {{ live.tuneNumber }}</span>
    </div>
  </div>
</template>

<style scoped>
.way {
  display: grid;
  grid-template-columns: repeat(5, 1fr);
  list-style: none;
  padding: 0;
  margin: var(--s2) 0;
  gap: var(--s1);
}
.way li {
  border-top: 6px solid var(--hair);
  padding: var(--s2) var(--s1) 2px;
  color: var(--soft);
  font: 600 var(--t3)/1.1 var(--head);
}
.way .done {
  border-top-color: var(--data);
  color: var(--ink);
}
p {
  max-width: 86ch;
}
</style>
