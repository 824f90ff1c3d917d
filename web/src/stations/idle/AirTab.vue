<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { beyondShutDeg, fitupOf, linkageOf, proved, screwByPlate, WARM_C } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import { useSettings } from '../../stores/settings.ts'
import AirBar from './AirBar.vue'
import MoveList from './MoveList.vue'
import { useIdle } from './use-idle.ts'

/** The air of the idle: the bar, what to turn and how far, the zero after it, and the looks and moves so far. */
const { builds, live, desk, c, problem, tune, air, advice, bandPct, targetRpm, now, streams, moves, coldC, swings, mode } = useIdle()
const { hands, running, say, blocked, block } = desk
const settings = useSettings()
const worse = computed(() => moves.value.at(-1)?.better === false)
/** what is turned next: back what made it worse, else what the valve tells */
const turns = computed(() => (worse.value ? -(moves.value.at(-1)!.turns ?? 0) : (advice.value?.turns ?? 0)))
const way = (by: number): string => `${Math.abs(by).toFixed(2)} turns ${by > 0 ? 'open' : 'shut'}`
const stale = computed(() => !proved(c.value, 'idle.zero'))
const plate = computed(() => (blocked.value && now.value && targetRpm.value ? screwByPlate(now.value.rpm, targetRpm.value) : null))
/** the plate's angle for the air it gives, where its bore was measured */
const plateDeg = computed(() =>
  fitupOf(c.value).linkage?.plate?.boreMm !== undefined && air.value?.plateMm2 != null
    ? beyondShutDeg(linkageOf(c.value).plate, air.value.plateMm2)
    : null,
)
const shut = ref(false)
const SEEN_AFTER_S = 4.5

function look(): void {
  if (!now.value) return
  const { rpm, valvePct, mapKpa } = now.value
  const short = (v: number, by: number) => Math.round(v / by) * by
  builds.record('idle.point', {
    rpm: short(rpm, 1),
    valvePct: Math.round(valvePct * 10) / 10,
    mapKpa: Math.round(mapKpa * 10) / 10,
    ...(blocked.value ? { valve: 'blocked' } : {}),
    ...(shut.value ? { screw: 'shut' } : {}),
  })
}
/** On the bench the hand turns it; at the car a person did, and says so. */
async function turn(by: number): Promise<void> {
  if (hands.value && !(await say('screw', { turns: by })).ok) return
  builds.record('idle.screw', { turns: by })
}
async function learnZero(): Promise<void> {
  if (!(await say('learn-zero')).ok) return
  // that the unit takes this for an idle is seen by its valve, once it has had a moment
  await live.passed(running.value ? SEEN_AFTER_S : 0.4)
  const closedPct = Math.round((live.frame?.throttlePct ?? 0) * 10) / 10
  builds.record('idle.zero', { closedPct, ...(mode.value === null ? {} : { idles: mode.value }) })
}
</script>

<template>
  <section class="pad">
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <p v-else-if="!tune && builds.current!.tunes.length === 0" class="empty">
      No tune is in the car: its target, and the air the engine takes, come from there. Base tune is the place.
    </p>
    <air-bar v-if="air" :air="air" :band-pct="bandPct" />
    <p v-else-if="tune" class="empty">
      {{
        streams
          ? 'Start it and let it idle warm: the bar shows where its air comes from.'
          : 'Look at the unit’s display at a warm idle, and type speed, valve and pressure below: the bar shows where the air comes from.'
      }}
    </p>

    <p v-if="plateDeg !== null" data-testid="plate-beyond">
      The plates stand about {{ settings.format(plateDeg, 'angle', 1) }} beyond shut, by their bores at Fit-up.
    </p>
    <p v-if="coldC !== null" class="text-t4" role="status">
      Let it warm up: {{ settings.format(coldC, 'temperature') }} now, {{ settings.format(WARM_C, 'temperature') }} before anything is
      turned.
    </p>
    <p v-else-if="swings" class="warn text-t4" role="status">
      The speed swings: mend that first, under Controller. Then the valve tells how far to turn.
    </p>
    <div v-else-if="advice || worse" class="next" data-testid="screw-advice">
      <template v-if="worse">
        <strong class="big">Take it back: {{ way(turns) }}</strong>
        <span class="warn">the last move made it worse</span>
      </template>
      <strong v-else-if="advice!.refused" class="warn">{{ advice!.refused }}</strong>
      <strong v-else-if="turns === 0" class="big clear">Leave the screw where it is</strong>
      <strong v-else class="big"
        >{{ way(turns) }}<small v-if="advice!.sigmaTurns !== null"> ± {{ (2 * advice!.sigmaTurns).toFixed(2) }}</small></strong
      >
      <span v-if="advice">{{ advice.because }}; {{ bandPct[0].toFixed(0) }} to {{ bandPct[1].toFixed(0) }} % wanted.</span>
      <n-button v-if="turns !== 0" type="primary" size="large" data-testid="turn" @click="turn(turns)">{{
        hands ? 'Turn it so' : 'I turned it so'
      }}</n-button>
    </div>

    <div v-if="stale" class="zero">
      <strong>Learn the throttle’s zero</strong>
      <span>after each turn; key on, engine off, foot off. Else the unit leaves its idle mode.</span>
      <n-button v-if="hands" size="large" data-testid="learn-zero" @click="learnZero">Learn it on the bench</n-button>
      <entry-form v-else kind="idle.zero" />
    </div>
    <p v-else class="clear">Zero learned since the screw was turned.</p>
    <p v-if="mode === false" class="warn" role="status">The unit is not in its idle mode: the speed wanders and its valve stands still.</p>

    <div class="act">
      <n-button v-if="now" size="large" data-testid="look" @click="look"
        >Note this look: {{ now.rpm.toFixed(0) }} rpm, {{ now.valvePct.toFixed(0) }} %</n-button
      >
      <n-button v-if="hands && running" size="large" data-testid="block" @click="block(!blocked)">{{
        blocked ? 'Free the port' : 'Block the valve’s port'
      }}</n-button>
      <label v-if="now && blocked" class="tick flex gap-2 items-center min-h-44px"
        ><input v-model="shut" type="checkbox" /> the screw is all the way shut</label
      >
    </div>
    <p v-if="plate" class="big" data-testid="plate">
      {{ now!.rpm.toFixed(0) }} of {{ plate.wantedRpm.toFixed(0) }} rpm on the plate alone:
      {{ plate.done ? 'there; free the port and learn the zero' : `turn the screw ${plate.turn}` }}
    </p>

    <h2>Type a look from the display</h2>
    <entry-form kind="idle.point" :start="{ valve: 'works', screw: 'as-set' }" />
    <details>
      <summary class="min-h-44px cursor-pointer">Another turn, or another screw</summary>
      <entry-form kind="idle.screw" />
    </details>
    <details class="soft">
      <summary class="min-h-44px cursor-pointer">With the valve out of play</summary>
      <p class="measure">
        Block the valve’s port, or command it shut. Set the screw so that the warm engine runs on the plate alone at 85 % of its target
        <template v-if="targetRpm">({{ screwByPlate(targetRpm, targetRpm).wantedRpm.toFixed(0) }} rpm)</template>. Free the port, learn the
        zero, and see where the valve stands. More than one throttle: synchronise them by airflow first, linkage slack, then turn one screw.
      </p>
    </details>
    <move-list :moves="moves" />
  </section>
</template>

<style scoped>
.next,
.zero {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2) var(--s4);
  align-items: center;
  border-left: 6px solid var(--ink);
  padding: var(--s2) var(--s4);
  margin: var(--s3) 0;
}
.zero {
  border-color: var(--warn);
}
.big {
  font: 600 var(--t5) / 1.1 var(--head);
}
</style>
