<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { type AttachedFile, Anything, Files } from '@vectum/core'
import { api, type ApiError } from '../api/client.ts'
import { useBuild } from '../stores/build.ts'
import { keepFile } from './keep-file.ts'

/** Photos and files of one item of the build: taken with the camera, chosen, or dropped here. */
const props = defineProps<{ item: string; title: string }>()
const builds = useBuild()
const files = ref<AttachedFile[]>([])
const problem = ref<string | null>(null)
const progress = ref<number | null>(null)
const input = ref<HTMLInputElement>()
const over = ref(false)
const here = computed(() => files.value.filter((f) => f.item === props.item))

async function load(): Promise<void> {
  files.value = await api(`/builds/${builds.current!.id}/files`, Files).catch((e: ApiError) => {
    problem.value = e.message
    return files.value
  })
}
watch(() => builds.current?.id, load, { immediate: true })

async function keep(list: FileList | null | undefined): Promise<void> {
  problem.value = null
  for (const file of list ?? []) {
    progress.value = 0
    try {
      await keepFile(builds.current!.id, props.item, file, (share) => (progress.value = share))
    } catch (e) {
      problem.value = (e as ApiError).message
    }
    progress.value = null
  }
  if (input.value) input.value.value = ''
  await load()
}
function drop(event: DragEvent): void {
  over.value = false
  void keep(event.dataTransfer?.files)
}
async function remove(file: AttachedFile): Promise<void> {
  try {
    await api(`/builds/${builds.current!.id}/files/${file.id}`, Anything, { method: 'DELETE' })
  } catch (e) {
    problem.value = (e as ApiError).message
  }
  await load()
}
</script>

<template>
  <section
    class="shelf"
    :class="{ over }"
    :aria-label="`Photos and files, ${title}`"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="drop"
  >
    <figure v-for="f in here" :key="f.id" class="m-0 w-96px">
      <a :href="`/api/files/${f.id}`" target="_blank" rel="noopener">
        <img v-if="f.thumb" :src="`/api/files/${f.id}/thumb`" :alt="f.name" width="96" height="72" />
        <span v-else class="doc head">{{ f.type === 'application/pdf' ? 'PDF' : f.type.startsWith('image') ? 'photo' : 'text' }}</span>
      </a>
      <figcaption class="flex justify-between gap-1 text-t1">
        <span>{{ f.name }}</span>
        <button class="plain underline" :aria-label="`Remove ${f.name}`" @click="remove(f)">remove</button>
      </figcaption>
    </figure>
    <n-button :loading="progress !== null" @click="input!.click()">{{
      progress === null ? 'Photo or file' : `${Math.round(100 * progress)} %`
    }}</n-button>
    <input
      ref="input"
      type="file"
      multiple
      class="visually-hidden"
      tabindex="-1"
      accept="image/jpeg,image/png,image/webp,application/pdf,text/plain,text/csv"
      :aria-label="`Photo or file for ${title}`"
      data-testid="file-in"
      @change="keep(input!.files)"
    />
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.shelf {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s3);
  align-items: center;
  border-top: 1px solid var(--hair);
  padding: var(--s3) 0;
}
.over {
  background: var(--wash);
}
img,
.doc {
  width: 96px;
  height: 72px;
  object-fit: cover;
  border: 1px solid var(--soft);
  display: grid;
  place-items: center;
  color: var(--ink);
}
figcaption span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
p {
  margin: 0;
  flex-basis: 100%;
}
</style>
