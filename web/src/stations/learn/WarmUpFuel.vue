<script setup lang="ts">
import { NButton, useMessage } from 'naive-ui'
import { computed } from 'vue'
import { applyWarmUp, type WarmUpJudged } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { useJudged } from './use-judged.ts'
import type { Solved } from './use-learning.ts'
import { useNewVersion } from './use-new-version.ts'

/** What the fuel for a cold engine does on its way to warm, band of coolant by band, and a version with as much as is wanted. */
const props = defineProps<{ solved: Pick<Solved, 'logId' | 'warmUp' | 'tune' | 'result'>; logName: string; fits: boolean; busy: boolean }>()
const emit = defineEmits<{ drive: [fromC: number] }>()
const BENCH_FROM_C = 10
const builds = useBuild()
const settings = useSettings()
const message = useMessage()
const judged = useJudged<WarmUpJudged>(
  () => props.solved.logId,
  () => props.solved.warmUp(),
)
const says: Record<WarmUpJudged['says'], string> = {
  'no-cold': 'No cold engine in it',
  'map-first': 'The warm engine comes first',
  unsure: 'Too little of any temperature to tell',
  right: 'As much as a cold engine wants',
  off: 'Not what a cold engine wants',
}
type Band = WarmUpJudged['bands'][number]
const bandSays: Record<Band['says'], string> = { unsure: 'too little to tell', lean: 'too little', rich: 'too much', right: 'right' }
const degrees = (c: number): string => settings.format(c, 'temperature')
const rehearsing = computed(() => builds.view === 'rehearsal')
const given = computed(() => props.solved.tune?.document.parameters.warmupPct ?? [])
const next = computed(() => (props.fits && props.solved.result.sound ? (judged.value?.next ?? null) : null))
const { busy: storing, problem, store: storeVersion } = useNewVersion()
async function store(): Promise<void> {
  const { tune } = props.solved
  const document = applyWarmUp(tune!.document, next.value!, `learned from the warm-up in ${props.logName}`)
  const made = await storeVersion(async () => ({ name: 'Fuel for a cold engine', origin: 'edited', parentId: tune!.id, document }))
  if (made) message.success(`Version ${made.number} stored. Start it cold on that one, and drive the same road.`)
}

const W = 720
const H = 240
const LEFT = 64
const FOOT = 28
const RIGHT = 34
const bands = computed(() => judged.value?.bands ?? [])
const fromC = computed(() => Math.min(-10, ...bands.value.map((b) => b.fromC)))
const toC = computed(() => Math.max(80, ...bands.value.map((b) => b.toC)))
const most = computed(() => {
  const shown = [...given.value, ...(next.value ?? [])].filter(([c]) => c >= fromC.value).map(([, pct]) => pct)
  return Math.max(10, ...shown, ...bands.value.map((b) => b.wantedPct)) * 1.1
})
const step = computed(() => (most.value > 60 ? 40 : most.value > 30 ? 20 : 10))
const levels = computed(() => Array.from({ length: Math.floor(most.value / step.value) + 1 }, (_, k) => k * step.value))
const x = (c: number): number => LEFT + ((c - fromC.value) / (toC.value - fromC.value)) * (W - LEFT - RIGHT)
const y = (pct: number): number => (H - FOOT) * (1 - Math.max(0, pct) / most.value)
const middle = (b: Band): number => (b.fromC + b.toC) / 2
const line = (curve: readonly (readonly [number, number])[]): string =>
  [...curve, [toC.value, curve.at(-1)?.[1] ?? 0] as const].map(([c, pct]) => `${x(c).toFixed(1)},${y(pct).toFixed(1)}`).join(' ')
const ticks = computed(() => [0, 20, 40, 60, 80].filter((c) => c >= fromC.value && c <= toC.value))
</script>

<template>
  <details v-if="judged" data-at="warm-up-fuel" data-testid="warm-up-fuel" :open="judged.says === 'off'">
    <summary>
      <strong class="head">Fuel while cold</strong>{{ says[judged.says] }}
      <span v-if="bands.length" class="soft">{{ degrees(bands[0].fromC) }} to {{ degrees(bands.at(-1)!.toC) }}</span>
    </summary>
    <p v-if="judged.says === 'map-first'">
      Where the engine was while cold it was not driven warm: nobody can tell what the map lacks there from what a cold engine wants. Drive
      the same road on until it has been warm for some minutes.
    </p>
    <p v-else-if="judged.says === 'no-cold' || judged.says === 'unsure'" class="measure">
      Start after a night with the log running. Half a minute of idle, then a quiet road at steady speeds until the engine is warm, and the
      same road once more warm. A cold engine is held against the warm one at the same places.
    </p>
    <figure v-if="bands.length">
      <svg
        class="w-full"
        :viewBox="`0 0 ${W} ${H}`"
        role="img"
        aria-label="Fuel for a cold engine over coolant: given, wanted, and the curve that is offered"
      >
        <line :x1="LEFT" :x2="W - RIGHT" :y1="y(0)" :y2="y(0)" class="pen-axis" />
        <text v-for="pct in levels" :key="pct" :x="LEFT - 8" :y="y(pct) + 6" text-anchor="end">+{{ pct }} %</text>
        <text v-for="c in ticks" :key="c" :x="x(c)" :y="H - 6" text-anchor="middle">{{ degrees(c) }}</text>
        <polyline :points="line(given)" class="pen-beside" />
        <polyline v-if="next" :points="line(next)" class="pen" />
        <g v-for="b in bands" :key="b.fromC" :class="b.says">
          <line :x1="x(middle(b))" :x2="x(middle(b))" :y1="y(b.givenPct)" :y2="y(b.wantedPct)" class="pen-axis" />
          <circle class="fill-clear" :cx="x(middle(b))" :cy="y(b.wantedPct)" r="8" />
        </g>
      </svg>
      <figcaption>
        Dashed: what the tune gives. Dots: what would put the mixture on its target; hollow ones are too few seconds to tell.
        <template v-if="next">Line: the curve offered.</template>
      </figcaption>
    </figure>
    <table v-if="bands.length" class="plain" data-testid="warm-up-bands">
      <thead>
        <tr>
          <th>Coolant</th>
          <th>Seen for</th>
          <th>Mixture</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="b in bands" :key="b.fromC">
          <td>{{ degrees(b.fromC) }} to {{ degrees(b.toC) }}</td>
          <td>{{ b.seconds.toFixed(0) }} s</td>
          <td>
            {{ Math.abs(b.missingPct).toFixed(1) }}<template v-if="Number.isFinite(b.errorPct)"> ± {{ b.errorPct.toFixed(1) }}</template> %
            {{ b.missingPct > 0 ? 'leaner' : 'richer' }} than its target
          </td>
          <td :class="{ warn: b.says === 'lean' || b.says === 'rich', clear: b.says === 'right', soft: b.says === 'unsure' }">
            {{ bandSays[b.says] }}
          </td>
        </tr>
      </tbody>
    </table>
    <div class="act">
      <template v-if="next">
        <n-button type="primary" size="large" :loading="storing" data-testid="warm-up-accept" @click="store"
          >A version with this curve</n-button
        >
        <span class="num" data-testid="warm-up-next"
          ><template v-for="([c, pct], i) in next" :key="c"
            ><template v-if="pct !== given[i][1]">{{ degrees(c) }}: +{{ pct }} % for +{{ given[i][1] }} %. </template></template
          ></span
        >
      </template>
      <span v-else-if="judged.says === 'off' && !solved.result.sound" class="soft"
        >Shut until the test above has settled what is wrong.</span
      >
      <span v-else-if="judged.says === 'off' && !fits" class="soft"
        >This log was driven on another tune; start it cold on the one now in the car.</span
      >
      <n-button v-if="rehearsing" dashed size="large" :disabled="busy" data-testid="bench-cold" @click="emit('drive', BENCH_FROM_C)"
        >Bench: a start at {{ degrees(BENCH_FROM_C) }}</n-button
      >
      <span v-if="problem" class="stop" role="alert">{{ problem }}</span>
    </div>
  </details>
</template>

<style scoped>
.lean circle,
.rich circle {
  fill: var(--warn);
}
.unsure circle {
  fill: var(--paper);
  stroke: var(--soft);
  stroke-width: 2;
}
</style>
