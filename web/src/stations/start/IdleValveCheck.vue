<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { entryWords, latest } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { useStartDesk } from './use-start-desk.ts'

/** An idle valve that does not move is found by an ear at key-on, before an engine catches and dies of it. */
const builds = useBuild()
const settings = useSettings()
const { on, hands, busy, say } = useStartDesk()
const last = computed(() => latest(builds.context!.readings, 'start.idle-valve'))
const heard = ref<boolean | null>(null)
async function listen(): Promise<void> {
  const reply = await say('listen')
  heard.value = reply.ok ? (reply.data as { moves: boolean }).moves : null
}
</script>

<template>
  <section>
    <h3>Idle valve</h3>
    <p>Key off and on with an ear or a finger at the valve: it steps to its place.</p>
    <div v-if="hands" class="act">
      <n-button dashed :disabled="!on || busy" data-testid="bench-valve" @click="listen">Bench: listen at the valve</n-button>
      <strong v-if="heard !== null" data-testid="valve-heard">{{ heard ? 'it steps' : 'nothing moves' }}</strong>
    </div>
    <entry-form kind="start.idle-valve" />
    <p v-if="last" :class="last.value.moves ? 'clear' : 'stop'" data-testid="valve-recorded">
      {{ entryWords('start.idle-valve', last.value, settings.units) }}.
    </p>
  </section>
</template>
