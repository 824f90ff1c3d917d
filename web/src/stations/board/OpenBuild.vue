<script setup lang="ts">
import { v4 as uuid } from 'uuid'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, type ApiError } from '../../api/client.ts'

/** Opens a build by what the car is called; the survey asks the rest. In plain HTML: the first page carries no library of parts. */
defineProps<{ builds: { id: string; title: string }[] }>()
const emit = defineEmits<{ refused: [error: ApiError] }>()
const router = useRouter()
const title = ref('')
const like = ref('')
const adding = ref(false)
// the same id on every try, so that a retry after a lost answer opens no second build
let newId = uuid()
async function add(): Promise<void> {
  if (title.value.trim() === '') return
  adding.value = true
  try {
    // the schemas of a whole build come when one is opened
    const { BuildAnswer } = await import('../../api/build-answer.ts')
    const build = await api('/builds', BuildAnswer, {
      method: 'POST',
      body: { id: newId, title: title.value.trim(), ...(like.value ? { like: like.value } : {}) },
    })
    newId = uuid()
    await router.push({ name: 'survey', params: { id: build.id } })
  } catch (e) {
    if ((e as ApiError).code === 'ALREADY_EXISTS') await router.push({ name: 'survey', params: { id: newId } })
    else emit('refused', e as ApiError)
  } finally {
    adding.value = false
  }
}
</script>

<template>
  <form class="new flex gap-3 items-center pt-5 max-w-900px" @submit.prevent="add">
    <label for="new-title" class="head text-t4 whitespace-nowrap">Open a build</label>
    <input
      id="new-title"
      v-model="title"
      class="flex-1"
      placeholder="what the car is called"
      maxlength="120"
      aria-label="Title of the new build"
    />
    <select v-if="builds.length" v-model="like" class="max-w-240px" aria-label="Begin from a like car">
      <option class="bg-sheet" value="">from nothing</option>
      <option v-for="b in builds" :key="b.id" class="bg-sheet" :value="b.id">like {{ b.title }}</option>
    </select>
    <button type="submit" class="press" :disabled="adding || !title.trim()">Open</button>
  </form>
</template>

<style scoped>
input,
select,
.press {
  min-height: 44px;
  padding: 0 var(--s3);
  border: 1px solid var(--soft);
  border-radius: 1px;
  background: var(--sheet);
  color: var(--ink);
  font: var(--t3) var(--text);
}
input::placeholder {
  color: var(--soft);
}
.press {
  padding: 0 var(--s4);
  border-color: var(--ink);
  background: var(--ink);
  color: var(--onInk);
  font: 600 var(--t2) var(--text);
  cursor: pointer;
}
.press:disabled {
  opacity: 0.5;
  cursor: not-allowed;
}
</style>
