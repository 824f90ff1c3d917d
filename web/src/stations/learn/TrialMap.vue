<script setup lang="ts">
import { computed } from 'vue'
import { dynoOnly, type TrialAt, type TuneDocument } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

/** The spark map, to choose the place of a trial on; places that were tried are marked by how far it went. */
const props = defineProps<{ tune: TuneDocument; trials: readonly TrialAt[] }>()
const picked = defineModel<{ i: number; j: number } | null>({ required: true })
const builds = useBuild()
const rows = computed(() => {
  const { axes, tables } = props.tune
  return axes.mapKpa
    .map((mapKpa, j) => ({
      mapKpa,
      j,
      dyno: dynoOnly(builds.context!, mapKpa) !== null,
      cells: axes.rpm.map((rpm, i) => ({
        i,
        rpm,
        deg: tables.spark[j * axes.rpm.length + i],
        trial: props.trials.find((t) => t.rpm === rpm && t.mapKpa === mapKpa)?.trial ?? null,
      })),
    }))
    .toReversed()
})
const marks = { holds: '…', known: '✓', knock: '!', scatters: '?' } as const
const words = { holds: 'begun', known: 'found', knock: 'stopped by knock', scatters: 'scatters' } as const
</script>

<template>
  <div class="scroll">
    <table class="map">
      <caption class="visually-hidden">
        Spark in degrees before top centre, by speed and manifold pressure
      </caption>
      <tbody>
        <tr v-for="row in rows" :key="row.mapKpa">
          <th class="py-0 px-2 text-right border-0" scope="row">{{ row.mapKpa }} kPa<small v-if="row.dyno"> brake</small></th>
          <td v-for="c in row.cells" :key="c.i">
            <button
              class="plain min-w-44px min-h-44px w-full text-center head-t3"
              :class="[c.trial?.state, { on: picked?.i === c.i && picked.j === row.j }]"
              :aria-pressed="picked?.i === c.i && picked.j === row.j"
              :aria-label="`${c.rpm} rpm, ${row.mapKpa} kPa: ${c.deg.toFixed(0)}°${c.trial ? `, ${words[c.trial.state]}` : ''}`"
              @click="picked = { i: c.i, j: row.j }"
            >
              {{ c.deg.toFixed(0) }}<sup v-if="c.trial">{{ marks[c.trial.state] }}</sup>
            </button>
          </td>
        </tr>
        <tr>
          <th class="py-0 px-2 text-right border-0" scope="row">rpm</th>
          <td v-for="(rpm, i) in tune.axes.rpm" :key="rpm" class="axis">{{ i % 2 ? '' : rpm }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
td,
th {
  padding: 0;
  border: 1px solid var(--hair);
  text-align: center;
  white-space: nowrap;
}
.axis {
  border: 0;
  font-size: var(--t1);
  color: var(--soft);
}
button:hover {
  background: var(--wash);
}
.on,
.on:hover {
  background: var(--ink);
  color: var(--onInk);
}
.known {
  box-shadow: inset 0 -4px var(--clear);
}
.knock {
  box-shadow: inset 0 -4px var(--stop);
}
.holds,
.scatters {
  box-shadow: inset 0 -4px var(--data);
}
</style>
