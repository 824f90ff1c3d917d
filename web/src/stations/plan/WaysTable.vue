<script setup lang="ts">
import { computed } from 'vue'
import { layoutChanges, lineChanges, schoolOf, ways, wayTaken, type FuelLayout, type Way } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import EffectCard from './EffectCard.vue'
import { useProposal } from './use-proposal.ts'

/** The questions on which practitioners differ: both schools, the standard and why, and what is taken here. */
const builds = useBuild()
const { proposal, propose, take: takeIt, leave } = useProposal()
const list = computed(() => ways.map((way) => ({ way, standard: way.standard(builds.context!), ...wayTaken(builds.context!, way) })))
function take(way: Way, key: 'a' | 'b' | 'c', isOn: boolean): void {
  const option = way.options.find((o) => o.key === key)!
  const { fuel, plan } = builds.context!
  if (way.id === 'supply' && !isOn)
    return propose(
      `${way.question}: ${option.title}`,
      ...layoutChanges(fuel, option.value as FuelLayout, plan.fuelPressureKpa, schoolOf(builds.context!, 'lines') === 'b'),
    )
  const laid = way.id === 'lines' ? lineChanges(fuel, (isOn ? way.standard(builds.context!) : key) === 'b') : []
  propose(`${way.question}: ${option.title}`, ...laid, [
    way.path ?? `choices.plan.ways.${way.id}`,
    isOn ? undefined : way.path ? option.value : key,
  ])
}
</script>

<template>
  <p class="soft m-0 text-t1">Good people do these differently. The standard is taken until you choose; the reason stands beside it.</p>
  <article v-for="{ way, key, chosen, standard } in list" :key="way.id">
    <h3>{{ way.question }}</h3>
    <div class="options flex" role="radiogroup" :aria-label="way.question">
      <button
        v-for="o in way.options"
        :key="o.key"
        role="radio"
        :aria-checked="key === o.key"
        :class="{ on: chosen && key === o.key, standard: !chosen && key === o.key }"
        @click="take(way, o.key, chosen && key === o.key)"
      >
        <strong class="head block text-t3">{{ o.title }}</strong>
        <small>{{ o.says }}{{ o.key === standard ? ' · standard' : '' }}</small>
      </button>
    </div>
    <p class="soft m-0 text-t1">{{ way.why }}</p>
  </article>
  <effect-card v-if="proposal" :proposal="proposal" @take="takeIt" @leave="leave" />
</template>

<style scoped>
article {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr) 190px;
  gap: var(--s4);
  align-items: center;
  border-bottom: 1px solid var(--hair);
  padding: var(--s2) 0;
}
button {
  flex: 1;
  min-height: 60px;
  text-align: left;
  padding: var(--s2) var(--s3);
  border: 1px solid var(--soft);
  margin-right: -1px;
  background: var(--sheet);
  color: var(--ink);
  cursor: pointer;
}
small {
  font: var(--t1)/1.2 var(--text);
}
.standard {
  box-shadow: inset 0 0 0 2px var(--ink);
}
.on {
  background: var(--ink);
  color: var(--onInk);
}
@media (max-width: 700px) {
  article {
    grid-template-columns: 1fr;
  }
}
</style>
