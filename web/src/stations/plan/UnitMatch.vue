<script setup lang="ts">
import { computed } from 'vue'
import { neededFunctions } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { pick, quantity as q, words, yesNo } from '../../quantity/field.ts'
import { useBuild } from '../../stores/build.ts'
import FitMark from './FitMark.vue'
import PairList from './PairList.vue'

/** What this car asks of a control unit, against a candidate as its own sheet describes it. */
const builds = useBuild()
const needed = computed(() => neededFunctions(builds.context!).map((f) => ({ ...f, answer: f.offered(builds.context!.plan.unit ?? {}) })))
const at = (name: string) => `choices.plan.unit.${name}`
const fields = [
  words(at('name')),
  q(at('injectorOutputs'), 'count'),
  q(at('coilOutputs'), 'count'),
  yesNo(at('phased')),
  yesNo(at('timingControl')),
  yesNo(at('magneticInput')),
  yesNo(at('hallInput')),
  yesNo(at('camInput')),
  yesNo(at('throttleLoad')),
  yesNo(at('electronicThrottle')),
  yesNo(at('boost')),
  yesNo(at('fanOutput')),
  q(at('spareOutputs'), 'count'),
  yesNo(at('logging')),
  yesNo(at('support')),
  pick('choices.plan.supply', [
    ['matched-set', 'a matched set'],
    ['separate', 'separate parts'],
  ]),
]
</script>

<template>
  <div class="match grid grid-cols-[240px_minmax(0,1fr)] gap-5">
    <section aria-label="What this car needs">
      <h2>This car needs</h2>
      <ul class="list-none my-2 mx-0 p-0">
        <li v-for="f in needed" :key="f.id" class="flex gap-3 items-center py-2 px-0 dots-b-hair">
          <fit-mark :fit="f.answer === undefined ? 'open' : f.answer ? 'fits' : 'no'" />
          <span
            ><strong class="head block text-t3">{{ f.label }}</strong
            ><small class="soft"
              >{{ f.why }}{{ f.answer === undefined ? '; the sheet has not been asked' : f.answer ? '' : '; missing' }}</small
            ></span
          >
        </li>
      </ul>
    </section>
    <section aria-label="The candidate and its neighbours">
      <h2>The candidate, from its sheet</h2>
      <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
      <pair-list />
    </section>
  </div>
</template>

<style scoped>
@media (max-width: 700px) {
  .match {
    grid-template-columns: 1fr;
  }
}
</style>
