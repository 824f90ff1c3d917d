<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { coolPorts, entryWords, latest } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { useStartDesk } from './use-start-desk.ts'

/** Whether every cylinder works: by the heat of the exhaust ports, or one lead off at a time. An engine idles well on one less. */
const builds = useBuild()
const settings = useSettings()
const { hands, busy, running, say } = useStartDesk()
const how = ref<'ports' | 'leads'>('ports')
const cool = ref<number[]>([])
const shown = ref<string | null>(null)
const cylinders = computed(() => Array.from({ length: builds.context!.resolved.cylinders ?? 0 }, (_, i) => i + 1))
const last = computed(() => latest(builds.context!.readings, 'start.cylinders'))
const toggle = (n: number) =>
  (cool.value = cool.value.includes(n) ? cool.value.filter((v) => v !== n) : [...cool.value, n].sort((a, b) => a - b))
async function read(): Promise<void> {
  const reply = await say('instrument', { instrument: 'infrared-thermometer' })
  if (!reply.ok) return
  const { says, values } = reply.data as { says: string; values: Record<string, number | string | null> }
  shown.value = says
  cool.value = coolPorts(values)
  how.value = 'ports'
}
function record(): void {
  builds.record(
    'start.cylinders',
    { cool: cool.value, how: how.value },
    how.value === 'ports' ? { instrument: 'infrared thermometer' } : {},
  )
  cool.value = []
  shown.value = null
}
</script>

<template>
  <section>
    <h3 class="mx-0 mt-4 mb-2">Does every cylinder work?</h3>
    <option-row
      v-model="how"
      firm
      label="Found by"
      :options="[
        { value: 'ports', label: 'heat of the exhaust ports' },
        { value: 'leads', label: 'one lead off at a time' },
      ]"
    />
    <p v-if="how === 'leads'" class="stop">
      A plug lead shocks through gloves and stops hearts that have a pacemaker. Insulated pliers, the lead to earth before it is lifted, ten
      seconds each; never with a coil that its maker forbids it, never behind a catalyst.
    </p>
    <p v-else>Half a minute after a cold start: thermometer along the ports, the same place at each. One that stays cool does no work.</p>
    <div v-if="hands" class="act">
      <n-button dashed :disabled="busy || !running" data-testid="bench-ports" @click="read">Bench: thermometer along the ports</n-button>
      <span v-if="shown" class="num" data-testid="ports-seen">{{ shown }}</span>
    </div>
    <div class="act" role="group" aria-label="Cylinders that stay cool or make no odds">
      <n-button
        v-for="n in cylinders"
        :key="n"
        :type="cool.includes(n) ? 'error' : 'default'"
        :aria-pressed="cool.includes(n)"
        :data-testid="`cool-${n}`"
        @click="toggle(n)"
        >{{ n }}{{ cool.includes(n) ? ' cool' : '' }}</n-button
      >
      <n-button type="primary" data-testid="cylinders-record" @click="record">{{
        cool.length ? `Record: ${cool.join(', ')} ${cool.length === 1 ? 'does' : 'do'} not work` : 'Record: all work alike'
      }}</n-button>
    </div>
    <p v-if="last" :class="last.value.cool.length ? 'stop' : 'clear'" data-testid="cylinders-recorded">
      {{ entryWords('start.cylinders', last.value, settings.units) }}.
    </p>
  </section>
</template>

<style scoped>
.act .n-button {
  min-width: 44px;
}
</style>
