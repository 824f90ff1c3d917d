<script setup lang="ts">
import { computed } from 'vue'
import { relayInstead, type StoredReading } from '@vectum/core'

/** Where no wire is good: a relay that takes the unit's supply from the battery, triggered by a wire that is live while cranking. */
const props = defineProps<{ readings: StoredReading<'wiring.keyed'>[] }>()
const instead = computed(() => relayInstead(props.readings.map((r) => r.value)))
const trigger = computed(() => instead.value?.trigger ?? null)
</script>

<template>
  <figure v-if="instead" class="my-3 mx-0" data-testid="relay-scheme">
    <svg class="w-full max-w-620px head-t1" viewBox="0 0 620 150" role="img" aria-label="Relay from the battery, triggered by a keyed wire">
      <g class="line stroke-ink stroke-2.5 fill-none">
        <path d="M70 40 H190 M230 40 H330 M390 40 H520" />
        <path d="M70 115 H330 M390 115 H520" />
        <path d="M360 52 V100" stroke-dasharray="4 5" />
      </g>
      <rect x="190" y="30" width="40" height="20" class="box fill-sheet stroke-ink stroke-2" />
      <rect x="330" y="100" width="60" height="30" class="box fill-sheet stroke-ink stroke-2" />
      <path d="M330 40 L384 26" class="line stroke-ink stroke-2.5 fill-none" />
      <circle cx="330" cy="40" r="4" />
      <circle cx="390" cy="40" r="4" />
      <text x="4" y="36">battery</text>
      <text x="4" y="55">plus</text>
      <text x="190" y="22">fuse</text>
      <text x="528" y="45">unit, keyed pin</text>
      <text x="4" y="111">{{ trigger ?? 'a wire live while cranking' }}</text>
      <text x="340" y="146">coil</text>
      <text x="528" y="120">ground</text>
      <text x="336" y="18">contacts</text>
    </svg>
    <figcaption>
      No wire that was tried is good. A relay’s contacts carry the supply from the battery, fused there; its coil asks little of
      {{
        trigger
          ? `“${trigger}”, which is weak but live while cranking`
          : 'a wire that is live with the key on and while cranking: try more'
      }}.
    </figcaption>
  </figure>
</template>

<style scoped>
text,
circle {
  fill: var(--ink);
}
</style>
