<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { guessForm, JudgedReadingAnswer, type LearnedForm, type LearnedLoad, movedBetween, readingsOf, tuneInCar } from '@vectum/core'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'

/** Learned tables as the unit gave them out, any grid; two of them show what moved, a log says why. */
const builds = useBuild()
const inCar = computed(() => tuneInCar(builds.current!))
const tables = computed(() => readingsOf(builds.context!.readings, 'unit.learned').toReversed())
const file = ref<{ name: string; text: string } | null>(null)
const form = ref<LearnedForm | ''>('')
const sign = ref<'adds' | 'takes' | ''>('')
const load = ref<LearnedLoad | ''>('')
const problem = ref<string | null>(null)
const forms: [LearnedForm, string][] = [
  ['percent', 'per cent of fuel'],
  ['ratio', 'a ratio, 1 for nothing learned'],
  ['ve-points', 'points of VE added'],
  ['ms', 'milliseconds added'],
]
const loads: [LearnedLoad, string][] = [
  ['kpa', 'kPa absolute'],
  ['kpa-gauge', 'kPa over the air outside'],
  ['psi-gauge', 'psi over the air outside'],
  ['inhg-vacuum', 'inches of mercury, vacuum'],
]
async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  input.value = ''
  if (!chosen) return
  problem.value = null
  try {
    const text = await chosen.text()
    const guess = guessForm(text)
    file.value = { name: chosen.name, text }
    form.value = builds.current!.choices.unit?.learnedForm ?? (guess.sure ? guess.form : '')
    sign.value = ''
    load.value = guess.load ?? ''
  } catch (e) {
    problem.value = `${chosen.name}: ${(e as Error).message}`
  }
}
async function bring(): Promise<void> {
  if (!file.value || !form.value || !sign.value || !load.value) return
  try {
    await api(`/builds/${builds.current!.id}/unit/learned`, JudgedReadingAnswer, {
      method: 'POST',
      body: { text: file.value.text, form: form.value, sign: sign.value, load: load.value, name: file.value.name },
    })
    file.value = null
    problem.value = null
    await builds.reload()
  } catch (e) {
    problem.value = (e as Error).message
  }
}
const first = ref('')
const second = ref('')
watch(
  tables,
  (all) => {
    second.value ||= all[0]?.id ?? ''
    first.value ||= all[1]?.id ?? ''
  },
  { immediate: true },
)
const at = (id: string) => tables.value.find((t) => t.id === id)?.value
const moved = computed(() => {
  const [a, b] = [at(first.value), at(second.value)]
  return a && b && first.value !== second.value ? { ...movedBetween(a, b), of: b } : null
})
const label = (t: (typeof tables.value)[number]): string => `${t.takenAt.slice(0, 10)}, ${t.value.name}`
</script>

<template>
  <p v-if="problem" class="stop" role="alert" data-testid="learned-problem">{{ problem }}</p>
  <p v-if="!inCar" class="soft">Put a tune in the car first: learned values mean something only over a base.</p>
  <div v-else class="act">
    <label class="csv"
      >Bring a learned table<input type="file" accept=".csv,.txt,text/*" data-testid="learned-file" @change="take"
    /></label>
    <n-button
      v-if="builds.view === 'rehearsal'"
      dashed
      data-testid="bench-learned"
      @click="builds.readBench('unit.learned', { live: true })"
      >Bench: read it from the unit</n-button
    >
  </div>
  <div v-if="file" class="boxed">
    <strong>{{ file.name }}: what do its numbers mean?</strong>
    <div class="row">
      <label class="flex items-center gap-2"
        >They are<select v-model="form" aria-label="Form">
          <option value="" disabled>say which</option>
          <option v-for="[id, words] in forms" :key="id" :value="id">{{ words }}</option>
        </select></label
      >
      <label class="flex items-center gap-2"
        >A positive number<select v-model="sign" aria-label="Sign">
          <option value="" disabled>say which</option>
          <option value="adds">adds fuel</option>
          <option value="takes">takes fuel</option>
        </select></label
      >
      <label class="flex items-center gap-2"
        >Load is in<select v-model="load" aria-label="Load">
          <option value="" disabled>say which</option>
          <option v-for="[id, words] in loads" :key="id" :value="id">{{ words }}</option>
        </select></label
      >
      <n-button type="primary" :disabled="!form || !sign || !load" data-testid="bring-learned" @click="bring">Bring it</n-button>
    </div>
  </div>
  <p v-if="!tables.length" class="soft">None brought yet.</p>
  <template v-else>
    <div v-if="tables.length > 1" class="row">
      <label class="flex items-center gap-2"
        >From<select v-model="first" aria-label="From">
          <option v-for="t in tables" :key="t.id" :value="t.id">{{ label(t) }}</option>
        </select></label
      >
      <label class="flex items-center gap-2"
        >to<select v-model="second" aria-label="To">
          <option v-for="t in tables" :key="t.id" :value="t.id">{{ label(t) }}</option>
        </select></label
      >
    </div>
    <p v-if="moved" data-testid="moved">
      Moved by {{ moved.rmsPct.toFixed(1) }} % rms, most at {{ moved.most.rpm }} rpm, {{ moved.most.mapKpa }} kPa:
      {{ moved.most.pct > 0 ? '+' : '' }}{{ moved.most.pct.toFixed(1) }} %.
    </p>
    <div class="overflow-x-auto">
      <table v-if="at(second)">
        <caption class="visually-hidden">
          Learned values, per cent of fuel; in brackets how far they moved
        </caption>
        <thead>
          <tr>
            <th>kPa \ rpm</th>
            <th v-for="r in at(second)!.rpm" :key="r">{{ r }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(m, j) in [...at(second)!.mapKpa].reverse()" :key="m">
            <th scope="row">{{ m }}</th>
            <td v-for="(r, i) in at(second)!.rpm" :key="r" class="num">
              {{ at(second)!.learnedPct[(at(second)!.mapKpa.length - 1 - j) * at(second)!.rpm.length + i].toFixed(1)
              }}<small v-if="moved" class="soft">
                ({{ moved.movedPct[(at(second)!.mapKpa.length - 1 - j) * at(second)!.rpm.length + i].toFixed(1) }})</small
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </template>
</template>

<style scoped>
td,
th {
  padding-right: var(--s2);
  white-space: nowrap;
}
</style>
