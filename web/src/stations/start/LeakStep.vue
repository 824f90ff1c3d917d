<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { ref } from 'vue'
import { useBuild } from '../../stores/build.ts'
import { useStartDesk } from './use-start-desk.ts'

/** Every joint looked at under pressure: cold before the first crank, and once more with the engine hot. */
const props = defineProps<{ hot?: boolean }>()
const emit = defineEmits<{ recorded: [] }>()
const builds = useBuild()
const { hands, say, stopAll } = useStartDesk()
const where = ref('')
const seen = ref<string | null>(null)

function record(dry: boolean): void {
  // fuel is coming out: nothing stays on while it is written down
  if (!dry) void stopAll()
  const place = dry || !where.value.trim() ? {} : { where: where.value.trim() }
  if (props.hot) builds.record('fuel.recheck', { when: 'hot', dry, ...place })
  else builds.record('fuel.leak-check', { dry, ...place })
  emit('recorded')
}
async function look(): Promise<void> {
  const reply = await say('instrument', { instrument: 'leak-inspection' })
  if (!reply.ok) return
  const { says, values } = reply.data as { says: string; values: { where: string | null } }
  seen.value = says
  where.value = values.where ?? ''
}
</script>

<template>
  <div>
    <p v-if="hot">Engine hot, running or just off: every joint once more with light and dry towel. Mind the exhaust and the fan.</p>
    <p v-else>
      With pressure standing, every joint: a light and a dry paper towel. Any wetness stops the job. No open flame, no running machine
      nearby.
    </p>
    <div class="act">
      <n-button v-if="hands" dashed data-testid="bench-leak" @click="look">Bench: look at the joints</n-button>
      <strong v-if="seen" data-testid="leak-seen">{{ seen }}</strong>
      <n-button type="primary" size="large" :data-testid="hot ? 'hot-dry' : 'leak-dry'" @click="record(true)">Every joint is dry</n-button>
      <n-input
        v-model:value="where"
        class="word"
        placeholder="where it is wet"
        :maxlength="200"
        :input-props="{ 'aria-label': 'Where it is wet' }"
      />
      <n-button size="large" @click="record(false)">Wet</n-button>
    </div>
  </div>
</template>

<style scoped>
.word {
  width: 190px;
}
</style>
