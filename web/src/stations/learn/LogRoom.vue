<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui'
import { useLocalStorage } from '@vueuse/core'
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { channelDimension, channelIds, channelSpecs, drawnWithin, type LogRow } from '@vectum/core'
import { useRouteQuery } from '../../shell/use-route-query.ts'
import { useSettings } from '../../stores/settings.ts'
import type { Channel } from '../../workers/log-worker.ts'
import { clock } from './clock.ts'
import { fateWords } from './fate-words.ts'
import LogScreen, { type LogLane } from './LogScreen.vue'
import TimeStrip from './TimeStrip.vue'
import { useLogRoom } from './use-log-room.ts'

/** A log from end to end and as close as one row: what each channel did, what the solve made of it, and every reading at one moment. */
const props = defineProps<{ logs: { value: string; label: string }[] }>()
const chosen = defineModel<string | null>('chosen', { required: true })
const settings = useSettings()
const { room, open } = useLogRoom()
const log = computed(() => (room.value.at === 'open' ? room.value.log : null))
const USUAL: Channel[] = ['rpm', 'mapKpa', 'throttlePct', 'lambda', 'correctionPct']
const BESIDE: Partial<Record<Channel, Channel>> = { lambda: 'lambdaTarget' }
/** lanes that are shown, on this device */
const picked = useLocalStorage<Channel[]>('vectum.lanes', USUAL)
const offered = computed(() =>
  (log.value?.ends ?? [])
    .filter((e) => !Object.values(BESIDE).includes(e.channel))
    .toSorted((a, b) => channelIds.indexOf(a.channel) - channelIds.indexOf(b.channel)),
)
const lanes = computed((): LogLane[] =>
  offered.value
    .filter((e) => picked.value.includes(e.channel))
    .map((own) => {
      const other = log.value!.ends.find((e) => e.channel === BESIDE[own.channel])
      const within = drawnWithin[own.channel] ?? { low: -Infinity, high: Infinity }
      return {
        channel: own.channel,
        ...(other ? { beside: other.channel } : {}),
        low: Math.max(within.low, Math.min(own.low, other?.low ?? Infinity)),
        high: Math.min(within.high, Math.max(own.high, other?.high ?? -Infinity)),
      }
    }),
)
function toggle(channel: Channel): void {
  picked.value = picked.value.includes(channel) ? picked.value.filter((c) => c !== channel) : [...picked.value, channel]
}
const screen = ref<InstanceType<typeof LogScreen> | null>(null)
/** kept as one object: the page does not follow it, only the mark on the strip does */
const seen = reactive({ from: 0, to: 0 })
const row = shallowRef<LogRow | null>(null)
const cursorS = ref(0)
/** a moment that a link leads to, s from the log's beginning */
const at = useRouteQuery('at', '')
const CLOSE_S = 30
let reading = 0
/** rows gone since the cursor last stood: keys come quicker than answers */
let steps = 0
async function ask(): Promise<void> {
  const asked = ++reading
  const answer = await log.value!.row(cursorS.value, steps)
  // the cursor has gone on meanwhile
  if (asked !== reading) return
  row.value = answer
  if (steps) cursorS.value = answer.atS
  steps = 0
}
function read(atS: number): void {
  cursorS.value = Math.min(log.value!.durationS, Math.max(0, atS))
  steps = 0
  void ask()
}
function step(rows: number): void {
  steps += rows
  void ask()
}
watch(chosen, (id) => void open(id), { immediate: true })
watch(
  log,
  (opened) => {
    row.value = null
    if (!opened) return
    const asked = at.value === '' ? NaN : Number(at.value)
    read(Number.isFinite(asked) ? asked : opened.durationS / 2)
  },
  { immediate: true },
)
/** the screen is there after the log is: only then it can be led to a moment */
watch(screen, (there) => {
  if (there && at.value !== '' && Number.isFinite(Number(at.value))) there.centre(cursorS.value, CLOSE_S)
})
function lead(atS: number): void {
  screen.value?.centre(atS, CLOSE_S)
  read(atS)
}
const readings = computed(() => {
  const { value: r } = row
  return r
    ? (log.value?.ends ?? []).map(({ channel }) => ({
        channel,
        label: channelSpecs[channel].label,
        value: settings.format(r.values[channel], channelDimension[channel]),
      }))
    : []
})
</script>

<template>
  <div class="pad">
    <div class="act">
      <n-select v-if="props.logs.length" v-model:value="chosen" class="which" :options="props.logs" aria-label="Log to look at" />
      <template v-if="log">
        <n-button size="large" @click="screen?.zoom(0.5)">Closer</n-button>
        <n-button size="large" @click="screen?.zoom(2)">Wider</n-button>
        <n-button size="large" @click="screen?.whole()">Whole log</n-button>
      </template>
    </div>
    <p v-if="!props.logs.length" class="empty">No log yet. Bring one, or drive the bench, under Logs.</p>
    <p v-else-if="room.at === 'opening'" role="status" class="soft">Opening the log ...</p>
    <p v-else-if="room.at === 'refused'" class="alarm quiet" role="alert">{{ room.because }}</p>
    <template v-if="log">
      <time-strip
        v-if="log.whole"
        :columns="log.whole.columns"
        :fates="log.whole.fates"
        :duration-s="log.durationS"
        :seen="seen"
        label="Whole log"
        @go="screen?.centre($event)"
      />
      <div class="act" role="group" aria-label="Channels shown">
        <button
          v-for="o in offered"
          :key="o.channel"
          type="button"
          class="chip"
          :aria-pressed="picked.includes(o.channel)"
          @click="toggle(o.channel)"
        >
          {{ channelSpecs[o.channel].label }}
        </button>
      </div>
      <log-screen
        v-if="lanes.length"
        ref="screen"
        :log-id="log.id"
        :duration-s="log.durationS"
        :lanes="lanes"
        :columns="log.columns"
        :marks="log.marks"
        :cursor-s="cursorS"
        :values="row?.values ?? {}"
        @cursor="read"
        @step="step"
        @seen="Object.assign(seen, $event)"
      />
      <p v-else class="soft">Tap a channel to see it.</p>
      <section v-if="row" aria-label="At the cursor" data-testid="log-row">
        <div class="act">
          <h2>At {{ clock(row.atS) }}</h2>
          <strong :class="row.fate === 'used' ? 'clear' : 'soft'">{{
            row.fate === 'used' ? 'used by the solve' : `left out: ${fateWords[row.fate]}`
          }}</strong>
          <span v-if="row.errorPct !== null">wanted {{ row.errorPct > 0 ? '+' : '' }}{{ row.errorPct.toFixed(1) }} % of fuel</span>
          <n-button size="small" aria-label="One row back" @click="step(-1)">‹ row</n-button>
          <n-button size="small" aria-label="One row on" @click="step(1)">row ›</n-button>
          <template v-if="log.marks.length">
            <span class="soft">Marked:</span>
            <n-button v-for="m in log.marks" :key="m" size="small" @click="lead(m)">{{ clock(m) }}</n-button>
          </template>
        </div>
        <dl class="readings grid grid-cols-[repeat(auto-fill,minmax(170px,1fr))] gap-y-2 gap-x-4">
          <div v-for="r in readings" :key="r.channel">
            <dt>{{ r.label }}</dt>
            <dd class="num">{{ r.value }}</dd>
          </div>
        </dl>
      </section>
    </template>
  </div>
</template>

<style scoped>
.which {
  flex: 1 1 320px;
}
.chip[aria-pressed='true'] {
  background: var(--ink);
  color: var(--onInk);
}
</style>
