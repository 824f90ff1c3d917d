<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { judgeRoutes, recommend, routeChanges, routeTitles, type Fit, type Route } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import OptionRow from '../../quantity/OptionRow.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import AimRows from './AimRows.vue'
import ComparePlans from './ComparePlans.vue'
import EffectCard from './EffectCard.vue'
import FitMark from './FitMark.vue'
import { chosenFields, weighFields } from './route-fields.ts'
import { useProposal } from './use-proposal.ts'

/** The three routes side by side against the car's demands; what each would change is shown before it is taken. */
const settings = useSettings()
const builds = useBuild()
const plan = computed(() => builds.context!.plan)
const judged = computed(() => judgeRoutes(builds.context!))
const advice = computed(() => recommend(builds.context!))
const rows = computed(() => {
  const ids = [...new Set(judged.value.flatMap((j) => j.reasons.map((r) => r.id)))]
  return ids.map((id) => ({
    id,
    label: judged.value.flatMap((j) => j.reasons).find((r) => r.id === id)!.label,
    cells: judged.value.map((j) => j.reasons.find((r) => r.id === id) ?? null),
  }))
})
const { proposal, propose, take, leave } = useProposal()
const proposeRoute = (route: Route): void =>
  propose(
    routeTitles[route],
    ...Object.entries(routeChanges(plan.value, route)).map(([key, value]): [string, unknown] => [
      `choices.plan.${key}`,
      value ?? undefined,
    ]),
  )
const words: Record<Fit, string> = { fits: 'fits', limit: 'to live with', work: 'fits with work', no: 'does not fit' }
const x = (v: number, most: number) => (100 * Math.min(v, most)) / most
const onOff = [
  { value: true, label: 'yes' },
  { value: false, label: 'no' },
]
</script>

<template>
  <div class="switches">
    <div>
      <span class="label">The unit times the spark</span>
      <option-row
        :model-value="plan.timingControl"
        :options="onOff"
        label="The unit times the spark"
        firm
        @update:model-value="(v) => propose(v ? 'The unit timing the spark' : 'The old advance', ['choices.plan.timingControl', v])"
      />
    </div>
    <div>
      <span class="label">Electronic throttle</span>
      <option-row
        :model-value="plan.electronicThrottle ?? false"
        :options="onOff"
        label="Electronic throttle"
        firm
        @update:model-value="(v) => propose(v ? 'An electronic throttle' : 'A throttle by cable', ['choices.plan.electronicThrottle', v])"
      />
    </div>
    <p class="advice">
      <template v-if="advice.best">
        <strong class="head text-t4"
          >{{ routeTitles[advice.best.route] }}{{ advice.best.timingControl ? ' with' : ' without' }} timing control</strong
        >
        is the least that fits.
      </template>
      <strong v-else class="head text-t4">{{ settings.say(advice.reasons[0]) }}</strong>
    </p>
  </div>
  <div class="scroll">
    <table class="routes">
      <thead>
        <tr>
          <th class="bold-b-ink p-2"></th>
          <th v-for="j in judged" :key="j.route" class="bold-b-ink p-2" scope="col" :class="{ taken: plan.route === j.route }">
            <span class="head title">{{ routeTitles[j.route] }}</span>
            <span class="fit"><fit-mark :fit="j.fit" /> {{ words[j.fit] }}</span>
            <n-button v-if="plan.route !== j.route" size="small" :data-testid="`look-${j.route}`" @click="proposeRoute(j.route)">
              What would it change?
            </n-button>
            <span v-else class="soft">taken</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.id">
          <th scope="row">{{ r.label }}</th>
          <td v-for="(cell, i) in r.cells" :key="i" :class="[cell?.fit, { taken: plan.route === judged[i].route }]">
            <template v-if="cell">
              <fit-mark :fit="cell.fit" /><span>{{ settings.say(cell.text) }}</span>
              <svg v-if="cell.bar" class="bar" viewBox="0 0 100 8" preserveAspectRatio="none" aria-hidden="true">
                <rect class="track" width="100" height="8" />
                <rect class="value" :width="x(cell.bar.value, cell.bar.most)" y="2" height="4" />
                <path class="limit" :d="`M${x(cell.bar.limit, cell.bar.most)} 0V8`" />
              </svg>
            </template>
            <span v-else class="soft">–</span>
          </td>
        </tr>
        <tr class="sum">
          <th scope="row">Parts</th>
          <td v-for="j in judged" :key="j.route" class="num" :class="{ taken: plan.route === j.route }">{{ j.cost.toFixed(0) }}</td>
        </tr>
        <tr class="sum">
          <th scope="row">Hours</th>
          <td v-for="j in judged" :key="j.route" class="num" :class="{ taken: plan.route === j.route }">
            {{ j.hours.low.toFixed(0) }}–{{ j.hours.high.toFixed(0) }} h
          </td>
        </tr>
        <aim-rows :judged="judged" :taken="plan.route" />
        <tr class="sum">
          <th scope="row">Preferences count</th>
          <td v-for="j in judged" :key="j.route" class="num" :class="{ taken: plan.route === j.route }">
            {{ j.preferenceHours.toFixed(0) }} h
          </td>
        </tr>
        <tr class="sum">
          <th scope="row">Weighed, in money</th>
          <td v-for="j in judged" :key="j.route" class="num" :class="{ taken: plan.route === j.route }">
            {{ j.weighed.toFixed(0) }}{{ plan.currency ? ` ${plan.currency}` : '' }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <effect-card v-if="proposal" :proposal="proposal" @take="take" @leave="leave" />
  <section class="advice-list">
    <h2>Why, and what would change it</h2>
    <ul>
      <li v-for="(r, i) in [...advice.reasons, ...advice.wouldChange]" :key="i">{{ settings.say(r) }}</li>
    </ul>
  </section>
  <compare-plans />
  <section>
    <h2>Chosen</h2>
    <div class="fields"><fact-field v-for="f in chosenFields" :key="f.path" :field="f" /></div>
    <h2>What it must be good at, and what matters beside cost</h2>
    <div class="fields"><fact-field v-for="f in weighFields" :key="f.path" :field="f" /></div>
  </section>
</template>

<style scoped>
.switches {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s3) var(--s5);
  align-items: end;
  margin-bottom: var(--s3);
}
.advice {
  margin: 0;
  font-size: var(--t3);
}
.scroll {
  overflow-x: auto;
}
.routes {
  border-collapse: collapse;
  width: 100%;
  min-width: 620px;
  table-layout: fixed;
}
.routes th:first-child {
  width: 112px;
}
th {
  text-align: left;
  vertical-align: top;
  padding: var(--s2) var(--s2) var(--s2) 0;
  font-weight: 600;
  font-size: var(--t2);
}
.title {
  display: block;
  font-size: var(--t4);
}
.fit {
  display: flex;
  gap: var(--s2);
  align-items: center;
  margin-bottom: var(--s1);
}
td {
  border-bottom: 1px solid var(--hair);
  padding: var(--s2) var(--s2);
  vertical-align: top;
  font-size: var(--t2);
  line-height: 1.25;
}
td :deep(.fit-mark) {
  float: left;
  margin: 2px var(--s2) 0 0;
}
tbody th {
  border-bottom: 1px solid var(--hair);
}
.taken {
  background: var(--wash);
}
td.no {
  color: var(--stop);
}
.sum td {
  font-size: var(--t4);
}
.bar {
  display: block;
  width: 100%;
  height: 9px;
  margin-top: var(--s1);
}
.track {
  fill: var(--hair);
  opacity: 0.5;
}
.value {
  fill: var(--data);
}
.limit {
  stroke: var(--ink);
  stroke-width: 1.6;
  vector-effect: non-scaling-stroke;
}
.advice-list {
  margin: var(--s4) 0;
}
</style>
