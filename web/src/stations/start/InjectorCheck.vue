<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { MANY_PRIMES, silentInjectors } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'
import { useStartDesk } from './use-start-desk.ts'

/** One injector after the other is opened by the unit; a person listens, and on an open body sees the prime spray. */
const builds = useBuild()
const live = useLive()
const { on, running, hands, say } = useStartDesk()
const count = computed(() => builds.context!.plan.injectors ?? 0)
const heard = ref<Record<number, boolean | undefined>>({})
const spray = ref<boolean>()
const recorded = computed(() => silentInjectors(builds.context!))
const all = computed(() => Array.from({ length: count.value }, (_, i) => i + 1))
const complete = computed(() => count.value > 0 && all.value.every((n) => heard.value[n] !== undefined))

async function open(injector: number): Promise<void> {
  const reply = await say('click', { injector })
  if (reply.ok) heard.value[injector] = (reply.data as { clicks: boolean }).clicks
}
function record(): void {
  builds.record('start.injectors', {
    clicked: all.value.filter((n) => heard.value[n]),
    silent: all.value.filter((n) => heard.value[n] === false),
    ...(spray.value === undefined ? {} : { spraySeen: spray.value }),
    primes: live.primes,
  })
}
</script>

<template>
  <section v-if="count" class="injectors line-t-hair py-2 px-0" aria-label="Injectors">
    <strong class="head text-t3 mr-3">Injectors</strong>
    <span class="soft"
      >{{ recorded === null ? 'listen to each' : recorded.length ? `silent: ${recorded.join(', ')}` : 'all click' }}; primed
      {{ live.primes }} times{{ live.primes >= MANY_PRIMES ? ': the intake is wet, clear it first' : '' }}</span
    >
    <div class="act">
      <span v-for="n in all" :key="n" class="one flex gap-2">
        <n-button v-if="hands" dashed :disabled="!on || running" :data-testid="`click-${n}`" @click="open(n)">Open {{ n }}</n-button>
        <option-row
          v-model="heard[n]"
          :label="`Injector ${n}`"
          :options="[
            { value: true, label: `${n} clicks` },
            { value: false, label: 'silent' },
          ]"
        />
      </span>
      <option-row
        v-model="spray"
        label="Prime spray"
        :options="[
          { value: true, label: 'prime spray seen' },
          { value: false, label: 'no spray' },
        ]"
      />
      <n-button :disabled="!complete" data-testid="record-injectors" @click="record">Record</n-button>
    </div>
  </section>
</template>
