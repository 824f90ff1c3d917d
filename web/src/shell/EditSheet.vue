<script setup lang="ts">
import { NButton, NModal } from 'naive-ui'
import { computed } from 'vue'
import { pathWords, valueAt, valueSays } from '@vectum/core'
import { useBuild } from '../stores/build.ts'
import { useSettings } from '../stores/settings.ts'

/** An edit that proofs rest on: was it done on the car, or was only the record wrong? Nothing is changed until that is said. */
const builds = useBuild()
const settings = useSettings()
const edit = computed(() => builds.edit)
const counted = computed(() => {
  const titles = edit.value?.lost ?? []
  return [...new Set(titles)].map((t) => ({ title: t, count: titles.filter((o) => o === t).length }))
})
/** a list of parts says nothing new in words: then it is enough that it changes */
const says = computed(() => {
  if (!edit.value) return ''
  const { path, value } = edit.value
  const [before, after] = [valueAt(builds.current, path), value].map((v) => settings.say(valueSays(path, v)))
  return before === after ? 'changes' : `becomes ${after}`
})
function take(how: 'car' | 'record'): void {
  if (edit.value) builds.change(edit.value.path, edit.value.value, how)
}
</script>

<template>
  <!-- no focus of its own: the Enter that ended the typing would press its first button -->
  <n-modal
    :show="edit !== null"
    :auto-focus="false"
    preset="card"
    title="Was this done on the car?"
    style="max-width: 560px"
    @close="builds.edit = null"
  >
    <template v-if="edit">
      <p><strong>{{ pathWords(edit.path) }}</strong> {{ says }}. Proved on the car as it was:</p>
      <ul>
        <li v-for="c in counted" :key="c.title">{{ c.title }}{{ c.count > 1 ? `, ${c.count} times` : '' }}</li>
      </ul>
      <div class="act">
        <n-button type="primary" size="large" data-testid="edit-car" @click="take('car')">Done on the car: prove again</n-button>
        <n-button size="large" data-testid="edit-record" @click="take('record')">Only the record was wrong</n-button>
      </div>
    </template>
  </n-modal>
</template>
