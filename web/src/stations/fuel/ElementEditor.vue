<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import {
  boreTable,
  checkFact,
  elementFlow,
  elementLabel,
  jointWays,
  type Branch,
  type Fluid,
  type FuelElement,
  type SectionId,
} from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import QuantityField from '../../quantity/QuantityField.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** The element that was tapped on the drawing: what it is, what it takes in the state shown, and what can be changed of it. */
const props = defineProps<{ section: SectionId; index: number; branch: Branch | null; fluid: Fluid | null }>()
const emit = defineEmits<{ select: [key: string | null] }>()
const builds = useBuild()
const settings = useSettings()
const list = computed<FuelElement[]>(() => builds.context!.fuel[props.section] ?? [])
const element = computed(() => list.value[props.index])
const path = computed(() => `choices.fuel.${props.section}`)

function put(next: FuelElement[]): void {
  if (checkFact(path.value, next) === null) builds.change(path.value, next)
}
const merged = (patch: object): FuelElement[] =>
  list.value.map((e, i) => (i === props.index ? (JSON.parse(JSON.stringify({ ...e, ...patch })) as FuelElement) : e))
const set = (patch: object): void => put(merged(patch))
/** a number is checked in its place, so that the refusal names bound and unit */
const check = (field: string) => (value: number | undefined) =>
  value === undefined ? 'must be given' : checkFact(path.value, merged({ [field]: value }))
const at = <T,>(field: string): T | undefined => (element.value as unknown as Record<string, T | undefined>)[field]

const freshId = (kind: string): string => {
  const ids = new Set(list.value.map((e) => e.id))
  for (let n = 1; ; n++) if (!ids.has(`${kind}-${n}`)) return `${kind}-${n}`
}
function add(kind: FuelElement['kind']): void {
  const place = element.value?.place ?? 'under'
  const boreMm = list.value.reduce((b, e) => (e.kind === 'line' ? e.boreMm : b), 8)
  const id = freshId(kind)
  const fresh: Record<FuelElement['kind'], FuelElement> = {
    line: { id, kind: 'line', material: 'hard', boreMm, lengthM: 1, place },
    fitting: { id, kind: 'fitting', fitting: 'union', boreMm, count: 1, place },
    filter: { id, kind: 'filter', micron: 10, dropKpa: 8, atLph: 200, body: 'metal', place },
    'check-valve': { id, kind: 'check-valve', openingKpa: 3, dropKpa: 4, atLph: 200, place },
  }
  put([...list.value.slice(0, props.index + 1), fresh[kind], ...list.value.slice(props.index + 1)])
  emit('select', `${props.section}:${id}`)
}
function shift(by: number): void {
  const to = props.index + by
  if (to < 0 || to >= list.value.length) return
  const next = [...list.value]
  const [moved] = next.splice(props.index, 1)
  next.splice(to, 0, moved)
  put(next)
}
function remove(): void {
  put(list.value.filter((_, i) => i !== props.index))
  emit('select', null)
}
const opts = <T extends string>(...pairs: [T, string][]) => pairs.map(([value, label]) => ({ value, label }))
const places = opts(['tank', 'in the tank'], ['under', 'under the car'], ['boot', 'boot'], ['cabin', 'cabin'], ['bay', 'engine bay'])
const joints = Object.entries(jointWays).map(([value, way]) => ({ value, label: way.label }))
const yes = [
  { value: true, label: 'yes' },
  { value: false, label: 'no' },
]
const bores = computed(() => boreTable.filter((b) => element.value?.kind !== 'line' || b.material === element.value.material))
/** what the neighbouring sizes would take at this flow */
const tried = computed(() =>
  props.branch && props.fluid && element.value?.kind === 'line'
    ? bores.value.map((b) => ({
        ...b,
        ...elementFlow({ ...(element.value as FuelElement & { kind: 'line' }), boreMm: b.boreMm }, props.branch!.flowLph, props.fluid!),
      }))
    : [],
)
</script>

<template>
  <section v-if="element" class="editor" :aria-label="`${elementLabel(element)}, ${section}`">
    <div class="head-row">
      <h2>
        {{ elementLabel(element) }} <small class="soft">{{ section }}, {{ element.id }}</small>
      </h2>
      <span v-if="branch" class="num reading">
        {{ settings.format(branch.flowLph, 'pumpFlow') }}, takes {{ settings.format(branch.dropKpa, 'pressure', 2)
        }}<template v-if="branch.velocityMS !== null">, {{ settings.format(branch.velocityMS, 'velocity') }}</template>
      </span>
    </div>
    <div class="fields">
      <template v-if="element.kind === 'line'">
        <div>
          <span class="label">Made of</span>
          <option-row
            :model-value="element.material"
            firm
            label="Made of"
            :options="opts(['hard', 'hard line'], ['hose', 'hose'])"
            @update:model-value="(v) => set({ material: v, hose: v === 'hose' ? 'injection' : undefined })"
          />
        </div>
        <div v-if="element.material === 'hose'" class="wide">
          <span class="label">Hose</span>
          <option-row
            :model-value="element.hose"
            firm
            label="Hose"
            :options="opts(['injection', 'injection rated'], ['braided', 'braided'], ['carburettor', 'carburettor hose'])"
            @update:model-value="(v) => set({ hose: v })"
          />
        </div>
        <quantity-field
          label="Length"
          dimension="distance"
          input-id="el-length"
          :model-value="element.lengthM"
          :check="check('lengthM')"
          @update:model-value="(v) => set({ lengthM: v })"
        />
      </template>
      <quantity-field
        v-if="element.kind === 'line' || element.kind === 'fitting'"
        label="Inner bore"
        dimension="length"
        input-id="el-bore"
        :decimals="2"
        :model-value="element.boreMm"
        :check="check('boreMm')"
        @update:model-value="(v) => set({ boreMm: v })"
      />
      <template v-if="element.kind === 'fitting'">
        <div class="wide">
          <span class="label">Fitting</span>
          <option-row
            :model-value="element.fitting"
            firm
            label="Fitting"
            :options="opts(['elbow', 'elbow'], ['banjo', 'banjo'], ['union', 'union'], ['tee', 'tee'], ['bulkhead', 'bulkhead'])"
            @update:model-value="(v) => set({ fitting: v })"
          />
        </div>
        <quantity-field
          label="How many"
          dimension="count"
          input-id="el-count"
          :model-value="element.count"
          :check="check('count')"
          @update:model-value="(v) => set({ count: v })"
        />
      </template>
      <template v-if="element.kind === 'filter'">
        <quantity-field
          label="Mesh"
          dimension="mesh"
          input-id="el-mesh"
          :model-value="element.micron"
          :check="check('micron')"
          @update:model-value="(v) => set({ micron: v })"
        />
        <div>
          <span class="label">Body</span>
          <option-row
            :model-value="element.body"
            firm
            label="Body"
            :options="opts(['metal', 'metal'], ['plastic', 'plastic'])"
            @update:model-value="(v) => set({ body: v })"
          />
        </div>
      </template>
      <quantity-field
        v-if="element.kind === 'check-valve'"
        label="Opens at"
        dimension="pressure"
        input-id="el-open"
        :decimals="1"
        :model-value="element.openingKpa"
        :check="check('openingKpa')"
        @update:model-value="(v) => set({ openingKpa: v })"
      />
      <template v-if="element.kind === 'filter' || element.kind === 'check-valve'">
        <quantity-field
          label="Takes, new"
          dimension="pressure"
          input-id="el-drop"
          :decimals="1"
          :model-value="element.dropKpa"
          :check="check('dropKpa')"
          @update:model-value="(v) => set({ dropKpa: v })"
        />
        <quantity-field
          label="At a flow of"
          dimension="pumpFlow"
          input-id="el-at"
          :model-value="element.atLph"
          :check="check('atLph')"
          @update:model-value="(v) => set({ atLph: v })"
        />
      </template>
      <div class="wide">
        <span class="label">Where</span>
        <option-row :model-value="element.place" firm label="Where" :options="places" @update:model-value="(v) => set({ place: v })" />
      </div>
      <div class="wide">
        <span class="label">Ends</span>
        <option-row :model-value="element.ends" label="Ends" :options="joints" @update:model-value="(v) => set({ ends: v })" />
      </div>
      <template v-if="element.kind === 'line'">
        <quantity-field
          label="Nearest to the exhaust"
          dimension="length"
          input-id="el-exhaust"
          :model-value="element.exhaustMm"
          :check="(v) => (v === undefined ? null : check('exhaustMm')(v))"
          @update:model-value="(v) => set({ exhaustMm: v })"
        />
        <div>
          <span class="label">Heat shield</span>
          <option-row
            :model-value="at<boolean>('shielded')"
            label="Heat shield"
            :options="yes"
            @update:model-value="(v) => set({ shielded: v })"
          />
        </div>
        <div>
          <span class="label">Crosses moving parts</span>
          <option-row
            :model-value="at<boolean>('crossesMoving')"
            label="Crosses moving parts"
            :options="yes"
            @update:model-value="(v) => set({ crossesMoving: v })"
          />
        </div>
      </template>
    </div>
    <div v-if="tried.length" class="bores" role="group" aria-label="Usual sizes">
      <button
        v-for="b in tried"
        :key="b.size"
        :class="{ on: Math.abs(b.boreMm - (element as { boreMm: number }).boreMm) < 0.05 }"
        @click="set({ boreMm: b.boreMm })"
      >
        <strong class="head">{{ b.size.replace(/^(hard|hose) /, '') }}</strong>
        <small>{{ settings.format(b.dropKpa, 'pressure', 2) }}</small>
      </button>
    </div>
    <div class="tools">
      <span class="label">Add behind it</span>
      <n-button size="small" @click="add('line')">Line</n-button>
      <n-button size="small" @click="add('fitting')">Fitting</n-button>
      <n-button size="small" @click="add('filter')">Filter</n-button>
      <n-button size="small" @click="add('check-valve')">Check valve</n-button>
      <span class="gap"></span>
      <n-button size="small" :disabled="index === 0" @click="shift(-1)">Earlier</n-button>
      <n-button size="small" :disabled="index === list.length - 1" @click="shift(1)">Later</n-button>
      <n-button size="small" @click="remove">Take out</n-button>
    </div>
  </section>
</template>

<style scoped>
.editor {
  border: 2px solid var(--ink);
  padding: var(--s3) var(--s4);
  margin: var(--s3) 0;
}
h2 small {
  font-size: var(--t2);
  font-weight: 500;
}
.reading {
  font-size: var(--t3);
  color: var(--data);
}
.wide {
  grid-column: span 2;
}
.bores,
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2);
  align-items: center;
  margin-top: var(--s2);
}
.bores {
  gap: 0;
}
.bores button {
  min-height: 44px;
  border: 1px solid var(--soft);
  margin-right: -1px;
  background: var(--sheet);
  color: var(--ink);
  padding: 2px var(--s3);
  cursor: pointer;
}
.bores small {
  font: 500 var(--t1) var(--head);
}
.bores strong {
  display: block;
  font-size: var(--t3);
}
.bores .on {
  background: var(--ink);
  color: var(--onInk);
}
.gap {
  flex: 1;
}
</style>
