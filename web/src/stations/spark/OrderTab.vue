<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, reactive } from 'vue'
import { coilMap, firingAngles, hasDistributor, leadSwap, sweepOf } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import { useBuild } from '../../stores/build.ts'

/** Towers, coils and the order they fire in; what a crossed pair does; tags for the leads. */
const builds = useBuild()
const c = computed(() => builds.context!)
const spark = computed(() => builds.current?.choices.spark ?? {})
const distributor = computed(() => hasDistributor(c.value))
const firingOrder = computed(() => c.value.facts.engine?.firingOrder ?? null)
const channels = computed(() => (firingOrder.value ? coilMap(firingOrder.value, spark.value.coilChannels ?? 'by-cylinder') : []))
const angles = computed(() => (firingOrder.value ? firingAngles(firingOrder.value) : []))
const cylinders = computed(() => [...(firingOrder.value ?? [])].sort((a, b) => a - b).map((n) => ({ value: n, label: String(n) })))
const crossed = reactive<[number, number]>([firingOrder.value?.[0] ?? 1, firingOrder.value?.[1] ?? 2])
const swap = computed(() => leadSwap(firingOrder.value ?? [], crossed[0], crossed[1], sweepOf(c.value).minAdvanceDeg))
const print = () => window.print()
</script>

<template>
  <section class="pad">
    <p v-if="!firingOrder" class="warn">The firing order is not known yet; enter it in Survey.</p>
    <template v-else>
      <option-row
        class="spaced"
        :model-value="spark.coilChannels ?? 'by-cylinder'"
        firm
        label="Coil channels are numbered"
        :options="[
          { value: 'by-cylinder', label: 'channels follow cylinder number' },
          { value: 'by-firing-order', label: 'channels follow firing order' },
        ]"
        @update:model-value="(v) => builds.change('choices.spark.coilChannels', v)"
      />
      <table class="map">
        <thead>
          <tr>
            <th>{{ distributor ? 'Tower, in rotation' : 'Coil channel' }}</th>
            <th>Cylinder</th>
            <th>Fires after number {{ firingOrder[0] }}</th>
            <th>Paired with</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="(row, i) in distributor
              ? angles.map((a, k) => ({
                  channel: k + 1,
                  cylinder: a.cylinder,
                  partner: channels.find((ch) => ch.cylinder === a.cylinder)?.partner ?? null,
                }))
              : channels"
            :key="i"
          >
            <td class="num">{{ row.channel }}</td>
            <td class="num">{{ row.cylinder }}</td>
            <td class="num">{{ angles.find((a) => a.cylinder === row.cylinder)?.deg.toFixed(0) }}°</td>
            <td class="num">{{ row.partner ?? '–' }}</td>
          </tr>
        </tbody>
      </table>
      <h2>What if two leads are crossed?</h2>
      <div class="swap">
        <option-row v-model="crossed[0]" firm label="First lead" :options="cylinders" />
        <span>with</span>
        <option-row v-model="crossed[1]" firm label="Second lead" :options="cylinders" />
      </div>
      <ul v-if="swap.length" data-testid="swap">
        <li v-for="s in swap" :key="s.cylinder">
          {{ s.says }} <span class="soft">({{ Math.abs(s.earlyDeg).toFixed(0) }}° {{ s.earlyDeg > 0 ? 'early' : 'late' }})</span>
        </li>
      </ul>
      <p v-else class="soft">The same lead on its own tower.</p>
      <div class="tags-head">
        <h2>Tags to cut out</h2>
        <n-button size="small" @click="print">Print</n-button>
      </div>
      <ol class="tags" aria-label="Tags for leads and coils">
        <li v-for="(a, k) in angles" :key="a.cylinder">
          <strong class="num">{{ a.cylinder }}</strong>
          <small>{{
            distributor ? `tower ${k + 1} in rotation` : `coil ${channels.find((ch) => ch.cylinder === a.cylinder)?.channel}`
          }}</small>
        </li>
      </ol>
    </template>
  </section>
</template>

<style scoped>
.pad {
  padding-top: 14px;
}
.map {
  border-collapse: collapse;
  min-width: 460px;
}
.map th {
  text-align: left;
  font-weight: 400;
  color: var(--soft);
  padding-right: 24px;
}
.map td {
  font-size: 24px;
  border-bottom: 1px solid var(--hair);
  padding: 4px 24px 4px 0;
}
.spaced {
  margin-bottom: 14px;
}
h2 {
  margin-top: 18px;
}
.swap,
.tags-head {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
}
.tags {
  display: flex;
  flex-wrap: wrap;
  list-style: none;
  padding: 0;
  margin: 8px 0;
}
.tags li {
  border: 1px dashed var(--soft);
  padding: 8px 18px;
  margin: 0 -1px -1px 0;
  text-align: center;
  min-width: 110px;
}
.tags strong {
  display: block;
  font-size: 38px;
  line-height: 1;
}
</style>
