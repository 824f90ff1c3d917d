<script setup lang="ts">
import { computed } from 'vue'
import { bonnetOf } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { useLanding } from '../../shell/landing.ts'
import { fields, parts } from './bonnet-fields.ts'
import BonnetSection from './BonnetSection.vue'
import { useFitup } from './use-fitup.ts'

/** What stands on the flange against what is free under the bonnet, and which part gives most where it does not shut. */
const { settings, c } = useFitup()
const landing = useLanding()
const stack = computed(() => bonnetOf(c.value))
const mm = (v: number): string => settings.format(v, 'length', 0)
const usual = computed(() => stack.value.rows.filter((r) => !r.told).map((r) => r.label))
</script>

<template>
  <section class="pad">
    <div class="two grid grid-cols-[minmax(300px,1.2fr)_minmax(260px,1fr)] gap-5">
      <bonnet-section :stack="stack" :picked="landing.at.value" />
      <div>
        <p
          class="head-t5"
          :class="{ stop: (stack.leftMm ?? 0) < 0, warn: stack.leftMm !== null && stack.leftMm >= 0 && stack.worstMm! < 0 }"
          data-testid="bonnet-left"
        >
          <template v-if="stack.leftMm === null">How much is free is not measured</template>
          <template v-else-if="stack.leftMm < 0">{{ mm(-stack.leftMm) }} too high</template>
          <template v-else>{{ mm(stack.leftMm) }} left</template>
        </p>
        <p>
          {{ mm(stack.sumMm) }} stand on the flange<template v-if="stack.tiltMm > 0.5">, {{ mm(stack.tiltMm) }} by its leaning</template>,
          give or take {{ mm(stack.spreadMm) }}; the engine lifts {{ mm(stack.liftMm)
          }}<template v-if="stack.freeMm !== null">; {{ mm(stack.freeMm) }} are free</template>.
        </p>
        <p v-if="stack.lower.length" data-testid="bonnet-lower">
          Can be lower: {{ stack.lower.map((p) => `${p.label} by ${mm(p.givesMm)}`).join(', ') }}.
        </p>
        <p v-if="usual.length" class="soft">Usual heights stand for: {{ usual.join(', ') }}.</p>
        <p class="measure">Proof is clay on the highest point and the bonnet let down by hand: it is a card.</p>
      </div>
    </div>
    <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
    <div v-for="p in parts" :key="p.part" :data-at="`choices.fitup.stack.${p.part}`">
      <h3 class="capitalize">{{ p.label }}</h3>
      <div class="fields"><fact-field v-for="f in p.fields" :key="f.path" :field="f" /></div>
    </div>
  </section>
</template>

<style scoped>
@media (max-width: 900px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
