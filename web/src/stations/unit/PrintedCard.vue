<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { heldAnswers, questionGroups, tuneAnswered, type QuestionGroup } from '@vectum/core'
import PrintedSheet from '../../kit/PrintedSheet.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** The whole card on paper: to take to the car, with a column for what the unit shows after its key was off. */
const builds = useBuild()
const settings = useSettings()
const held = computed(() => heldAnswers(builds.context!))
const tune = computed(() => tuneAnswered(builds.current!))
const groups = computed(() => {
  const { all } = held.value
  return [...new Set(all.map((x) => x.answer.group))].map((id) => ({
    title: questionGroups[id as QuestionGroup],
    rows: all.filter((x) => x.answer.group === id),
  }))
})
const print = (): void => window.print()
const side = { down: '↓', up: '↑', nearest: '' } as const
</script>

<template>
  <p v-if="!held.all.length" class="empty">There is no tune yet to answer from.</p>
  <template v-else>
    <div class="act">
      <n-button type="primary" @click="print">Print</n-button><span class="soft">An arrow says to which side a number was rounded.</span>
    </div>
    <printed-sheet
      :rehearsal="builds.view === 'rehearsal'"
      :car="builds.current!.title"
      :version="tune ? `tune ${tune.number}` : ''"
      :date="new Date().toISOString().slice(0, 10)"
      :name="settings.person"
    >
      <h1>Answer card: {{ builds.current!.title }}</h1>
      <p>
        Answers for this car, from tune {{ tune?.number }}. The maker’s sheet of a part goes before this card. After storing: key off for 10
        s, then write down what the unit shows.
      </p>
      <section v-for="g in groups" :key="g.title">
        <h2>{{ g.title }}</h2>
        <table>
          <thead>
            <tr>
              <th>Question</th>
              <th>Answer</th>
              <th>From</th>
              <th class="shows">It shows</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="x in g.rows" :key="x.answer.id">
              <th scope="row">{{ x.answer.words }}<strong v-if="x.answer.temporary"> (for the time being)</strong></th>
              <td class="num">
                {{ x.answer.missing ? `needs ${x.answer.missing}` : x.answer.shown }}
                {{ x.answer.rounded && x.answer.exact !== x.answer.value ? side[x.answer.rounded.side] : '' }}
              </td>
              <td>{{ x.answer.from }}</td>
              <td class="shows">{{ x.told ? `${x.told.value} ${x.told.unit}` : '' }}</td>
            </tr>
          </tbody>
        </table>
      </section>
    </printed-sheet>
  </template>
</template>

<style scoped>
th,
td {
  color: inherit;
  font-size: var(--t2);
}
.shows {
  width: 120px;
  border-left: 1px solid currentColor;
  padding-left: var(--s2);
}
</style>
