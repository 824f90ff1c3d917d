<script setup lang="ts">
import { computed } from 'vue'
import { reusable, type Fit, type Reuse } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import FitMark from './FitMark.vue'

/** What of the car as it stands serves again, part by part, and why. */
const builds = useBuild()
const settings = useSettings()
const mark: Record<Reuse['verdict'], Fit | 'open'> = { stays: 'fits', work: 'work', no: 'no', ask: 'open' }
const words: Record<Reuse['verdict'], string> = { stays: 'stays', work: 'stays with work', no: 'does not serve', ask: 'not known yet' }
const rows = computed(() => reusable(builds.context!))
</script>

<template>
  <section class="my-4 mx-0" aria-label="What can stay">
    <h2>What can stay</h2>
    <table>
      <tbody>
        <tr v-for="r in rows" :key="r.id">
          <th class="font-600" scope="row">{{ r.label }}</th>
          <td class="verdict whitespace-nowrap"><fit-mark :fit="mark[r.verdict]" /> {{ words[r.verdict] }}</td>
          <td>{{ settings.say(r.why) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
th,
td {
  text-align: left;
  padding: var(--s2) var(--s3) var(--s2) 0;
  border-bottom: 1px solid var(--hair);
  font-size: var(--t2);
}
</style>
