<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { OwnCurveRow } from '@vectum/core'
import CellInput from '../../quantity/CellInput.vue'
import { useBuild } from '../../stores/build.ts'

/** The curve of a programmable distributor: points over speed, what load adds, and the sum beside the plan and the detonation guard. */
defineProps<{ rows: OwnCurveRow[] }>()
const builds = useBuild()
const curve = computed(() => builds.current?.choices.spark?.ownCurve ?? {})
type Points = Record<string, number>[]
interface List {
  key: 'points' | 'load'
  title: string
  x: string
  unit: string
  list: Points
  next: Points[number]
}
const lists = computed((): List[] => [
  {
    key: 'points',
    title: 'Over speed',
    x: 'rpm',
    unit: 'rpm',
    list: curve.value.points ?? [],
    next: { rpm: 1000, deg: 10 },
  },
  {
    key: 'load',
    title: 'Added by load',
    x: 'mapKpa',
    unit: 'kPa',
    list: curve.value.load ?? [],
    next: { mapKpa: 40, deg: 8 },
  },
])
const put = (key: 'points' | 'load', list: Points) => builds.change(`choices.spark.ownCurve.${key}`, list.length ? list : undefined)
function edit(key: 'points' | 'load', list: Points, i: number, field: string, text: string): void {
  const value = Number(text.replace(',', '.'))
  if (text.trim() === '' || !Number.isFinite(value)) return
  put(
    key,
    list.map((p, k) => (k === i ? { ...p, [field]: value } : p)),
  )
}
</script>

<template>
  <div class="own flex flex-wrap gap-y-3 gap-x-6">
    <div v-for="l in lists" :key="l.key">
      <h2>{{ l.title }}</h2>
      <div v-for="(p, i) in l.list" :key="i" class="point flex gap-2 items-center mb-1">
        <cell-input
          :value="p[l.x]"
          :label="`${l.title}, point ${i + 1}, ${l.unit}`"
          numeric
          @commit="(t) => edit(l.key, l.list, i, l.x, t)"
        />
        <span class="soft">{{ l.unit }}</span>
        <cell-input
          :value="p.deg"
          :label="`${l.title}, point ${i + 1}, degrees`"
          numeric
          @commit="(t) => edit(l.key, l.list, i, 'deg', t)"
        />
        <span class="soft">°</span>
        <n-button
          quaternary
          :aria-label="`Remove point ${i + 1}`"
          @click="
            put(
              l.key,
              l.list.filter((_, k) => k !== i),
            )
          "
          >✕</n-button
        >
      </div>
      <n-button :disabled="l.list.length >= 24" @click="put(l.key, [...l.list, l.next])">Add a point</n-button>
    </div>
    <table v-if="rows.length">
      <thead>
        <tr>
          <th>Sum at</th>
          <th>Full load</th>
          <th>planned</th>
          <th>Light load</th>
          <th>planned</th>
          <th>Guard</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.rpm">
          <td class="num">{{ r.rpm }}</td>
          <td class="num" :class="{ stop: r.fullDeg > r.guardDeg }">{{ r.fullDeg.toFixed(1) }}°</td>
          <td class="soft">{{ r.plannedFullDeg.toFixed(1) }}°</td>
          <td class="num">{{ r.lightDeg.toFixed(1) }}°</td>
          <td class="soft">{{ r.plannedLightDeg.toFixed(1) }}°</td>
          <td class="soft">{{ r.guardDeg.toFixed(1) }}°</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.point :deep(input) {
  width: 84px;
}
</style>
