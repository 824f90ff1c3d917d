<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { lookedBeside } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import type { Learning } from './use-learning.ts'
import { signed } from './cell-words.ts'

/** From what a log has taught to a new version: looked at first, then accepted. Of a unit that learns by itself only what it never learns. */
const props = defineProps<{ state: Extract<Learning, { at: 'solved' }>; fits: boolean; itself: boolean }>()
const emit = defineEmits<{ propose: []; dismiss: []; accept: [] }>()
const builds = useBuild()
const solved = computed(() => props.state.solved)
const cells = computed(() => solved.value.result.cells.filter((c) => c.uncorrected))
/** a base that is made inside the unit cannot be given to it */
const answersAlone = computed(() => builds.current?.choices.unit?.setBy === 'questions')
const looked = computed(() => lookedBeside(builds.context!))
const shut = computed(() => {
  const { result, tune } = solved.value
  if (!result.sound) return 'Shut until the test above has settled what is wrong.'
  if (!tune) return 'Put a tune in the car first: a correction needs the table it was driven with.'
  if (!props.fits) return 'This log is older than the tune now in the car; it cannot correct that one. Drive again and bring the new log.'
  if (props.itself && !looked.value)
    return 'Shut until the exhaust was smoked and a second meter held against the sensor: outside air reads as lean.'
  return null
})
</script>

<template>
  <section v-if="!itself || cells.length" :class="{ boxed: itself }" data-testid="accept-version">
    <template v-if="itself">
      <h2>What it never learns belongs in the base</h2>
      <p>
        In {{ cells.length === 1 ? 'this cell' : 'these cells' }} lambda stays off its target and no trim works, because its loop is open
        there. However long it is driven, that stays:
      </p>
      <ul class="mx-0 mt-0 mb-3 pl-5">
        <li v-for="c in cells" :key="`${c.i} ${c.j}`">
          {{ c.rpm }} rpm, {{ c.mapKpa }} kPa:
          <template v-if="c.leftPct !== undefined"
            ><strong class="num">{{ signed(c.leftPct) }} %</strong> left{{ c.state === 'unsafe' ? ', ' : '' }}</template
          ><strong v-if="c.state === 'unsafe'" class="stop">lean at high load</strong>
        </li>
      </ul>
      <p v-if="answersAlone">
        This unit is set by questions and makes its base itself. Where an answer moves it, that is worked out below; else ask in its answers
        for the closed loop from a lower speed or up to more load, as its sheet allows. Then drive, and bring that log.
      </p>
    </template>
    <div v-if="!itself || !answersAlone" class="flex gap-4 items-center flex-wrap">
      <template v-if="!state.proposed">
        <n-button
          type="primary"
          size="large"
          :disabled="shut !== null || !solved.result.totals.used"
          data-testid="prepare"
          @click="emit('propose')"
          >See the new version</n-button
        >
        <span v-if="shut" class="soft"
          >{{ shut }} <router-link v-if="itself && !looked" :to="{ query: { tab: 'beside' } }">Do both now</router-link></span
        >
      </template>
      <template v-else>
        <strong
          >{{ state.proposed.changes.length === 1 ? '1 cell of VE changes' : `${state.proposed.changes.length} cells of VE change` }}, 10 %
          at most in one pass<template v-if="!itself && solved.result.correctedFor?.length"
            >; what was taken out first is mended with them</template
          ><template v-if="itself">; what the unit has learned stays over them</template>.</strong
        >
        <n-button type="primary" size="large" :loading="state.accepting" data-testid="accept" @click="emit('accept')"
          >Accept as a new version</n-button
        >
        <n-button size="large" @click="emit('dismiss')">Not now</n-button>
      </template>
    </div>
  </section>
</template>
