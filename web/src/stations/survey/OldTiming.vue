<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { checkReading, readingsOf } from '@vectum/core'
import QuantityField from '../../quantity/QuantityField.vue'
import OptionRow from '../../quantity/OptionRow.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** The old ignition's timing over speed, read before it goes: the new map is compared with what the engine liked. */
const builds = useBuild()
const settings = useSettings()
const readings = computed(() => readingsOf(builds.context!.readings, 'survey.old-timing').sort((a, b) => a.value.rpm - b.value.rpm))
const rpm = ref<number>()
const degrees = ref<number>()
const can = ref<boolean>(false)
const ready = computed(() => rpm.value !== undefined && degrees.value !== undefined)
function record(): void {
  builds.record('survey.old-timing', { rpm: rpm.value, observedDeg: degrees.value, vacuumCan: can.value }, { instrument: 'timing light' })
  rpm.value = degrees.value = undefined
}
</script>

<template>
  <div class="old">
    <p v-if="readings.length" class="list">
      <span v-for="r in readings" :key="r.id" class="num">
        {{ settings.format(r.value.rpm, 'rpm') }} {{ r.value.observedDeg }}°{{ r.value.vacuumCan ? ' with can' : '' }}
      </span>
    </p>
    <div class="row">
      <quantity-field
        v-model="rpm"
        label="Speed"
        dimension="rpm"
        input-id="old-rpm"
        :check="(v) => checkReading('survey.old-timing', 'rpm', v)"
      />
      <quantity-field
        v-model="degrees"
        label="Light reads"
        dimension="angle"
        input-id="old-deg"
        :check="(v) => checkReading('survey.old-timing', 'observedDeg', v)"
      />
      <div>
        <span class="label">Vacuum can</span>
        <option-row
          v-model="can"
          firm
          label="Vacuum can"
          :options="[
            { value: false, label: 'off, plugged' },
            { value: true, label: 'on' },
          ]"
        />
      </div>
      <n-button type="primary" :disabled="!ready" @click="record">Record</n-button>
    </div>
  </div>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr 1fr auto auto;
  gap: 12px;
  align-items: end;
}
.label {
  font-size: var(--t2);
  font-weight: 600;
}
.list {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 0 0 8px;
  font-size: var(--t3);
}
@media (max-width: 700px) {
  .row {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
