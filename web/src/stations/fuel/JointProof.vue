<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { jointsOf, jointWays, latest, leakState, type Joint } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import CircuitDrawing from './CircuitDrawing.vue'
import JointDots from './JointDots.vue'

/** Every joint looked at under pressure: tapped on the drawing, or in the list beneath it; the next one not looked at comes up by itself. */
const props = defineProps<{ disabled: boolean }>()
const builds = useBuild()
const c = computed(() => builds.context!)
const joints = computed(() => jointsOf(c.value.fuel))
const leaks = computed(() => leakState(c.value))
const states = computed(() =>
  Object.fromEntries(
    joints.value.map((j) => [
      j.id,
      leaks.value.wet.includes(j.label)
        ? ('wet' as const)
        : leaks.value.unseen.some((u) => u.id === j.id)
          ? ('unseen' as const)
          : ('dry' as const),
    ]),
  ),
)
const tapped = ref<string | null>(null)
const selected = computed(() => tapped.value ?? joints.value.find((j) => states.value[j.id] !== 'dry')?.id ?? null)
const joint = computed(() => joints.value.find((j) => j.id === selected.value) ?? null)
const lastLook = (j: Joint) =>
  latest(
    c.value.readings.filter((r) => r.kind === 'fuel.joint' && r.value.jointId === j.id),
    'fuel.joint',
  )
const closed = (j: Joint) => j.place === 'boot' || j.place === 'cabin'
function see(j: Joint, dry: boolean): void {
  builds.record('fuel.joint', { jointId: j.id, dry })
  tapped.value = dry ? null : j.id
}
</script>

<template>
  <div>
    <p v-if="leaks.wet.length" class="stop" role="alert">
      Wet: {{ leaks.wet.join(', ') }}. Battery off, relieve pressure, mend, prime, look again.
    </p>
    <p v-if="!joints.length" class="soft">The list comes from the circuit; lay it out first.</p>
    <template v-else>
      <circuit-drawing :fuel="c.fuel" :solution="null" :selected="null" still>
        <template #over="{ sheet }"
          ><joint-dots :sheet="sheet" :joints="joints" :states="states" :selected="selected" @tap="(id) => (tapped = id)"
        /></template>
      </circuit-drawing>
      <div v-if="joint" class="boxed chosen" data-testid="joint-chosen">
        <span
          ><strong class="head">{{ joint.label }}</strong>
          <small class="soft"
            >{{ joint.section }} · {{ jointWays[joint.type].label }}: {{ jointWays[joint.type].check
            }}{{ closed(joint) ? ' · closed space' : '' }}</small
          ></span
        >
        <n-button type="primary" size="large" :disabled="props.disabled" data-testid="joint-dry" @click="see(joint, true)">Dry</n-button>
        <n-button size="large" :disabled="props.disabled" data-testid="joint-wet" @click="see(joint, false)">Wet</n-button>
      </div>
      <ul class="joints">
        <li v-for="j in joints" :key="j.id" :class="states[j.id]">
          <span class="what"
            ><strong class="head">{{ j.label }}</strong
            ><small class="soft">{{ j.section }} · {{ jointWays[j.type].label }}: {{ jointWays[j.type].made }}</small></span
          >
          <span class="state num"
            >{{ states[j.id] === 'unseen' ? '' : states[j.id]
            }}<small v-if="lastLook(j)" class="soft">{{ lastLook(j)!.takenAt.slice(0, 10) }}</small></span
          >
          <n-button size="small" :disabled="props.disabled" :aria-label="`${j.label}, ${j.section}: dry`" @click="see(j, true)"
            >Dry</n-button
          >
          <n-button size="small" :disabled="props.disabled" :aria-label="`${j.label}, ${j.section}: wet`" @click="see(j, false)"
            >Wet</n-button
          >
        </li>
      </ul>
      <n-button v-if="leaks.unseen.length && !props.disabled" data-testid="all-dry" @click="builds.record('fuel.leak-check', { dry: true })"
        >I have looked at every one: all dry</n-button
      >
    </template>
  </div>
</template>

<style scoped>
.chosen {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s3);
  align-items: center;
}
.chosen span {
  flex: 1;
  min-width: 220px;
}
.chosen strong {
  font-size: var(--t4);
  display: block;
}
.joints {
  list-style: none;
  margin: var(--s2) 0;
  padding: 0;
}
.joints li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 76px auto auto;
  gap: var(--s3);
  align-items: center;
  border-bottom: 1px dotted var(--hair);
  border-left: 5px solid var(--hair);
  padding: var(--s1) 0 var(--s1) var(--s3);
}
.joints .dry {
  border-left-color: var(--clear);
}
.joints .wet {
  border-left-color: var(--stop);
}
.joints .wet .state {
  color: var(--stop);
}
.what strong,
.state {
  font-size: var(--t3);
}
.what strong,
small {
  display: block;
}
</style>
