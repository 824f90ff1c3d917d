<script setup lang="ts">
import { computed } from 'vue'
import { boxesFor, type BoxId, boxJudged, boxWords } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { pick, quantity, yesNo } from '../../quantity/field.ts'
import { useFitup } from './use-fitup.ts'

/** Where control unit, coil and ignition box stand, and what is wrong with it; leads by the way that Wiring laid. */
const { settings, c } = useFitup()
const boxes = computed(() => boxesFor(c.value).map((id) => ({ ...boxJudged(c.value, id), fields: fieldsOf(id) })))
function fieldsOf(id: BoxId) {
  const base = `choices.fitup.boxes.${id}`
  return [
    pick(`${base}.plugs`, [
      ['down', 'down'],
      ['sideways', 'sideways'],
      ['up', 'up'],
    ]),
    yesNo(`${base}.dry`, 'in rain, in a wash'),
    yesNo(`${base}.rubber`),
    quantity(`${base}.hottestC`, 'temperature', 'after a hot stop'),
    yesNo(`${base}.access`, 'with the panel in'),
    quantity(`${base}.holeMm`, 'length'),
    quantity(`${base}.plugMm`, 'length'),
    quantity(`${base}.leadsM`, 'distance'),
  ].map((f) => ({ ...f, label: f.label.split(', ')[0] }))
}
</script>

<template>
  <section class="pad">
    <div v-for="b in boxes" :key="b.id" :data-at="b.id">
      <h2>{{ boxWords[b.id] }}</h2>
      <p v-if="b.reachM !== null" :data-testid="`reach-${b.id}`">
        The farthest of its leads goes {{ settings.format(b.reachM, 'distance') }} by the harness as it is laid.
      </p>
      <ul v-if="b.problems.length">
        <li v-for="p in b.problems" :key="p" class="warn">{{ p }}</li>
      </ul>
      <div class="fields"><fact-field v-for="f in b.fields" :key="f.path" :field="f" /></div>
    </div>
  </section>
</template>

<style scoped>
h2::first-letter {
  text-transform: uppercase;
}
</style>
