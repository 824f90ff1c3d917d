<script setup lang="ts">
import { NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { ExportCompared, JudgedReadingAnswer, KEY_OFF_S, readingsOf, tableNames, tableSpecs } from '@vectum/core'
import { api, upload } from '../../api/client.ts'
import EntryForm from '../../kit/EntryForm.vue'
import { useBuild } from '../../stores/build.ts'

/** The unit's own files, kept as they came, each with its hash beside the tune it belongs to; and what it gave out, compared with what was sent. */
const builds = useBuild()
const kept = computed(() => readingsOf(builds.current!.readings, 'unit.file').toReversed())
const exports = computed(() => readingsOf(builds.current!.readings, 'unit.export').toReversed())
const numberOf = (tuneId: string | null): string => {
  const tune = builds.current!.tunes.find((t) => t.id === tuneId)
  return tune ? `tune ${tune.number}` : 'no tune'
}
const foreign = ref(false)
const busy = ref(false)
const problem = ref<string | null>(null)
const part = ref<'document' | (typeof tableNames)[number]>('document')
const offS = ref('')
const parts = [
  { value: 'document', label: 'the whole tune, as JSON' },
  ...tableNames.map((value) => ({ value, label: `${tableSpecs[value].label}, as CSV` })),
]

async function keep(file: File, more: Record<string, string> = {}): Promise<string | null> {
  busy.value = true
  problem.value = null
  try {
    const form = new FormData()
    for (const [key, value] of Object.entries(more)) form.append(key, value)
    form.append('file', file)
    const entry = await upload(
      `/builds/${builds.current!.id}/unit/files`,
      JudgedReadingAnswer,
      form,
      () => {},
      new AbortController().signal,
    )
    return (entry.value as { fileId: string }).fileId
  } catch (e) {
    problem.value = (e as Error).message
    return null
  } finally {
    await builds.reload()
    busy.value = false
  }
}
const fileOf = (event: Event): File | undefined => {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  return file
}
async function keepSettings(event: Event): Promise<void> {
  const file = fileOf(event)
  if (file) await keep(file, foreign.value ? { foreign: '1' } : {})
}
async function compare(event: Event): Promise<void> {
  const file = fileOf(event)
  const seconds = Number(offS.value.replace(',', '.'))
  if (!file) return
  if (offS.value.trim() === '' || !(seconds >= 0)) {
    problem.value = `Say for how long the key was off before it was taken, in seconds; ${KEY_OFF_S} s or more count.`
    return
  }
  const fileId = await keep(file)
  if (!fileId) return
  try {
    await api(`/builds/${builds.current!.id}/unit/exports`, ExportCompared, {
      method: 'POST',
      body: { fileId, part: part.value, offS: seconds },
    })
  } catch (e) {
    problem.value = (e as Error).message
  }
  await builds.reload()
}
</script>

<template>
  <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
  <h2>Settings files</h2>
  <p class="soft measure">
    Kept byte for byte as they came, at most 4 MB each, beside the version of the tune that is in the car. One that another car has already
    is marked foreign.
  </p>
  <div class="act">
    <label class="csv">Keep a file of the unit<input type="file" data-testid="unit-file" :disabled="busy" @change="keepSettings" /></label>
    <label class="foreign inline-flex gap-2 items-center min-h-44px"
      ><input v-model="foreign" type="checkbox" /> it is of another car</label
    >
  </div>
  <p v-if="!kept.length" class="soft">None kept yet.</p>
  <table v-else>
    <thead>
      <tr>
        <th>File</th>
        <th>Belongs to</th>
        <th>Kept</th>
        <th>Hash (SHA-256)</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="r in kept" :key="r.id">
        <th scope="row">
          <a :href="`/api/files/${r.value.fileId}`" download>{{ r.value.name }}</a>
          <strong v-if="r.value.foreign" class="stop">foreign: of another car</strong>
        </th>
        <td>{{ numberOf(r.value.tuneId) }}</td>
        <td>{{ r.takenAt.slice(0, 10) }}, {{ r.who }}</td>
        <td>
          <code>{{ r.value.sha256.slice(0, 16) }}…</code>
        </td>
      </tr>
    </tbody>
  </table>
  <h2>What it gave out again</h2>
  <p class="soft measure">
    Tables are known to be in the unit when it gives them out again after a key-off and every value is the one sent.
  </p>
  <div class="row">
    <label
      >Key was off for, s<n-input
        v-model:value="offS"
        inputmode="decimal"
        placeholder="10 or more"
        :input-props="{ 'data-testid': 'export-off-s' } as never"
    /></label>
    <label
      >The file holds<select v-model="part" aria-label="The file holds">
        <option v-for="p in parts" :key="p.value" :value="p.value">{{ p.label }}</option>
      </select></label
    >
    <label class="csv">Compare a file<input type="file" data-testid="unit-export" :disabled="busy" @change="compare" /></label>
  </div>
  <ul v-if="exports.length" class="plain">
    <li v-for="r in exports" :key="r.id" :class="r.value.different ? 'stop' : 'clear'">
      {{ r.takenAt.slice(0, 10) }}: {{ parts.find((p) => p.value === r.value.part)?.label }}, {{ numberOf(r.value.tuneId) }}:
      {{ r.value.different ? `${r.value.different} of ${r.value.compared} differ; ${r.value.worst}` : `${r.value.compared} values equal` }}
    </li>
  </ul>
  <h2>Set back, or changed</h2>
  <entry-form kind="unit.reset" />
</template>
