<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { checkFact, displayUnit, genericLiftPumps, genericPumps, parseQuantity, toDisplay, type PumpSpec } from '@vectum/core'
import CellInput from '../../quantity/CellInput.vue'
import QuantityField from '../../quantity/QuantityField.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** The pump's sheet: flow over pressure at the voltage of its rating, one or two curves. */
const props = defineProps<{ which: 'pump' | 'liftPump' }>()
const builds = useBuild()
const settings = useSettings()
const path = computed(() => `choices.fuel.${props.which}`)
const spec = computed(() => builds.context!.fuel[props.which] as (PumpSpec & { kind?: 'mechanical' | 'electric' }) | undefined)
const problem = ref<string | null>(null)
const pressureUnit = computed(() => displayUnit('pressure', settings.units))
const flowUnit = computed(() => displayUnit('pumpFlow', settings.units))

const choices = computed(() => (props.which === 'pump' ? genericPumps : genericLiftPumps))

function put(next: PumpSpec, where = ''): void {
  const refused = checkFact(path.value, next)
  problem.value = refused === null ? null : where + refused
  if (problem.value === null) builds.change(path.value, JSON.parse(JSON.stringify(next)))
}
const copy = (): PumpSpec => JSON.parse(JSON.stringify(spec.value)) as PumpSpec
/** a figure typed into the sheet's table: from here on the curve is the person's own */
function setPoint(curve: number, point: number, field: 'pressureKpa' | 'flowLph' | 'currentA', text: string): void {
  const next = copy()
  try {
    const value =
      text.trim() === ''
        ? undefined
        : parseQuantity(
            text,
            field === 'pressureKpa' ? 'pressure' : field === 'flowLph' ? 'pumpFlow' : 'current',
            settings.units,
            'The point',
          )
    if (value === undefined && field !== 'currentA') return
    if (value === undefined) delete next.curves[curve].points[point].currentA
    else next.curves[curve].points[point][field] = Number(value.toPrecision(10))
    delete next.generic
    put(next, `Curve ${curve + 1}, point ${point + 1}: `)
  } catch (e) {
    problem.value = (e as Error).message
  }
}
function addPoint(curve: number): void {
  const next = copy()
  const points = next.curves[curve].points
  const last = points[points.length - 1]
  points.push({ pressureKpa: last.pressureKpa + 50, flowLph: 0 })
  delete next.generic
  put(next)
}
function dropPoint(curve: number, point: number): void {
  const next = copy()
  next.curves[curve].points.splice(point, 1)
  put(next)
}
function addCurve(): void {
  const next = copy()
  next.curves.push({
    voltageV: next.curves[0].voltageV > 12.7 ? 12 : 13.5,
    points: next.curves[0].points.map((p) => ({ pressureKpa: p.pressureKpa, flowLph: p.flowLph })),
  })
  put(next)
}
function setVoltage(curve: number, v: number | undefined): void {
  if (v === undefined) return
  const next = copy()
  next.curves[curve].voltageV = v
  put(next)
}
const shown = (metric: number | undefined, unit: { scale: number; offset?: number; decimals: number; id: string }) =>
  metric === undefined ? '' : String(Number(toDisplay(metric, unit).toFixed(2)))
</script>

<template>
  <section class="boxed" :aria-label="which === 'pump' ? 'Pump' : 'Lift pump'">
    <h2>{{ which === 'pump' ? 'Pressure pump' : 'Lift pump' }}</h2>
    <div class="classes">
      <span class="soft">Stand-in, until its sheet is here:</span>
      <n-button v-for="g in choices" :key="g.id" size="small" @click="put(g.spec)">{{ g.label }}</n-button>
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <div v-if="spec" class="curves flex flex-wrap gap-5 items-start">
      <div v-for="(curve, c) in spec.curves" :key="c">
        <quantity-field
          label="Rated at, at the pump"
          dimension="voltage"
          :decimals="1"
          :input-id="`${which}-v-${c}`"
          :model-value="curve.voltageV"
          @update:model-value="(v) => setVoltage(c, v)"
        />
        <table>
          <thead>
            <tr>
              <th>{{ pressureUnit.id }}</th>
              <th>{{ flowUnit.id }}</th>
              <th>A</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(p, i) in curve.points" :key="i">
              <td>
                <cell-input
                  numeric
                  :value="shown(p.pressureKpa, pressureUnit)"
                  :label="`Curve ${c + 1}, point ${i + 1}, pressure`"
                  @commit="(t) => setPoint(c, i, 'pressureKpa', t)"
                />
              </td>
              <td>
                <cell-input
                  numeric
                  :value="shown(p.flowLph, flowUnit)"
                  :label="`Curve ${c + 1}, point ${i + 1}, flow`"
                  @commit="(t) => setPoint(c, i, 'flowLph', t)"
                />
              </td>
              <td>
                <cell-input
                  numeric
                  :value="p.currentA ?? ''"
                  :label="`Curve ${c + 1}, point ${i + 1}, current`"
                  @commit="(t) => setPoint(c, i, 'currentA', t)"
                />
              </td>
              <td>
                <button v-if="curve.points.length > 2" class="plain" :aria-label="`Take out point ${i + 1}`" @click="dropPoint(c, i)">
                  ×
                </button>
              </td>
            </tr>
          </tbody>
        </table>
        <n-button v-if="curve.points.length < 12" size="small" @click="addPoint(c)">Another point</n-button>
      </div>
      <n-button v-if="spec.curves.length === 1 && which === 'pump'" size="small" @click="addCurve">A second voltage</n-button>
    </div>
  </section>
</template>

<style scoped>
.classes {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2);
  align-items: center;
  margin: var(--s2) 0 var(--s3);
}
td :deep(.cell) {
  width: 84px;
  margin: 0 -1px -1px 0;
}
td button {
  min-width: 44px;
  min-height: 44px;
  text-align: center;
}
</style>
