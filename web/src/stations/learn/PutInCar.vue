<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { learnedOnBench, TuneAnswer, tuneInCar } from '@vectum/core'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'

/** A version that was made of the one in the car waits: one press puts it in, with what is still to be done then. */
const emit = defineEmits<{ put: [] }>()
const builds = useBuild()
const busy = ref(false)
const problem = ref<string | null>(null)
const waits = computed(() => {
  const { tunes } = builds.current!
  const now = tuneInCar(builds.current!)
  return now ? (tunes.findLast((t) => t.parentId === now.id && (t.status === 'draft' || t.status === 'ready')) ?? null) : null
})
const rehearsing = computed(() => builds.view === 'rehearsal')
/** what was learned on a simulated car is not put into a real one from here */
const ofBench = computed(() => waits.value !== null && !rehearsing.value && learnedOnBench(builds.current!, waits.value) !== null)
async function put(): Promise<void> {
  busy.value = true
  problem.value = null
  try {
    const body = { status: 'in-car', ...(rehearsing.value ? { view: 'rehearsal' } : {}) }
    await api(`/builds/${builds.current!.id}/tunes/${waits.value!.id}`, TuneAnswer, { method: 'PATCH', body })
    await builds.reload()
    emit('put')
  } catch (e) {
    problem.value = (e as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div v-if="waits" class="act" data-testid="put-in-car">
    <strong>Version {{ waits.number }} is stored and not in the {{ rehearsing ? 'bench’s unit' : 'car' }} yet.</strong>
    <span v-if="ofBench" class="soft">It was learned on the bench: it fits a simulated car, not this one.</span>
    <n-button v-else type="primary" size="large" :loading="busy" :disabled="busy" @click="put"
      >Put it in the {{ rehearsing ? 'bench’s unit' : 'car' }}</n-button
    >
    <router-link :to="{ name: 'tune', params: { id: builds.current!.id } }">Look at it first</router-link>
    <span v-if="problem" class="stop" role="alert">{{ problem }}</span>
  </div>
</template>
