<script setup lang="ts">
import { NButton, NInput, NPopover, useMessage } from 'naive-ui'
import { computed, ref } from 'vue'
import { entryKinds, isRehearsed, JudgedReadingAnswer } from '@vectum/core'
import { api } from '../api/client.ts'
import { useBuild } from '../stores/build.ts'
import { useSettings } from '../stores/settings.ts'

/** What an entry is worth now: who or what witnessed it, whether it still proves what it proved, or why not; and the way to withdraw it. */
const props = defineProps<{ readingId: string }>()
const builds = useBuild()
const settings = useSettings()
const message = useMessage()
const reading = computed(() => builds.saved?.readings.find((r) => r.id === props.readingId) ?? null)
const standing = computed(() => builds.context?.standings.get(props.readingId) ?? null)
/** made on the bench, while one looks at the car: it does not count there */
const practice = computed(() => reading.value && builds.saved && !standing.value && isRehearsed(reading.value, builds.saved))
const witness = { person: 'person', bench: 'bench', device: 'logger', app: 'app', imported: 'brought in' } as const
const why = computed(() => (standing.value?.because == null ? '' : settings.say(standing.value.because)))
const open = ref(false)
const reason = ref('')
const withdrawable = computed(
  () =>
    reading.value && !standing.value?.withdrawn && entryKinds[reading.value.kind].writtenBy !== 'server' && reading.value.seq !== undefined,
)
async function withdraw(): Promise<void> {
  try {
    await api(`/builds/${builds.current!.id}/readings/${props.readingId}/withdraw`, JudgedReadingAnswer, {
      method: 'POST',
      body: { reason: reason.value.trim() },
    })
    open.value = false
    reason.value = ''
    await builds.reload()
  } catch (e) {
    message.error((e as Error).message)
  }
}
</script>

<template>
  <span v-if="practice" class="standing soft">rehearsal only</span>
  <span v-else-if="reading && standing" class="standing">
    <span class="soft">{{ witness[reading.source ?? 'person'] }}</span>
    <span v-if="standing.stands" class="clear">stands</span>
    <span v-else-if="why" class="warn">{{ why }}</span>
    <n-popover v-if="withdrawable" v-model:show="open" trigger="click" placement="bottom-end">
      <template #trigger>
        <n-button size="small" quaternary :aria-label="`Withdraw: ${entryKinds[reading.kind].title}`">Withdraw</n-button>
      </template>
      <form class="why grid gap-2 w-280px" @submit.prevent="withdraw">
        <label :for="`why-${readingId}`">Why it was wrong</label>
        <n-input v-model:value="reason" :input-props="{ id: `why-${readingId}` }" placeholder="typed 12° for 21°" />
        <n-button type="primary" attr-type="submit" :disabled="reason.trim().length < 3">Withdraw it</n-button>
      </form>
    </n-popover>
  </span>
</template>

<style scoped>
.standing {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px var(--s3);
  align-items: baseline;
  font-size: var(--t1);
}
</style>
