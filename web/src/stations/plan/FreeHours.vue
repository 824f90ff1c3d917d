<script setup lang="ts">
import { NButton } from 'naive-ui'
import { checkFact, experience, pathWords, type Person } from '@vectum/core'
import CellInput from '../../quantity/CellInput.vue'
import FactField from '../../quantity/FactField.vue'
import { pick, type Field } from '../../quantity/field.ts'
import { useBuild } from '../../stores/build.ts'

/** Whose time the schedule counts on: free hours a day, how used the hands are, and when it begins. */
const props = defineProps<{ people: Person[] }>()
const builds = useBuild()
const weekdays = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
function setPeople(change: (list: Person[]) => Person[]): void {
  const next = change(props.people.map((p) => ({ name: p.name, hours: [...p.hours] })))
  if (checkFact('choices.plan.people', next) === null) builds.change('choices.plan.people', next)
}
const setHours = (person: number, day: number, text: string) => {
  const hours = Number(text.replace(',', '.'))
  if (Number.isFinite(hours)) setPeople((list) => ((list[person].hours[day] = hours), list))
}
const settings: Field[] = [
  pick(
    'choices.plan.experience',
    Object.entries(experience).map(([id, e]) => [id, e.label]),
    'hours × 1.8, × 1, × 0.7',
  ),
  { kind: 'date', path: 'choices.plan.start', label: pathWords('choices.plan.start') },
]
</script>

<template>
  <section>
    <h2>Whose time</h2>
    <div class="fields"><fact-field v-for="f in settings" :key="f.path" :field="f" /></div>
    <table>
      <thead>
        <tr>
          <th>Free hours</th>
          <th v-for="d in weekdays" :key="d">{{ d }}</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(p, i) in people" :key="i">
          <td>
            <cell-input
              class="who"
              :value="p.name"
              :label="`Name of person ${i + 1}`"
              :maxlength="40"
              @commit="(t) => setPeople((l) => ((l[i].name = t.trim() || p.name), l))"
            />
          </td>
          <td v-for="(h, d) in p.hours" :key="d">
            <cell-input numeric :value="h" :label="`${p.name}, ${weekdays[d]}, hours`" @commit="(t) => setHours(i, d, t)" />
          </td>
          <td><n-button v-if="people.length > 1" size="small" @click="setPeople((l) => l.filter((_, k) => k !== i))">Remove</n-button></td>
        </tr>
      </tbody>
    </table>
    <n-button
      v-if="people.length < 5"
      size="small"
      @click="setPeople((l) => [...l, { name: `Person ${l.length + 1}`, hours: [0, 0, 0, 0, 0, 4, 0] }])"
      >Another person</n-button
    >
  </section>
</template>

<style scoped>
td :deep(.cell) {
  min-height: 44px;
  width: 52px;
  border: 1px solid var(--soft);
  background: var(--sheet);
  color: var(--ink);
  font: 600 var(--t3) var(--head);
  padding: 0 var(--s2);
}
td :deep(.who) {
  width: 150px;
}
</style>
