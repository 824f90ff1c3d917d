<script setup lang="ts">
import { NButton, useMessage } from 'naive-ui'
import { computed } from 'vue'
import { dynoOnly } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import GateList from '../../shell/GateList.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import PutInCar from './PutInCar.vue'
import TorqueCurve from './TorqueCurve.vue'
import TrialMap from './TrialMap.vue'
import { useSparkTrial } from './use-spark-trial.ts'

/** The spark trial: one place of the map held at one advance after another, until the least one within 1 % of the best torque is known. */
const builds = useBuild()
const message = useMessage()
const settings = useSettings()
const { tune, inCar, problem, busy, picked, here, trials, gates, open, proposed, holdOnBench, accept } = useSparkTrial()
const brakeOnly = computed(() => (here.value ? dynoOnly(builds.context!, here.value.mapKpa) : null))
const given = computed(() => {
  if (!here.value || !inCar.value) return {}
  const { rpm, mapKpa, mapDeg } = here.value
  return { tuneId: inCar.value.id, rpm, mapKpa, mapDeg, ...(brakeOnly.value ? { on: 'dyno' } : {}) }
})
const start = computed(() => ({ advanceDegBtdc: here.value?.trial.nextDeg ?? undefined, knock: false }))
const ends = { known: 'Found', knock: 'Stopped by knock', scatters: 'No answer' } as const
async function take(): Promise<void> {
  const before = inCar.value!.number
  const number = await accept()
  if (number !== null) message.success(`Version ${number} stored. Version ${before} stays to go back to.`)
}
</script>

<template>
  <div class="pad">
    <p v-if="problem && !here" class="stop" role="alert">{{ problem }}</p>
    <p v-if="!inCar" class="empty">
      No tune is in the car: a trial moves the spark of that one. Put a version in the car at Base tune first.
    </p>
    <template v-else>
      <p class="measure">
        One place at a time, speed and pressure held, coolant and air alike from hold to hold. Knock is heard at the block, not over the
        road: at the first one the throttle is shut. The engine cools between holds.
      </p>
      <gate-list v-if="!open" :gates="gates" :build-id="builds.current!.id" />
      <section v-if="here" aria-live="polite">
        <div class="head-row">
          <h2>{{ here.rpm }} rpm, {{ settings.format(here.mapKpa, 'pressure') }}</h2>
          <span v-if="brakeOnly" class="warn">{{ settings.say(brakeOnly) }}.</span>
        </div>
        <p v-if="problem" class="alarm" role="alert" data-testid="trial-problem">{{ problem }}</p>
        <template v-if="here.trial.nextDeg !== null">
          <div class="act">
            <span class="now num text-t5 my-1 mx-0" data-testid="trial-next">Hold {{ here.trial.nextDeg }}°</span>
            <n-button
              dashed
              size="large"
              :loading="busy"
              :disabled="busy || !open"
              data-testid="trial-bench"
              @click="holdOnBench(here.trial.nextDeg)"
              >Bench: hold it on the brake</n-button
            >
          </div>
          <p class="because" data-testid="trial-because">{{ here.trial.because }}.</p>
        </template>
        <template v-else>
          <p class="now num text-t5 my-1 mx-0" :class="here.trial.state === 'known' ? 'clear' : 'stop'" data-testid="trial-end">
            {{ ends[here.trial.state as 'known'] }}<template v-if="here.trial.resultDeg !== null">: {{ here.trial.resultDeg }}°</template>
          </p>
          <p class="because">
            {{ here.trial.because
            }}<template v-if="here.trial.gainPct !== null"
              >; {{ here.trial.gainPct.toFixed(1) }} % more torque than the map’s {{ here.mapDeg.toFixed(0) }}°</template
            >.
          </p>
        </template>
        <p v-if="here.trial.used.length" class="soft" data-testid="trial-holds">
          {{ here.trial.used.length }} {{ here.trial.used.length === 1 ? 'hold' : 'holds' }} so far, the last at
          {{ here.trial.used.at(-1)!.advanceDegBtdc.toFixed(0) }}°.
        </p>
        <torque-curve v-if="here.trial.estimate" :trial="here.trial" :map-deg="here.mapDeg" />
        <ul v-if="here.trial.leftOut.length" class="soft">
          <li v-for="(l, k) in here.trial.leftOut" :key="k">
            {{ l.point.advanceDegBtdc.toFixed(0) }}° left out: {{ settings.say(l.why) }}.
          </li>
        </ul>
        <entry-form
          v-if="here.trial.nextDeg !== null"
          kind="learn.trial-point"
          :given="given"
          :start="start"
          :without="brakeOnly ? ['on', 'throttlePct'] : []"
          :needs="brakeOnly ? ['torqueNm'] : []"
          :disabled="!open"
        />
        <div v-if="proposed" class="boxed" data-testid="trial-proposal">
          <template v-if="proposed.changes.length">
            <p>
              <strong v-for="(ch, k) in proposed.changes" :key="k" class="change"
                >{{ ch.rpm }} rpm, {{ settings.format(ch.mapKpa, 'pressure') }}: {{ ch.fromDeg.toFixed(1) }} →
                {{ ch.toDeg.toFixed(1) }}°</strong
              >
            </p>
            <p class="soft">
              The cell takes all of it, its neighbours half; an earlier spark never goes to a higher load, where nobody listened.
            </p>
            <n-button type="primary" size="large" :loading="busy" data-testid="trial-accept" @click="take"
              >Accept as a new version</n-button
            >
          </template>
          <p v-else class="clear">The map holds it already: nothing changes.</p>
        </div>
        <put-in-car />
        <h3>Another place</h3>
      </section>
      <p v-else class="empty">Choose the place on the map: where it is driven most, or where the torque is wanted.</p>
      <trial-map v-if="tune" v-model="picked" :tune="tune.document" :trials="trials" />
    </template>
  </div>
</template>

<style scoped>
.because::first-letter {
  text-transform: uppercase;
}
.change {
  display: inline-block;
  margin-right: var(--s4);
  font-size: var(--t3);
}
</style>
