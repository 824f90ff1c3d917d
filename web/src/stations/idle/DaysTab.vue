<script setup lang="ts">
import { computed } from 'vue'
import { entryWords, learnsIdle, readingsOf, WARM_IDLES, warmDays } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import EntryStanding from '../../kit/EntryStanding.vue'
import { useSettings } from '../../stores/settings.ts'
import { useIdle } from './use-idle.ts'

/** A unit that adapts its idle: three warm idles of different days that agree, and the idle back after the battery was off. */
const { builds, c } = useIdle()
const settings = useSettings()
const learns = computed(() => learnsIdle(c.value))
const days = computed(() => warmDays(c.value.readings))
const verdicts = computed(() => readingsOf(builds.saved?.readings ?? [], 'idle.verdict'))
const off = computed(() => readingsOf(builds.saved?.readings ?? [], 'idle.battery-off'))
</script>

<template>
  <section class="pad">
    <p v-if="!learns" class="measure">
      {{
        c.build.choices.unit?.idleLearns === 'nothing'
          ? 'This unit adapts nothing at idle: one good idle is enough.'
          : 'Whether the unit adapts its idle by itself is not known; it is told under Unit, below the job line. What it adapts must agree over three days.'
      }}
    </p>
    <p v-else :class="['big', days.agree ? 'clear' : '']" data-testid="days">
      {{ days.days }} of {{ WARM_IDLES }} warm days<template v-if="days.days > 1"
        >, {{ days.rpmApart.toFixed(0) }} rpm and {{ days.valveApart.toFixed(1) }} % of valve apart</template
      >
    </p>
    <h2>Idles judged</h2>
    <ul v-if="verdicts.length" class="entries">
      <li v-for="r in [...verdicts].reverse()" :key="r.id">
        {{ r.takenAt.slice(0, 10) }}: {{ entryWords('idle.verdict', r.value, settings.units) }} <entry-standing :reading-id="r.id" />
      </li>
    </ul>
    <p v-else class="empty">None yet: Trace is the place.</p>
    <template v-if="learns">
      <h2>Battery off</h2>
      <p class="measure">The earthed terminal off for some minutes, on again, warmed up, nothing touched: does the idle come back?</p>
      <entry-form kind="idle.battery-off" />
      <ul v-if="off.length" class="entries">
        <li v-for="r in off" :key="r.id">
          {{ entryWords('idle.battery-off', r.value, settings.units) }} <entry-standing :reading-id="r.id" />
        </li>
      </ul>
    </template>
  </section>
</template>

<style scoped>
.big {
  font: 600 var(--t4) var(--head);
}
.entries {
  padding-left: var(--s4);
}
</style>
