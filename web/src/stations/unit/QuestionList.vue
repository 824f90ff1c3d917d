<script setup lang="ts">
import { NCheckbox, NInput } from 'naive-ui'
import { computed } from 'vue'
import { isNumber, questionGroups, questions, unitsFor, type Question } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

/** The general list of questions as this unit asks them: left out, in its words, in its unit and step. Typed in once, kept in the profile. */
const builds = useBuild()
const asked = computed(() => builds.current!.choices.unit?.questions ?? {})
const groups = Object.entries(questionGroups).map(([id, title]) => ({ id, title, items: questions.filter((q) => q.group === id) }))
function set(q: Question, name: 'asked' | 'words' | 'unit' | 'step', value: unknown): void {
  builds.change(`choices.unit.questions.${q.id}.${name}`, value)
}
function setStep(q: Question, text: string): void {
  const step = Number(text.replace(',', '.'))
  if (text.trim() === '') set(q, 'step', undefined)
  else if (step > 0) set(q, 'step', step)
}
const units = (q: Question): string[] => (isNumber(q) ? unitsFor(q.dimension).map((u) => u.id) : [])
</script>

<template>
  <details data-testid="question-list">
    <summary><strong>Its questions</strong><span class="soft">which it asks, in which words, unit and step</span></summary>
    <table>
      <thead>
        <tr>
          <th>Asked</th>
          <th>General list</th>
          <th>As this unit words it</th>
          <th>Unit</th>
          <th>Step</th>
        </tr>
      </thead>
      <tbody v-for="g in groups" :key="g.id">
        <tr>
          <td colspan="5" class="caps">{{ g.title }}</td>
        </tr>
        <tr v-for="item in g.items" :key="item.id">
          <td>
            <n-checkbox
              :checked="asked[item.id]?.asked !== false"
              :aria-label="`It asks: ${item.words}`"
              @update:checked="(v: boolean) => set(item, 'asked', v ? undefined : false)"
            />
          </td>
          <th scope="row">{{ item.words }}</th>
          <td>
            <n-input
              :value="asked[item.id]?.words ?? ''"
              size="small"
              :placeholder="item.words"
              :aria-label="`${item.words}, its words`"
              @change="(v: string) => set(item, 'words', v.trim() || undefined)"
            />
          </td>
          <td>
            <select
              v-if="units(item).length > 1"
              :value="asked[item.id]?.unit ?? ''"
              :aria-label="`${item.words}, unit`"
              @change="(e) => set(item, 'unit', (e.target as HTMLSelectElement).value || undefined)"
            >
              <option value="">usual</option>
              <option v-for="u in units(item)" :key="u" :value="u">{{ u }}</option>
            </select>
          </td>
          <td>
            <n-input
              v-if="isNumber(item)"
              :value="asked[item.id]?.step === undefined ? '' : String(asked[item.id]!.step)"
              size="small"
              inputmode="decimal"
              :placeholder="String(item.step)"
              :aria-label="`${item.words}, step`"
              class="step w-90px"
              @change="(v: string) => setStep(item, v)"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </details>
</template>
