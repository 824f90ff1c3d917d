<script setup lang="ts">
import { NButton, NModal } from 'naive-ui'
import { computed, ref } from 'vue'
import { pathWords, rehearsedFields, valueSays } from '@vectum/core'
import { useBuild } from '../stores/build.ts'
import { useSettings } from '../stores/settings.ts'

/** While one rehearses: what was turned on the bench and not on the car, and the act that takes it into the car. */
const builds = useBuild()
const settings = useSettings()
const open = ref(false)
const fields = computed(() => (builds.view === 'rehearsal' && builds.saved ? rehearsedFields(builds.saved) : []))
const tune = computed(() => {
  const { rehearsal } = builds.saved?.choices ?? {}
  return rehearsal?.tuneId ? (builds.saved!.tunes.find((t) => t.id === rehearsal.tuneId && t.status !== 'in-car') ?? null) : null
})
const some = computed(() => builds.view === 'rehearsal' && (fields.value.length > 0 || tune.value !== null))
const says = (path: string, value: unknown) => (value === undefined ? 'not set' : settings.say(valueSays(path, value)))
const rows = computed(() => fields.value.map((f) => ({ ...f, now: says(f.path, f.rehearsed), car: says(f.path, f.ofCar) })))
function end(take: boolean): void {
  builds.endRehearsal(take ? fields.value : [])
  open.value = false
}
</script>

<template>
  <div v-if="some" class="bar" data-testid="rehearsal-bar">
    <span
      ><strong>Rehearsal:</strong>
      {{ fields.length ? `${fields.length} ${fields.length === 1 ? 'setting differs' : 'settings differ'} from the car` : ''
      }}{{ fields.length && tune ? ', and ' : '' }}{{ tune ? `tune ${tune.number} is in the bench’s unit only` : '' }}.</span
    >
    <n-button data-testid="rehearsal-look" @click="open = true">Look</n-button>
  </div>
  <n-modal v-model:show="open" preset="card" title="Turned while practising" style="max-width: 640px">
    <table v-if="rows.length" class="data">
      <thead>
        <tr>
          <th scope="col">Setting</th>
          <th scope="col">Rehearsed</th>
          <th scope="col">On the car</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.path">
          <th scope="row">{{ pathWords(r.path) }}</th>
          <td class="num">{{ r.now === r.car ? 'changed' : r.now }}</td>
          <td class="num">{{ r.car }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="tune">
      Tune {{ tune.number }}, {{ tune.name }}, is in the bench’s unit. It goes into the car at Base tune, with the view on Car.
    </p>
    <p>Taken into the car they count as done there: what they touch is proved again. Dropped, the bench is set as the car is.</p>
    <div class="act">
      <n-button type="primary" size="large" :disabled="!rows.length" data-testid="rehearsal-take" @click="end(true)"
        >Take these into the car</n-button
      >
      <n-button size="large" data-testid="rehearsal-drop" @click="end(false)">Drop them</n-button>
    </div>
  </n-modal>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: var(--s3);
  border: 2px dashed var(--warn);
  padding: var(--s1) var(--s3);
  margin: 0 0 var(--s3);
}
</style>
