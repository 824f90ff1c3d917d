<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import EntryForm from '../../kit/EntryForm.vue'
import { useStartDesk } from './use-start-desk.ts'

/** Every joint looked at under pressure: cold before the first crank, and once more with the engine hot. */
const props = defineProps<{ hot?: boolean }>()
const emit = defineEmits<{ recorded: [] }>()
const { hands, say, stopAll } = useStartDesk()
const where = ref('')
const seen = ref<string | null>(null)

function recorded({ dry }: Record<string, unknown>): void {
  // fuel is coming out: nothing stays on while it is written down
  if (!dry) void stopAll()
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
    <div v-if="hands" class="act">
      <n-button dashed data-testid="bench-leak" @click="look">Bench: look at the joints</n-button>
      <strong v-if="seen" data-testid="leak-seen">{{ seen }}</strong>
    </div>
    <entry-form
      :kind="props.hot ? 'fuel.recheck' : 'fuel.leak-check'"
      :given="props.hot ? { when: 'hot' } : {}"
      :start="where ? { where } : {}"
      @recorded="recorded"
    />
  </div>
</template>
