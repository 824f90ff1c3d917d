<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { isAnswer, isNumber, KEY_OFF_S, questionGroups, type QuestionGroup, unitsFor } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import { routeTo } from '../../shell/landing.ts'
import { useBuild } from '../../stores/build.ts'
import { offeredOf, stateWords, typedValue, useAnswers } from './use-answers.ts'

/** One question at a time, in type that reads from a metre. Reading back hides the answer until a value is typed: what is copied from here proves nothing. */
const { held, mode, at, offS, typed, typedIn, unitOf, asAsked, list, now, ready, problem, go, open, setMode, record } = useAnswers()
const builds = useBuild()
const rooms = [
  { value: 'answer', label: 'Answer at its display' },
  { value: 'read-back', label: 'Type back after a key-off' },
]
const field = ref<{ focus: () => void } | null>(null)
const text = computed({
  get: () => (now.value ? (typed[now.value.answer.id] ?? '') : ''),
  set: (value: string) => {
    if (!now.value) return
    if (value === '') delete typed[now.value.answer.id]
    else typed[now.value.answer.id] = value
  },
})
const value = computed(() => (now.value ? typedValue(now.value, text.value) : null))
const shown = computed(() => mode.value === 'answer' || value.value !== null)
const same = computed(() => value.value !== null && now.value !== null && isAnswer(now.value.answer, asAsked(now.value, value.value)))
const units = computed(() => {
  const q = now.value?.answer.question
  const all = q && isNumber(q) ? unitsFor(q.dimension, now.value?.answer.stoichAfr) : []
  return all.length > 1 ? all.map((u) => ({ value: u.id, label: u.id })) : []
})
const options = computed(() => Object.entries(now.value?.answer.options ?? {}).map(([id, label]) => ({ value: id, label })))
const groups = computed(() => {
  const names = [...new Set(list.value.map((x) => x.answer.group))]
  return names.map((id) => ({ id, title: questionGroups[id as QuestionGroup], items: list.value.filter((x) => x.answer.group === id) }))
})
/** where what the unit holds is taken in place of the answer */
const toUnits = computed(() => {
  const { answer, told } = now.value ?? {}
  return answer?.toldAt && told ? routeTo({ ...answer.toldAt, offer: offeredOf(answer, told) }, builds.current!.id) : null
})
function next(): void {
  go(1)
  field.value?.focus()
}
const sideWords = { down: 'rounded down', up: 'rounded up', nearest: 'rounded to the nearest step' } as const
</script>

<template>
  <div class="walk" data-testid="answer-walk">
    <div class="bar">
      <option-row
        :options="rooms"
        :model-value="mode"
        label="What is done"
        firm
        @update:model-value="(v) => setMode(v as 'answer' | 'read-back')"
      />
      <strong data-testid="held">{{ held.equal }} of {{ held.all.length }} compared equal</strong>
    </div>
    <div v-if="mode === 'read-back'" class="row">
      <label
        >Key was off for, s<n-input
          v-model:value="offS"
          inputmode="decimal"
          placeholder="10 or more"
          :input-props="{ 'data-testid': 'off-s' } as never"
      /></label>
      <span class="soft">Store, key off for {{ KEY_OFF_S }} s, key on: then type what the display shows, not what stands here.</span>
    </div>
    <p v-if="!now" class="clear big">Every value was read in the unit and is what was meant.</p>
    <div v-else class="two">
      <nav class="lt-wide:max-h-40vh lt-wide:order-2" aria-label="Questions">
        <template v-for="g in groups" :key="g.id">
          <span class="caps">{{ g.title }}</span>
          <button
            v-for="x in g.items"
            :key="x.answer.id"
            class="plain q"
            :class="[x.state, { here: x === now }]"
            :aria-current="x === now"
            @click="open(x.answer.id)"
          >
            <span class="mark" aria-hidden="true">{{
              x.state === 'equal' ? '●' : x.state === 'differs' ? '≠' : x.state === 'missing' ? '?' : '○'
            }}</span>
            {{ x.answer.words }}<span class="visually-hidden">, {{ stateWords[x.state] }}</span>
          </button>
        </template>
      </nav>
      <section aria-live="polite">
        <small class="soft">{{ Math.min(at, list.length - 1) + 1 }} of {{ list.length }}: {{ stateWords[now.state] }}</small>
        <h2 class="ask">{{ now.answer.words }}</h2>
        <p v-if="now.answer.missing" class="warn">Needs first: {{ now.answer.missing }}.</p>
        <template v-else-if="shown">
          <p class="answer num" data-testid="answer">{{ now.answer.shown }}</p>
          <p class="why">
            From {{ now.answer.from
            }}<template v-if="now.answer.rounded && now.answer.exact !== null && now.answer.exact !== now.answer.value"
              >; {{ now.answer.exact.toPrecision(5) }} {{ sideWords[now.answer.rounded.side] }}: {{ now.answer.rounded.because }}</template
            >.
          </p>
          <p class="wrong" :class="{ danger: now.answer.dangerous }">
            <template v-if="now.answer.ifLow">Too high: {{ now.answer.ifHigh }}. Too low: {{ now.answer.ifLow }}.</template
            ><template v-else>Wrong: {{ now.answer.ifHigh }}.</template>
          </p>
        </template>
        <p v-else class="answer soft">type what it shows</p>
        <template v-if="mode === 'read-back' && !now.answer.missing">
          <option-row
            v-if="options.length"
            :options="options"
            :model-value="text"
            label="The unit shows"
            @update:model-value="(v) => (text = String(v))"
          />
          <label v-else class="typed"
            >The unit shows{{ unitOf(now) ? `, ${unitOf(now)}` : ''
            }}<n-input
              ref="field"
              v-model:value="text"
              size="large"
              inputmode="decimal"
              :input-props="{ 'data-testid': 'typed-back' } as never"
              @keydown.enter="next"
          /></label>
          <option-row
            v-if="units.length && !options.length"
            :options="units"
            :model-value="unitOf(now)"
            label="Typed in"
            firm
            @update:model-value="(u) => now && (typedIn[now.answer.id] = String(u))"
          />
          <p v-if="text && value === null" class="stop" role="alert">
            “{{ text }}” is not a number{{ now.answer.unit ? ` of ${now.answer.unit}` : '' }}.
          </p>
          <p v-else-if="value !== null" :class="same ? 'clear' : 'stop'" role="status" data-testid="same">
            {{ same ? 'The same.' : `Not what was meant (${now.answer.shown}).` }}
          </p>
        </template>
        <div v-else-if="now.effect" class="stop">
          {{ stateWords[now.state] }} ({{ now.told?.value }} {{ now.told?.unit }}): {{ now.effect }}.
          <div v-if="toUnits" class="act">
            <span>Which is right? Enter {{ now.answer.shown }} in the unit, or:</span>
            <router-link class="chip" :to="toUnits" data-testid="unit-is-right"
              >The unit is right: take {{ now.told?.value }} {{ now.told?.unit }} where it is told</router-link
            >
          </div>
        </div>
        <div class="act">
          <n-button size="large" :disabled="at === 0" @click="go(-1)">Back</n-button>
          <n-button size="large" type="primary" data-testid="next-question" @click="next">Next</n-button>
        </div>
      </section>
    </div>
    <div v-if="mode === 'read-back' && ready.length" class="act">
      <n-button type="primary" size="large" :disabled="problem !== null" data-testid="record-read-back" @click="record"
        >Record {{ ready.length }} {{ ready.length === 1 ? 'value' : 'values' }}</n-button
      >
      <span v-if="problem" class="warn" role="alert">{{ problem }}</span>
    </div>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 250px minmax(0, 1fr);
  gap: var(--s5);
}
nav {
  max-height: 62vh;
  overflow: auto;
}
.q {
  display: flex;
  gap: var(--s2);
  width: 100%;
  min-height: 44px;
  align-items: center;
  border-bottom: 1px dotted var(--hair);
}
.q.differs .mark,
.danger {
  color: var(--stop);
}
.q.equal .mark {
  color: var(--clear);
}
.here {
  background: var(--ink);
  color: var(--onInk);
}
.ask {
  font-size: var(--t5);
  margin: 0;
}
.answer {
  font-size: var(--t6);
  line-height: 1.1;
  margin: var(--s2) 0;
}
.why,
.wrong,
.big {
  font-size: var(--t3);
  margin: var(--s1) 0;
}
.typed {
  max-width: 280px;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
