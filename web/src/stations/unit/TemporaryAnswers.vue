<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, reactive } from 'vue'
import { type StoredReading, temporaryAnswers, type TemporaryId, temporaryIds } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

/** Answers that stand for a while only: each is on the board until it is released. */
const props = defineProps<{ standing: StoredReading<'unit.temporary'>[] }>()
const builds = useBuild()
const typed = reactive<Partial<Record<TemporaryId, string>>>({})
const rows = computed(() =>
  temporaryIds.map((id) => ({ id, ...temporaryAnswers[id], stands: props.standing.find((r) => r.value.what === id)?.value ?? null })),
)
const valueOf = (id: TemporaryId): number | undefined => {
  const value = Number((typed[id] ?? '').replace(',', '.'))
  return typed[id]?.trim() && Number.isFinite(value) ? value : undefined
}
function set(id: TemporaryId, stands: boolean): void {
  const value = stands ? valueOf(id) : undefined
  builds.record('unit.temporary', { what: id, stands, ...(value === undefined ? {} : { value }) })
  delete typed[id]
}
</script>

<template>
  <section aria-label="For the time being" data-testid="temporary">
    <h2>For the time being</h2>
    <p class="soft">What is set only for now stands here, and on the board, until it is released.</p>
    <table>
      <tbody>
        <tr v-for="r in rows" :key="r.id" :class="{ warn: r.stands }">
          <th scope="row">
            <strong>{{ r.label }}</strong>
          </th>
          <td>
            <template v-if="r.stands"
              >stands{{ r.stands.value === undefined ? '' : ` at ${r.stands.value} ${r.needs === 'rpm' ? 'rpm' : '°'}` }}, until
              {{ r.until }}</template
            >
            <n-input
              v-else-if="r.needs"
              v-model:value="typed[r.id]"
              class="value max-w-140px"
              inputmode="decimal"
              :placeholder="r.needs === 'rpm' ? 'rpm' : '° BTDC'"
              :input-props="{ 'aria-label': `${r.label}, ${r.needs}` }"
            />
          </td>
          <td>
            <n-button v-if="r.stands" size="large" :data-testid="`release-${r.id}`" @click="set(r.id, false)"
              >Set back in the unit: release</n-button
            >
            <n-button
              v-else
              size="large"
              :disabled="r.needs !== null && valueOf(r.id) === undefined"
              :data-testid="`stands-${r.id}`"
              @click="set(r.id, true)"
              >Set for now</n-button
            >
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
