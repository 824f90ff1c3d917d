<script setup lang="ts">
import { computed, reactive } from 'vue'
import { comparePlans, judgeRoute, Route, routeTitles, type RouteVariant } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import { useBuild } from '../../stores/build.ts'
import EffectList from './EffectList.vue'

/** Any two plans side by side; neither is taken by looking. */
const builds = useBuild()
const now = builds.context!.plan
const pair = reactive<[RouteVariant, RouteVariant]>([
  { route: now.route ?? 'throttle-body', timingControl: now.timingControl ?? false, electronicThrottle: now.electronicThrottle ?? false },
  { route: now.route === 'multi-port' ? 'throttle-body' : 'multi-port', timingControl: true, electronicThrottle: false },
])
const effect = computed(() => comparePlans(builds.current!, pair[0], pair[1]))
const judged = computed(() => pair.map((v) => judgeRoute(builds.context!, v)))
const fits = { fits: 'fits', limit: 'to live with', work: 'fits with work', no: 'does not fit' } as const
const routes = Route.options.map((value) => ({ value, label: routeTitles[value] }))
const extras = [
  { value: true, label: 'yes' },
  { value: false, label: 'no' },
]
</script>

<template>
  <details class="compare">
    <summary><h2 class="inline-block mt-2">Compare two plans</h2></summary>
    <div class="two grid grid-cols-[1fr_1fr] gap-5">
      <fieldset v-for="(v, i) in pair" :key="i" class="border-0 p-0 m-0 min-w-0">
        <legend class="head text-t3">{{ i === 0 ? 'From' : 'To' }}: {{ fits[judged[i].fit] }}</legend>
        <option-row
          :model-value="v.route"
          :options="routes"
          firm
          :label="`Plan ${i + 1}, route`"
          @update:model-value="(r) => (v.route = r!)"
        />
        <div class="pairs">
          <span>timing control</span>
          <option-row
            :model-value="v.timingControl"
            :options="extras"
            firm
            :label="`Plan ${i + 1}, timing control`"
            @update:model-value="(t) => (v.timingControl = t!)"
          />
          <span>electronic throttle</span>
          <option-row
            :model-value="v.electronicThrottle"
            :options="extras"
            firm
            :label="`Plan ${i + 1}, electronic throttle`"
            @update:model-value="(t) => (v.electronicThrottle = t!)"
          />
        </div>
      </fieldset>
    </div>
    <effect-list :effect="effect" />
  </details>
</template>

<style scoped>
.compare {
  border-top: 1px solid var(--hair);
  border-bottom: 1px solid var(--hair);
  padding: var(--s1) 0 var(--s3);
  margin: var(--s3) 0;
}
.pairs {
  display: grid;
  grid-template-columns: auto auto;
  gap: var(--s2) var(--s3);
  align-items: center;
  justify-content: start;
  margin-top: var(--s2);
}
@media (max-width: 700px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
