<script setup lang="ts">
import { NButton } from 'naive-ui'
import { elementLabel, jointWays, type Branch, type Fluid, type SectionId } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import QuantityField from '../../quantity/QuantityField.vue'
import { useSettings } from '../../stores/settings.ts'
import BoreRow from './BoreRow.vue'
import { useCircuitElement } from './use-circuit-element.ts'

/** The element that was tapped on the drawing: what it is, what it takes in the state shown, and what can be changed of it. */
const props = defineProps<{ section: SectionId; index: number; branch: Branch | null; fluid: Fluid | null }>()
const emit = defineEmits<{ select: [key: string | null] }>()
const settings = useSettings()
const { list, element, set, check, add, shift, remove } = useCircuitElement(props, (key) => emit('select', key))
const at = <T>(field: string): T | undefined => (element.value as unknown as Record<string, T | undefined>)[field]

const opts = <T extends string>(...pairs: [T, string][]) => pairs.map(([value, label]) => ({ value, label }))
const places = opts(['tank', 'in the tank'], ['under', 'under the car'], ['boot', 'boot'], ['cabin', 'cabin'], ['bay', 'engine bay'])
const joints = Object.entries(jointWays).map(([value, way]) => ({ value, label: way.label }))
const yes = [
  { value: true, label: 'yes' },
  { value: false, label: 'no' },
]
</script>

<template>
  <section v-if="element" class="boxed" :aria-label="`${elementLabel(element)}, ${section}`">
    <div class="head-row">
      <h2>{{ elementLabel(element) }} <small class="soft text-t2 font-500">{{ section }}, {{ element.id }}</small></h2>
      <span v-if="branch" class="num reading text-t3 text-data">
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
    <bore-row
      v-if="branch && fluid && element.kind === 'line'"
      :line="element"
      :flow-lph="branch.flowLph"
      :fluid="fluid"
      @take="(boreMm) => set({ boreMm })"
    />
    <div class="act">
      <span class="label">Add behind it</span>
      <n-button size="small" @click="add('line')">Line</n-button>
      <n-button size="small" @click="add('fitting')">Fitting</n-button>
      <n-button size="small" @click="add('filter')">Filter</n-button>
      <n-button size="small" @click="add('check-valve')">Check valve</n-button>
      <span class="flex-1"></span>
      <n-button size="small" :disabled="index === 0" @click="shift(-1)">Earlier</n-button>
      <n-button size="small" :disabled="index === list.length - 1" @click="shift(1)">Later</n-button>
      <n-button size="small" @click="remove">Take out</n-button>
    </div>
  </section>
</template>

<style scoped>
.wide {
  grid-column: span 2;
}
</style>
