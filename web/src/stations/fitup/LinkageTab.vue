<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { drawingOf, linkageOf, pedalCurveOf, remedies, remedyChoices } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { linkageFields } from './linkage-fields.ts'
import LinkageDrawing from './LinkageDrawing.vue'
import PedalAir from './PedalAir.vue'
import { useFitup } from './use-fitup.ts'

/** Pedal to plate: the linkage moved by its handles, the air it gives, and what each remedy of a jump would make of it. */
const { c, fitup, held, change } = useFitup()
const linkage = computed(() => linkageOf(c.value))
const curve = computed(() => pedalCurveOf(c.value))
const pedalPct = ref(10)
const fields = computed(() =>
  linkageFields(
    linkage.value.kind,
    linkage.value.cam,
    fitup.value.linkage?.staged === true,
    ['cable', 'throttle-valve'].includes(c.value.facts.gearing?.kickDown ?? ''),
  ),
)
const compared = computed(() => remedies(linkage.value, drawingOf(c.value)))
const percent = (share: number): string => `${(100 * share).toFixed(0)} %`
const leverPath = computed(() => (linkage.value.kind === 'rod' ? 'rod.leverMm' : 'leverMm'))
const holdArm = (armMm: number): void => void (held.value = { linkage: { pedal: { armMm } } })
const holdLever = (mm: number): void =>
  void (held.value = { linkage: linkage.value.kind === 'rod' ? { rod: { leverMm: mm } } : { leverMm: mm } })
function keep(): void {
  const { linkage: over } = (held.value ?? {}) as { linkage?: { pedal?: { armMm: number } } }
  if (over?.pedal) change('linkage.pedal.armMm', linkage.value.pedal.armMm)
  else if (over) change(`linkage.${leverPath.value}`, linkage.value.kind === 'rod' ? linkage.value.rod.leverMm : linkage.value.leverMm)
  held.value = null
}
function take(id: string): void {
  const told = remedyChoices(
    linkage.value,
    compared.value.find((r) => r.id === id)!,
  )
  for (const [field, value] of Object.entries(told))
    if (typeof value === 'object') for (const [inner, v] of Object.entries(value)) change(`linkage.${field}.${inner}`, v)
    else change(`linkage.${field}`, value)
}
</script>

<template>
  <section class="pad">
    <div class="two grid grid-cols-[minmax(300px,1.1fr)_minmax(280px,1fr)] gap-5">
      <linkage-drawing :linkage="linkage" :pedal="pedalPct / 100" @arm="holdArm" @lever="holdLever" @done="keep" />
      <div>
        <pedal-air :points="curve.points" :at="pedalPct / 100" />
        <label class="block max-w-560px"
          >Pedal {{ pedalPct }} %<input
            v-model.number="pedalPct"
            class="w-full min-h-44px"
            type="range"
            min="0"
            max="100"
            aria-label="Pedal, %"
            data-testid="pedal-slider"
        /></label>
        <p class="head-t4" data-testid="tip-in">
          {{
            curve.locksAt === null
              ? `First tenth: ${percent(curve.tipInAir)} of the air`
              : `It locks at ${percent(curve.locksAt)} of the pedal`
          }}
        </p>
        <p data-testid="full-throttle">
          <template v-if="curve.fullDeg !== null">Pedal on the carpet: plate at {{ curve.fullDeg.toFixed(0) }}°.</template>
          <template v-if="curve.leftOver > 0"> {{ percent(curve.leftOver) }} of the pedal is left when it is wide open.</template>
        </p>
        <p v-if="!fitup.linkage" class="soft">Drawn with usual measures: take a rule to the car and tell its own.</p>
      </div>
    </div>
    <h2>If it jumps</h2>
    <div class="overflow-x-auto">
      <table class="remedies border-collapse" data-testid="remedies">
        <thead>
          <tr>
            <th>Change</th>
            <th class="n">Air in the first tenth</th>
            <th class="n">Plate, full</th>
            <th class="n">Force at the foot</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in compared" :key="r.id">
            <th scope="row">{{ r.what }}</th>
            <td class="n">{{ percent(r.tipInAir) }}</td>
            <td class="n" :class="{ warn: !r.reachesFull }">{{ r.fullDeg === null ? 'locks' : `${r.fullDeg.toFixed(0)}°` }}</td>
            <td class="n">{{ r.force === null ? 'by the spring' : `× ${r.force.toFixed(2)}` }}</td>
            <td>
              <n-button v-if="r.id !== 'as-is' && r.id !== 'preload'" size="small" :data-testid="`take-${r.id}`" @click="take(r.id)"
                >Try it</n-button
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <h2>Its measures</h2>
    <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
  </section>
</template>

<style scoped>
.remedies th,
.remedies td {
  text-align: left;
  padding: var(--s1) var(--s4) var(--s1) 0;
  border-bottom: 1px solid var(--hair);
}
.remedies .n {
  text-align: right;
  font-family: var(--head);
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
