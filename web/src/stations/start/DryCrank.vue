<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { controlsTiming, CRANK_LIGHT_DEG, CRANK_RPM, dryCrankOf, latest, entryWords } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { useLive } from '../../stores/live.ts'
import { useStartDesk } from './use-start-desk.ts'

/** Cranking without fuel: the session watches the speed, ten flashes are read on the damper; without a logger the display is read. */
const { on, hands, byHand, say } = useStartDesk()
const settings = useSettings()
const builds = useBuild()
const live = useLive()
const c = computed(() => builds.context!)
const verdict = computed(() => dryCrankOf(c.value))
const last = computed(() => latest(c.value.readings, 'start.dry-crank'))
const lastLight = computed(() => latest(c.value.readings, 'start.crank-light'))
const timed = computed(() => controlsTiming(c.value))
const turning = ref(false)
const CRANK_S = 2.6

async function crank(): Promise<void> {
  if (!(await say('crank', { on: true, fuel: false })).ok) return
  turning.value = true
  try {
    await live.passed(CRANK_S)
    const light = timed.value ? await builds.readBench('start.crank-light', { live: true }) : null
    await live.send('crank', { on: false })
    judge(light ? [light.id] : [])
  } finally {
    turning.value = false
  }
}
/** what the session saw is judged by the server, with the light that was read */
function judge(entryIds: string[]): void {
  if (live.session) builds.ask('start.dry-crank', { sessionId: live.session, entryIds })
}
const shown = (entryId: string) =>
  builds.ask('start.dry-crank', { entryIds: [entryId, ...(timed.value && lastLight.value ? [lastLight.value.id] : [])] })
const fuelled = ['pressureKpa', 'ranS', 'heard', 'plugs']
</script>

<template>
  <div>
    <p class="measure">
      Injectors unplugged or cleared, pump fuse as it is. The app wants {{ CRANK_RPM.low }} to {{ CRANK_RPM.high }} rpm without a dropout
      <template v-if="timed">and the mean of ten flashes on the damper within {{ CRANK_LIGHT_DEG }}° of what is commanded</template>. Early
      by more can kick back: put it right before any fuel.
    </p>
    <div v-if="hands" class="act">
      <n-button v-if="!on" size="large" @click="say('key', { on: true })">Key on</n-button>
      <n-button type="primary" size="large" :loading="turning" :disabled="!on || turning" data-testid="dry-crank" @click="crank"
        >Crank without fuel</n-button
      >
    </div>
    <template v-else-if="byHand">
      <template v-if="timed">
        <h3>Read the light while a helper cranks</h3>
        <entry-form kind="start.crank-light" />
        <p v-if="lastLight" class="soft">{{ entryWords('start.crank-light', lastLight.value, settings.units) }}.</p>
      </template>
      <template v-if="live.device === 'line'">
        <h3>Then let the logger’s record be judged</h3>
        <n-button type="primary" size="large" :disabled="timed && !lastLight" @click="judge(timed && lastLight ? [lastLight.id] : [])"
          >Judge what the logger saw</n-button
        >
      </template>
      <template v-else>
        <h3>Then what the display showed</h3>
        <entry-form
          kind="start.crank-shown"
          :given="{ fuelled: false }"
          :without="fuelled"
          :needs="['batteryV']"
          :disabled="timed && !lastLight"
          @made="shown"
        />
      </template>
    </template>
    <p v-if="last" data-testid="dry-crank-seen">{{ entryWords('start.dry-crank', last.value, settings.units) }}.</p>
    <p v-if="verdict.done && verdict.passed" class="clear">It may be fuelled.</p>
    <p v-else-if="verdict.done" class="stop">Not yet: {{ verdict.problems.join('; ') }}.</p>
  </div>
</template>
