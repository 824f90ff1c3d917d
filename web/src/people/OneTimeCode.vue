<script setup lang="ts">
import type { OneTimeCode } from '@vectum/core'
import { create } from 'qrcode'
import { computed } from 'vue'

/** A one-time code to read out, to type, or to point a tablet's camera at. */
const props = defineProps<{ made: OneTimeCode; whose: string }>()
const spoken = computed(() => `${props.made.code.slice(0, 5)} ${props.made.code.slice(5)}`)
const until = computed(() =>
  new Date(props.made.expiresAt).toLocaleString(undefined, { weekday: 'short', hour: '2-digit', minute: '2-digit' }),
)
const link = computed(() => `${props.made.addresses[0] ?? location.origin}/pair#${props.made.code}`)
/** ISO/IEC 18004, drawn as one path of squares with the quiet zone of four around it */
const picture = computed(() => {
  const { size, data } = create(link.value, { errorCorrectionLevel: 'M' }).modules
  const squares = [...data].map((dark, i) => (dark ? `M${(i % size) + 4} ${Math.floor(i / size) + 4}h1v1h-1z` : ''))
  return { side: size + 8, path: squares.join('') }
})
</script>

<template>
  <div class="boxed made grid grid-cols-[200px_minmax(0,1fr)] gap-5 items-center" data-testid="one-time-code">
    <svg :viewBox="`0 0 ${picture.side} ${picture.side}`" role="img" :aria-label="`Code as a picture, for ${whose}`">
      <rect :width="picture.side" :height="picture.side" fill="#fff" />
      <path :d="picture.path" fill="#000" />
    </svg>
    <div>
      <p class="label">For {{ whose }}, once, until {{ until }}</p>
      <p class="num code">{{ spoken }}</p>
      <p v-if="made.addresses.length">
        Point the tablet’s camera at the picture, or open <strong>{{ made.addresses[0] }}</strong> there and type the code.
      </p>
      <p v-else>
        This server answers on this machine alone, so the code serves another browser here. For tablets: <code>npm run certificate</code> on
        the machine says how.
      </p>
    </div>
  </div>
</template>

<style scoped>
.code {
  font-size: var(--t6);
  line-height: 1;
  letter-spacing: 0.06em;
  white-space: nowrap;
  margin: var(--s2) 0;
}
@media (max-width: 700px) {
  .made {
    grid-template-columns: 1fr;
  }
  .code {
    font-size: var(--t5);
  }
}
</style>
