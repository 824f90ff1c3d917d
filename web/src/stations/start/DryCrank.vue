<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { controlsTiming, CRANK_LIGHT_DEG, CRANK_RPM, crankSeen, dryCrankOf, latest, entryWords } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { useLive } from '../../stores/live.ts'
import { useStartDesk } from './use-start-desk.ts'

/** Cranking without fuel: the app watches the speed, ten flashes are read on the damper, and the starter is let go by itself. */
const { on, hands, say } = useStartDesk()
const settings = useSettings()
const builds = useBuild()
const live = useLive()
const c = computed(() => builds.context!)
const verdict = computed(() => dryCrankOf(c.value))
const last = computed(() => latest(c.value.readings, 'start.dry-crank'))
const turning = ref(false)
const problem = ref<string | null>(null)
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))
const CRANK_MS = 2600

async function crank(): Promise<void> {
  problem.value = null
  if (!(await say('crank', { on: true, fuel: false })).ok) return
  turning.value = true
  try {
    await wait(CRANK_MS)
    const light = controlsTiming(c.value) ? await live.send('light', { flashes: 10 }) : null
    const oilKpa = live.frame?.oilPressureKpa ?? null
    await live.send('crank', { on: false })
    await wait(400)
    const seen = crankSeen(live.frames)
    if (!seen) {
      problem.value = 'The unit saw nothing turn.'
      return
    }
    const read = light?.ok ? (light.data as { observedDeg: number; commandedDeg: number }) : null
    builds.record(
      'start.dry-crank',
      {
        rpm: Math.round(seen.rpm),
        dropouts: seen.dropouts,
        spikes: seen.spikes,
        ...(oilKpa === null ? {} : { oilKpa: Math.round(oilKpa) }),
        ...(read ? { lightDeg: read.observedDeg, commandedDeg: read.commandedDeg } : {}),
      },
      { instrument: 'bench: starter and light' },
    )
  } finally {
    turning.value = false
  }
}
</script>

<template>
  <div>
    <p>
      Injectors unplugged or cleared, pump fuse as it is. The app wants {{ CRANK_RPM.low }} to {{ CRANK_RPM.high }} rpm without a dropout
      <template v-if="controlsTiming(c)"
        >and the mean of ten flashes on the damper within {{ CRANK_LIGHT_DEG }}° of what is commanded</template
      >. Early by more can kick back: put it right before any fuel.
    </p>
    <div class="act">
      <n-button v-if="!on && hands" size="large" @click="say('key', { on: true })">Key on</n-button>
      <n-button type="primary" size="large" :loading="turning" :disabled="!on || turning || !hands" data-testid="dry-crank" @click="crank"
        >Crank without fuel</n-button
      >
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <p v-if="last" data-testid="dry-crank-seen">{{ entryWords('start.dry-crank', last.value, settings.units) }}.</p>
    <p v-if="verdict.done && verdict.passed" class="clear">It may be fuelled.</p>
    <p v-else-if="verdict.done" class="stop">Not yet: {{ verdict.problems.join('; ') }}.</p>
  </div>
</template>

<style scoped>
p {
  max-width: 78ch;
}
</style>
