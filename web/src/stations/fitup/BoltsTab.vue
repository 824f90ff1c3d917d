<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { type BoltAt, boltsOf, type JointId, jointsFor, jointTorque, jointWords } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import OptionRow from '../../quantity/OptionRow.vue'
import { useLanding } from '../../shell/landing.ts'
import { boltFields } from './bolt-fields.ts'
import BoltPattern from './BoltPattern.vue'
import { useFitup } from './use-fitup.ts'

/** One joint at a time: where its bolts sit, in which order and how tight they are drawn down, and what ends that. */
const { settings, c, fitup, held, change } = useFitup()
const landing = useLanding()
const joints = computed(() => jointsFor(c.value))
const picked = ref<JointId | null>(null)
const named = /^choices\.fitup\.joints\.([a-z]+)/
const joint = computed((): JointId => {
  const landed = landing.at.value && (named.exec(landing.at.value)?.[1] as JointId | undefined)
  return picked.value ?? (landed || joints.value[0])
})
const spec = computed(() => fitup.value.joints?.[joint.value] ?? {})
const bolts = computed(() => boltsOf(spec.value))
// the joint stands over its fields: its name is not said again in each
const fields = computed(() => boltFields(joint.value, spec.value.pattern).map((f) => ({ ...f, label: f.label.split(', ')[0] })))
const torque = computed(() => jointTorque(spec.value))
const ends = {
  sheet: 'the sheet says so',
  bolt: 'what the bolt bears to be used again, 75 % of its proof load',
  thread: 'what the thread in the lug bears, half of its strength',
  lug: 'what the lug bears under the head: a washer spreads it',
}
const kN = (n: number): string => `${(n / 1000).toFixed(1)} kN`
const moved = (i: number, to: BoltAt): void => {
  held.value = { joints: { [joint.value]: { at: bolts.value.map((b, k) => (k === i ? to : b)) } } }
}
function keep(): void {
  change(`joints.${joint.value}.at`, bolts.value)
  held.value = null
}
</script>

<template>
  <section class="pad">
    <option-row
      v-if="joints.length > 1"
      :model-value="joint"
      :options="joints.map((id) => ({ value: id, label: jointWords[id] }))"
      firm
      label="Joint"
      @update:model-value="(id) => (picked = id ?? null)"
    />
    <div class="two grid grid-cols-[minmax(300px,1.2fr)_minmax(280px,1fr)] gap-5">
      <div>
        <bolt-pattern v-if="bolts.length" :bolts="bolts" :label="`Order of the bolts, ${jointWords[joint]}`" @move="moved" @done="keep" />
        <p v-else class="empty">Tell how many bolts there are and where: the order follows.</p>
        <div v-if="spec.at" class="act">
          <n-button size="large" @click="change(`joints.${joint}.at`, undefined)">Places by the pattern again</n-button>
        </div>
        <template v-if="torque">
          <p class="head-t4" data-testid="joint-torque">
            {{ torque.passesNm.map((t) => settings.format(t, 'torque', 0)).join(', then ') }}
          </p>
          <p>
            By hand first, then these passes in the order drawn. It ends at {{ kN(torque.clampN) }} of clamp load: {{ ends[torque.by] }}.
          </p>
          <p v-if="torque.by !== 'sheet'" class="soft">
            Bolt {{ kN(torque.bears.bolt) }}, {{ torque.bears.thread === null ? 'thread not told' : `thread ${kN(torque.bears.thread)}` }},
            lug {{ kN(torque.bears.lug) }}. The sheet of the part goes first.
          </p>
        </template>
        <p v-else class="soft">Torque: by its sheet, or tell thread and class.</p>
        <p class="warn">Light-alloy lugs crack when they are pulled down unevenly: never one bolt home before the others.</p>
      </div>
      <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
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
