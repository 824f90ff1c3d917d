<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { balanceOf, checkReading } from '@vectum/core'
import EntryStanding from '../../kit/EntryStanding.vue'
import OptionRow from '../../quantity/OptionRow.vue'
import { useFitup } from './use-fitup.ts'

/** Individual throttles: air through each, which screw goes next and how far, until all breathe alike. */
const { builds, settings, c, onBench, readBench, record, said } = useFitup()
const at = ref<'idle' | 'part'>('idle')
const where = [
  { value: 'idle' as const, label: 'at idle' },
  { value: 'part' as const, label: 'at part throttle' },
]
const n = computed(() => c.value.resolved.cylinders ?? 4)
const all = computed(() => record('fitup.balance'))
const looks = computed(() =>
  all.value.filter((r) => (r.value as { at: string }).at === at.value).map((r) => r.value as { flowsKgH: number[]; turned: number[] }),
)
const balance = computed(() => balanceOf(looks.value))
const flows = computed(() => looks.value.at(-1)?.flowsKgH ?? [])
const most = computed(() => Math.max(1, ...flows.value))
const turnWords = (t: number): string => {
  if (t === 0) return 'leave it'
  const sixteenths = Math.round(Math.abs(t) * 16)
  return `${sixteenths}/16 turn ${t > 0 ? 'out' : 'in'}`
}
const typed = ref('')
const turned = ref(true)
const problem = ref<string | null>(null)
const done = computed(() => (turned.value && balance.value ? balance.value.turns : Array.from({ length: n.value }, () => 0)))
function keep(): void {
  const list = typed.value
    .trim()
    .split(/[\s;/]+/)
    .map((v) => Number(v.replace(',', '.')))
  if (list.length !== n.value || list.some((v) => !Number.isFinite(v))) {
    problem.value = `${n.value} numbers are wanted, throttle by throttle, kg/h`
    return
  }
  problem.value = checkReading('fitup.balance', 'flowsKgH', list)
  if (problem.value) return
  builds.record('fitup.balance', { at: at.value, flowsKgH: list, turned: done.value }, { instrument: 'airflow gauge' })
  typed.value = ''
}
</script>

<template>
  <section class="pad">
    <option-row v-model="at" :options="where" firm label="Where" />
    <template v-if="balance">
      <p class="big" :class="{ clear: balance.even }" data-testid="balance-says">
        {{ balance.even ? 'They breathe alike' : `${(100 * balance.spread).toFixed(0)} % from their mean` }}
      </p>
      <ol class="throttles">
        <li
          v-for="(f, i) in flows"
          :key="i"
          class="grid grid-cols-[28px_minmax(160px,420px)_90px_auto] gap-3 items-center min-h-44px text-t3"
          :data-testid="`throttle-${i + 1}`"
        >
          <span class="num">{{ i + 1 }}</span>
          <span class="bar-box"
            ><span class="fill" :style="{ width: `${(100 * f) / most}%` }" /><span
              class="mean"
              :style="{ left: `${(100 * balance.meanKgH) / most}%` }"
          /></span>
          <span class="num">{{ settings.format(f, 'airFlow', 1) }}</span>
          <strong :class="{ soft: balance.turns[i] === 0 }">{{ turnWords(balance.turns[i]) }}</strong>
        </li>
      </ol>
      <p class="soft">
        {{
          balance.gain.looks
            ? `By what the screws of this car did so far (${balance.gain.looks} ${balance.gain.looks === 1 ? 'turning' : 'turnings'}): a turn is ${(100 * balance.gain.own).toFixed(0)} % of the mean, ${(100 * balance.gain.beside).toFixed(0)} % to the one on the same shaft.`
            : 'By a usual screw; what this one does is learned from the next look.'
        }}
      </p>
    </template>
    <p v-else class="empty">Read each throttle with the gauge, all within a minute, warm, fan off.</p>
    <div class="row">
      <n-input
        v-model:value="typed"
        size="large"
        :placeholder="Array.from({ length: n }, () => '5.4').join('  ')"
        :input-props="{ 'aria-label': 'Air through each throttle, kg/h' }"
      />
      <label v-if="balance && !balance.even"><input v-model="turned" type="checkbox" data-testid="as-said" /> turned as said above</label>
      <n-button size="large" type="primary" data-testid="balance-record" @click="keep">Record</n-button>
      <n-button
        v-if="onBench"
        size="large"
        dashed
        data-testid="bench-balance"
        @click="readBench('fitup.balance', { balanceAt: at, turned: done })"
        >Bench: {{ balance && !balance.even ? 'turn them, and read' : 'airflow gauge' }}</n-button
      >
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <ul v-if="all.length" class="entries">
      <li v-for="r in all" :key="r.id">{{ said('fitup.balance', r.value) }} <entry-standing :reading-id="r.id" /></li>
    </ul>
  </section>
</template>

<style scoped>
.big {
  font: 600 var(--t5) var(--head);
}
.throttles {
  list-style: none;
  padding: 0;
}
.bar-box {
  position: relative;
  height: 24px;
  background: var(--wash);
}
.fill {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--data);
}
.mean {
  position: absolute;
  top: -6px;
  bottom: -6px;
  border-left: 3px solid var(--ink);
}
.row > :first-child {
  max-width: 420px;
}
</style>
