<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import {
  CoreError,
  partsCost,
  partsFromCsv,
  partsList,
  partsToCsv,
  PartStatus,
  priceBook,
  priceOf,
  type Part,
  type PriceId,
} from '@vectum/core'
import CellInput from '../../quantity/CellInput.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** The parts list from the choices: specification, place, status, price; as CSV both ways. */
const settings = useSettings()
const builds = useBuild()
const parts = computed(() => partsList(builds.context!))
const cost = computed(() => partsCost(parts.value))
const money = computed(() => (builds.context!.plan.currency ? `, ${builds.context!.plan.currency}` : ''))
const problem = ref<string | null>(null)
const file = ref<HTMLInputElement>()
const book = ref(false)
const words = { 'to-buy': 'to buy', ordered: 'ordered', have: 'have', fitted: 'fitted' } as const
const path = (p: Part, field: string) => `choices.plan.parts.${p.id}.${field}`

function setNumber(what: string, text: string, low: number, high: number, done: (v: number) => void): void {
  const value = Number(text.trim().replace(',', '.'))
  if (text.trim() === '' || !Number.isFinite(value) || value < low || value > high)
    problem.value = `${what} must be a number from ${low} to ${high}; "${text}" is not taken`
  else {
    problem.value = null
    done(value)
  }
}
function save(): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([partsToCsv(parts.value)], { type: 'text/csv' }))
  link.download = 'parts.csv'
  link.click()
  URL.revokeObjectURL(link.href)
}
async function bring(): Promise<void> {
  const text = await file.value!.files![0].text()
  file.value!.value = ''
  try {
    const changes = partsFromCsv(text, parts.value)
    for (const [id, entry] of Object.entries(changes))
      for (const [field, value] of Object.entries(entry)) builds.change(`choices.plan.parts.${id}.${field}`, value)
    problem.value = null
  } catch (e) {
    if (!(e instanceof CoreError)) throw e
    problem.value = e.message
  }
}
</script>

<template>
  <div class="bar">
    <p class="m-0">
      <strong class="num big">{{ cost.total.toFixed(0) }}</strong>{{ money }} in all,
      <strong class="num big">{{ cost.toBuy.toFixed(0) }}</strong> still to buy
      <span class="soft">({{ parts.length }} lines; made-up prices until you enter yours)</span>
    </p>
    <span class="tools">
      <n-button @click="save">CSV out</n-button>
      <n-button @click="file!.click()">CSV in</n-button>
      <n-button :aria-expanded="book" @click="book = !book">Price book</n-button>
    </span>
    <input
      ref="file"
      type="file"
      accept=".csv,text/csv"
      class="visually-hidden"
      tabindex="-1"
      aria-label="Parts list as CSV"
      data-testid="parts-in"
      @change="bring"
    />
  </div>
  <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
  <p v-if="!parts.length" class="soft">Choose a route first; the list follows from it.</p>
  <table v-else-if="!book">
    <thead>
      <tr>
        <th>Part</th>
        <th>Where</th>
        <th class="r">Quantity</th>
        <th class="r">Price each{{ money }}</th>
        <th>Status</th>
        <th>Arrives</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="p in parts" :key="p.id" :class="p.status">
        <td>
          <strong class="head text-t3">{{ p.name }}</strong> <small class="block text-soft text-t1">{{ settings.say(p.said) }}</small>
        </td>
        <td>{{ p.used }}</td>
        <td class="r">
          <cell-input
            numeric
            :value="p.quantity"
            :label="`Quantity, ${p.name}`"
            @commit="(t) => setNumber('Quantity', t, 0, 1000, (v) => builds.change(path(p, 'quantity'), v))"
          />
          {{ p.unit }}
        </td>
        <td class="r">
          <cell-input
            numeric
            :value="p.price"
            :label="`Price, ${p.name}`"
            @commit="(t) => setNumber('Price', t, 0, 100000, (v) => builds.change(path(p, 'price'), v))"
          />
        </td>
        <td>
          <select
            :value="p.status"
            :aria-label="`Status, ${p.name}`"
            @change="builds.change(path(p, 'status'), ($event.target as HTMLSelectElement).value)"
          >
            <option v-for="s in PartStatus.options" :key="s" class="bg-sheet" :value="s">{{ words[s] }}</option>
          </select>
        </td>
        <td>
          <input
            v-if="p.status === 'ordered'"
            type="date"
            class="w-138px text-t2"
            :value="p.arrives ?? ''"
            :aria-label="`Arrives, ${p.name}`"
            @change="builds.change(path(p, 'arrives'), ($event.target as HTMLInputElement).value || undefined)"
          />
        </td>
      </tr>
    </tbody>
  </table>
  <div v-else class="book">
    <label v-for="(_, id) in priceBook" :key="id">
      <span>{{ id.replace(/-/g, ' ') }}</span>
      <cell-input
        numeric
        :value="priceOf(builds.context!.plan, id as PriceId)"
        :label="`Price book, ${id.replace(/-/g, ' ')}`"
        @commit="(t) => setNumber('Price', t, 0, 100000, (v) => builds.change(`choices.plan.prices.${id}`, v))"
      />
    </label>
  </div>
</template>

<style scoped>
.big {
  font-size: var(--t5);
}
.tools {
  display: flex;
  gap: var(--s2);
}
td {
  border-bottom: 1px solid var(--hair);
  padding: var(--s1) var(--s2) var(--s1) 0;
  font-size: var(--t2);
  line-height: 1.2;
}
.r {
  text-align: right;
  white-space: nowrap;
}
input,
select {
  min-height: 44px;
  border: 1px solid var(--hair);
  background: none;
  color: var(--ink);
  font: 600 var(--t3) var(--head);
  padding: 0 var(--s2);
}
td .cell {
  width: 76px;
  text-align: right;
}
.have td,
.fitted td {
  color: var(--soft);
}
.book {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: var(--s2) var(--s5);
  margin-top: var(--s3);
}
.book label {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: var(--s2);
}
.book .cell {
  width: 86px;
  text-align: right;
}
</style>
