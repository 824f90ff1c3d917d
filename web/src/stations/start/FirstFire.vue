<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { crankSeen, firstFire, readBeside, startWanted, type CrankAsked } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { useLive } from '../../stores/live.ts'

/** After an attempt, and while an engine runs badly: what was seen by itself, what only a person can tell, the likeliest causes and the next thing to look at. */
const emit = defineEmits<{ off: [] }>()
const settings = useSettings()
const builds = useBuild()
const live = useLive()
const heard = ref<CrankAsked['heard']>()
const plugs = ref<CrankAsked['plugs']>()
const glass = ref<CrankAsked['glass']>()
const refused = ref<string | null>(null)
const nowMs = ref(Date.now())
const clock = setInterval(() => (nowMs.value = Date.now()), 500)
onBeforeUnmount(() => clearInterval(clock))

const frame = computed(() => live.frame)
const silentS = computed(() => (live.state === 'up' && live.lastFrameAtMs ? Math.max(0, (nowMs.value - live.lastFrameAtMs) / 1000) : 0))
const seen = computed(() => crankSeen(live.frames, silentS.value))
const turning = computed(() => frame.value?.state === 'cranking' && silentS.value < 0.6)
const wanted = computed(() => startWanted(builds.context!))
const branch = computed(() =>
  seen.value && !turning.value && wanted.value
    ? firstFire(seen.value, { ...readBeside(builds.context!), heard: heard.value, plugs: plugs.value, glass: glass.value }, wanted.value)
    : null,
)
// a new attempt asks anew; what the bench lets hear is taken as heard
watch(turning, (now) => {
  if (now) heard.value = plugs.value = glass.value = undefined
})
watch(
  () => live.heard,
  (bang) => {
    if (bang && bang.what !== 'knock') heard.value = bang.what
  },
)
async function atBench<T>(command: string): Promise<T | null> {
  const reply = await live.send(command)
  refused.value = reply.ok ? null : (reply.detail ?? 'The bench did not answer.')
  return reply.ok ? (reply.data as T) : null
}
const look = async () => (plugs.value = (await atBench<{ plugs: 'wet' | 'dry' }>('plugs'))?.plugs ?? plugs.value)
const sample = async () => (glass.value = (await atBench<{ glass: 'fuel' | 'water' }>('sample'))?.glass ?? glass.value)
const told = (value: number | null, decimals: number) => value?.toFixed(decimals) ?? '–'
const recorded = ref(false)
watch(seen, () => (recorded.value = false))
function record(): void {
  const { session } = live
  if (!session) return
  const asked = { ...(heard.value ? { heard: heard.value } : {}), ...(plugs.value ? { plugs: plugs.value } : {}) }
  if (Object.keys(asked).length)
    builds.record('start.crank-heard', asked, {}, (id) => builds.ask('start.attempt', { sessionId: session, entryIds: [id] }))
  else builds.ask('start.attempt', { sessionId: session })
  recorded.value = true
}
</script>

<template>
  <section v-if="seen && branch && branch.id !== 'runs'" class="fire" aria-live="polite" data-testid="first-fire">
    <p class="seen soft mx-0 mt-0 mb-2">
      Seen: {{ seen.seconds.toFixed(1) }} s at <strong class="num">{{ seen.rpm.toFixed(0) }} rpm</strong>, pulse
      {{ told(seen.pulseMs, 1) }} ms, {{ told(seen.pressureKpa, 0) }} kPa, {{ told(seen.batteryV, 1) }} V lowest.
    </p>
    <div class="asked flex flex-wrap gap-y-2 gap-x-4 items-center mb-3">
      <option-row
        v-model="heard"
        label="Heard"
        :options="[
          { value: 'nothing', label: 'nothing heard' },
          { value: 'inlet', label: 'spits at the inlet' },
          { value: 'exhaust', label: 'bangs in the exhaust' },
          { value: 'kick', label: 'kicks back' },
        ]"
      />
      <option-row
        v-model="plugs"
        label="Plugs"
        :options="[
          { value: 'wet', label: 'plugs wet' },
          { value: 'dry', label: 'plugs dry' },
        ]"
      />
      <option-row
        v-if="branch.next?.sign === 'glass' || glass"
        v-model="glass"
        label="In the glass"
        :options="[
          { value: 'fuel', label: 'fuel alone' },
          { value: 'water', label: 'water under it' },
        ]"
      />
      <template v-if="live.device === 'bench'">
        <n-button dashed data-testid="bench-plugs" @click="look">Bench: take a plug out</n-button>
        <n-button v-if="branch.next?.sign === 'glass'" dashed @click="sample">Bench: a sample into a glass</n-button>
      </template>
    </div>
    <p v-if="refused" class="stop" role="alert">{{ refused }}</p>
    <button v-if="branch.pumpOff" class="off" @click="emit('off')">Pump and key off now</button>
    <h2 class="text-t5" :class="{ stop: branch.pumpOff }" data-testid="branch">{{ branch.title }}</h2>
    <p>{{ settings.say(branch.because) }}</p>
    <p v-if="branch.next" data-testid="next-test">
      <strong>Next, {{ branch.next.minutes }} min:</strong> {{ branch.next.text }}.
      <span class="soft">It tells the likeliest causes apart most cheaply.</span>
    </p>
    <ol class="mx-0 mt-0 mb-2 pl-5">
      <li v-for="l in branch.look" :key="l.text" :data-testid="`cause-${l.cause}`">
        {{ l.text }}, <span class="whitespace-nowrap text-soft">{{ l.minutes }} min</span>{{ ' '
        }}<router-link v-if="l.station !== 'start'" :to="{ name: l.station, params: { id: builds.current!.id } }">go there</router-link>
      </li>
    </ol>
    <n-button size="small" :disabled="recorded" @click="record">{{ recorded ? 'Recorded' : 'Record this attempt' }}</n-button>
  </section>
</template>

<style scoped>
.fire {
  border: 1px solid var(--ink);
  border-left: 6px solid var(--warn);
  padding: var(--s3) var(--s4);
  margin: var(--s3) 0;
}
p {
  margin: 2px 0 var(--s2);
}
.off {
  width: 100%;
  min-height: 72px;
  border: 0;
  background: var(--stop);
  color: var(--paper);
  font: 700 var(--t5) var(--head);
  cursor: pointer;
  margin-bottom: var(--s2);
}
</style>
