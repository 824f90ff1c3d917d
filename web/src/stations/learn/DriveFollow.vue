<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { type DrivePlan, legSays, underWay } from '@vectum/core'
import { useSettings } from '../../stores/settings.ts'
import FeltButtons from './FeltButtons.vue'
import { useFollow } from './use-follow.ts'

/**
 * The plan on the passenger's knees while it is driven: what to do now, how much of it is there, what comes next, read out loud where wanted.
 * Whoever drives alone gets a dark screen while the engine works, and the voice.
 */
const props = defineProps<{ plan: DrivePlan; coolantMinC: number }>()
const emit = defineEmits<{ close: [] }>()
const settings = useSettings()
const { leg, after, legShare, share, counting, skip, live } = useFollow(props.plan, props.coolantMinC)
const aloud = useLocalStorage('vectum.driveAloud', true)
const alone = ref(false)
const dark = computed(() => alone.value && underWay(live.frame))
const words = computed(() =>
  leg.value ? settings.say(legSays(leg.value)) : 'That was all of it. Stop, save the log, and bring it to Learn.',
)
const heard = computed(() => live.frame !== null && live.state === 'up')
const cold = computed(() => live.frame?.coolantC != null && live.frame.coolantC < props.coolantMinC)
const now = computed(() => {
  const frame = live.frame
  return frame ? `${Math.round(frame.rpm)} rpm${frame.mapKpa === null ? '' : `, ${settings.format(frame.mapKpa, 'pressure')}`}` : ''
})
const stands = computed(() =>
  !heard.value
    ? 'Nothing is heard from the engine: connect a device at First start.'
    : cold.value
      ? `Too cold to count yet: it counts from ${settings.format(props.coolantMinC, 'temperature')} of coolant.`
      : counting.value
        ? 'counting'
        : 'not steady enough to count',
)
function speak(text: string): void {
  if (!aloud.value || !('speechSynthesis' in window)) return
  window.speechSynthesis.cancel()
  window.speechSynthesis.speak(new SpeechSynthesisUtterance(text))
}
watch(words, speak, { immediate: true })
</script>

<template>
  <div
    class="follow"
    :class="{ dark }"
    role="dialog"
    aria-label="The plan while it is driven"
    data-testid="follow-screen"
    @keydown.esc="emit('close')"
  >
    <template v-if="dark">
      <p class="quiet" data-testid="dark">{{ counting ? '●' : '○' }}</p>
    </template>
    <template v-else>
      <p class="caps">{{ leg ? 'Now' : 'Done' }}</p>
      <p class="call" aria-live="assertive" data-testid="call">{{ words }}</p>
      <div
        class="bar"
        role="progressbar"
        aria-label="This leg"
        :aria-valuenow="Math.round(100 * legShare)"
        aria-valuemin="0"
        aria-valuemax="100"
      >
        <span class="block h-full bg-ink" :style="{ width: `${100 * legShare}%` }"></span>
      </div>
      <p class="stands" :class="{ counts: heard && counting && !cold }" data-testid="counting">
        {{ counting && heard && !cold ? '●' : '○' }} {{ stands }}<span v-if="now" class="soft">&ensp;{{ now }}</span>
      </p>
      <p class="next">
        <template v-if="after">Then: {{ settings.say(legSays(after)) }}</template>
      </p>
      <felt-buttons />
      <div class="flex flex-wrap gap-3 items-center">
        <span class="num text-t5 mr-auto" data-testid="whole">{{ Math.round(100 * share) }} % of the drive</span>
        <n-button v-if="leg" size="large" data-testid="skip" @click="skip">Not here: later</n-button>
        <n-button size="large" :type="aloud ? 'primary' : 'default'" :aria-pressed="aloud" @click="aloud = !aloud">Read out</n-button>
        <n-button size="large" :type="alone ? 'primary' : 'default'" :aria-pressed="alone" data-testid="alone" @click="alone = !alone"
          >I drive alone: dark while it moves</n-button
        >
        <n-button size="large" data-testid="close-follow" @click="emit('close')">Close</n-button>
      </div>
      <p class="soft">
        Only the passenger reads and taps. On a road that is clear and inside the law; whatever the plan says, the traffic comes first.
        Never hold a speed against the brakes.
      </p>
    </template>
  </div>
</template>

<style scoped>
.follow {
  position: fixed;
  inset: 0;
  z-index: 50;
  background: var(--paper);
  padding: var(--s5) var(--s6);
  display: flex;
  flex-direction: column;
  gap: var(--s3);
  overflow: auto;
}
.dark {
  background: #000;
}
.quiet {
  margin: auto;
  font-size: var(--t5);
  color: #555;
}
.follow p {
  margin: 0;
}
.call {
  font: 600 var(--t6) / 1.05 var(--head);
}
.bar {
  height: 34px;
  border: 3px solid var(--ink);
}
.stands {
  font: 600 var(--t5) / 1.2 var(--head);
}
.counts {
  color: var(--clear);
}
.next {
  font: 500 var(--t5) / 1.2 var(--head);
  color: var(--soft);
  flex: 1;
}
</style>
