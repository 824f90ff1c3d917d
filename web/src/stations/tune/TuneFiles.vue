<script setup lang="ts">
import { v4 as uuid } from 'uuid'
import { NButton, useMessage } from 'naive-ui'
import { tableSpecs, TuneDocument, type TableName, type Tune, TuneAnswer } from '@vectum/core'
import { api, personHeader } from '../../api/client.ts'
import { saveFile } from '../../shell/save-file.ts'
import { useBuild } from '../../stores/build.ts'

/** One table as CSV, the whole tune as JSON, out and in; what comes in as JSON is a version of its own. */
const props = defineProps<{ tune: Tune; table: TableName; busy: <T>(work: () => Promise<T>) => Promise<T | null> }>()
const emit = defineEmits<{ stored: [tune: Tune]; problem: [text: string] }>()
const builds = useBuild()
const message = useMessage()

async function loadCsv(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  const text = await file.text()
  const next = await props.busy(() =>
    api(`/builds/${builds.current!.id}/tunes/${props.tune.id}/tables/${props.table}.csv`, TuneAnswer, { method: 'PUT', text }),
  )
  if (next) {
    emit('stored', next)
    message.success(`${tableSpecs[props.table].label} loaded from ${file.name} as version ${next.number}`)
  }
}
async function saveCsv(): Promise<void> {
  const response = await fetch(`/api/builds/${builds.current!.id}/tunes/${props.tune.id}/tables/${props.table}.csv`, {
    headers: personHeader(),
  })
  saveFile(`${props.table}-tune-${props.tune.number}.csv`, await response.blob())
}
const saveJson = (): void =>
  saveFile(`tune-${props.tune.number}.json`, new Blob([JSON.stringify(props.tune.document, null, 1)], { type: 'application/json' }))
async function loadJson(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  let parsed: ReturnType<typeof TuneDocument.safeParse>
  try {
    parsed = TuneDocument.safeParse(JSON.parse(await file.text()))
  } catch {
    emit('problem', `${file.name} is not JSON.`)
    return
  }
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    emit('problem', `${file.name} is no tune of this program: ${issue.path.join('.')} ${issue.message}`)
    return
  }
  const { data } = parsed
  const made = await props.busy(() =>
    api(`/builds/${builds.current!.id}/tunes`, TuneAnswer, {
      method: 'POST',
      body: { id: uuid(), document: data, origin: 'imported' },
    }),
  )
  if (!made) return
  emit('stored', made)
  message.success(`${file.name} stored as version ${made.number}`)
}
</script>

<template>
  <span class="inline-flex flex-wrap gap-2 items-center">
    <n-button size="small" @click="saveCsv">CSV out</n-button>
    <label class="csv">CSV in<input type="file" accept=".csv,text/csv" data-testid="csv-in" @change="loadCsv" /></label>
    <n-button size="small" @click="saveJson">JSON out</n-button>
    <router-link :to="{ name: 'unit', params: { id: builds.current!.id }, query: { tab: 'card' } }" class="csv">Answer card</router-link>
    <label class="csv">JSON in<input type="file" accept=".json,application/json" data-testid="json-in" @change="loadJson" /></label>
  </span>
</template>
