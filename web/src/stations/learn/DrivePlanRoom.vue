<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { factAt, type FactPath, legSays } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { factField as fieldOf, quantity } from '../../quantity/field.ts'
import { useSettings } from '../../stores/settings.ts'
import DriveFollow from './DriveFollow.vue'
import { loadWords } from './cell-words.ts'
import PlanMap from './PlanMap.vue'
import { useDrivePlan } from './use-drive-plan.ts'

/** What should be driven next: an order of holds and runs inside the person's limits, where each puts the engine, and what is left for a dynamometer. */
const props = defineProps<{ driving: boolean; coolantMinC: number }>()
const emit = defineEmits<{ drive: [] }>()
const settings = useSettings()
const { plan, busy, problem } = useDrivePlan()
const following = ref(false)
const lit = ref<number | null>(null)
const minutes = (s: number): string => `${Math.max(1, Math.round(s / 60))} min`
const passesS = (leg: { seconds: number; passes: number }): string => `${Math.ceil(leg.seconds * leg.passes)} s`
const waiting = computed(() => plan.value?.cells.filter((c) => c.where === 'correct-first').length ?? 0)
const assumed = computed(() => plan.value?.inputs.filter((i) => i.assumed).map((i) => i.label.toLowerCase()) ?? [])
const missing = computed(() => (plan.value?.missing ?? []) as FactPath[])
const limits = [quantity('choices.learn.topKmh', 'speed', undefined, 0), quantity('choices.learn.steepestPct', 'percent', undefined, 0)]
const shown = (i: { value: number; dimension: string | null }): string =>
  i.dimension === null ? String(i.value) : settings.format(i.value, i.dimension as never)
</script>

<template>
  <div class="room">
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <p v-else-if="!plan" role="status">Working out the plan.</p>
    <template v-else>
      <div v-if="missing.length" class="ask" data-testid="plan-missing">
        <h2>Which gear gives which speed is not known yet</h2>
        <p>
          The plan leads cells through gears to road speeds. It wants {{ missing.map((p) => factAt(p).label.toLowerCase()).join(', ') }}.
        </p>
        <div class="fields"><fact-field v-for="p in missing" :key="p" :field="fieldOf(p)" /></div>
      </div>
      <template v-else>
        <div class="mx-0 mt-3 mb-2">
          <template v-if="plan.ordinaryMin !== null">
            <h2 v-if="plan.baseFirst" data-testid="plan-says">
              First the base: <router-link :to="{ query: { tab: 'log' } }">Logs says what it wants</router-link>
            </h2>
            <h2 v-else data-testid="plan-says">Drive about {{ plan.ordinaryMin }} minutes as this car is driven: town, road, hills</h2>
            <p>
              <template v-if="plan.baseFirst"
                >Driving on does not change that. After it about {{ plan.ordinaryMin }} minutes as ever.</template
              >
              The unit learns where it is driven, and what is driven most counts most: by the law of its learning most of that is settled
              then. Bring that log and plan again. The legs below reach what ordinary driving hardly does.
            </p>
          </template>
          <h2 v-else-if="plan.legs.length" data-testid="plan-says">
            {{ plan.legs.length }} legs in {{ minutes(plan.totalS) }}: {{ plan.provenUsePct.toFixed(0) }} % of the driving is proven now,
            {{ plan.afterUsePct.toFixed(0) }} % after them
          </h2>
          <h2 v-else data-testid="plan-says">
            Nothing to drive for on the road: {{ plan.provenUsePct.toFixed(0) }} % of the driving is proven
          </h2>
          <p v-if="waiting && plan.ordinaryMin === null" class="warn">
            {{ waiting }} {{ waiting === 1 ? 'cell is' : 'cells are' }} measured and off: accept the correction, put it in the car, and plan
            again; driving them once more tells nothing new.
          </p>
        </div>
        <div class="row grid grid-cols-[1fr_1fr_auto_auto] gap-3 items-end mb-3">
          <fact-field v-for="f in limits" :key="f.path" :field="f" />
          <n-button type="primary" size="large" :disabled="!plan.legs.length" data-testid="follow" @click="following = true"
            >Follow it in the car</n-button
          >
          <n-button
            dashed
            size="large"
            :loading="props.driving"
            :disabled="props.driving || busy || (!plan.legs.length && plan.ordinaryMin === null)"
            data-testid="bench-plan"
            @click="emit('drive')"
            >Bench: drive this plan</n-button
          >
        </div>
        <div class="two grid grid-cols-[minmax(300px,5fr)_7fr] gap-5">
          <div>
            <p class="soft text-t1 m-0">
              <template v-if="plan.topAssumed"
                >Taken while you have not said: {{ settings.format(plan.topKmh, 'speed') }}, no climb. </template
              >The law and the road decide before the plan does. A climb loads the engine at a steady speed.
            </p>
            <ol class="legs" data-testid="legs">
              <li
                v-for="(leg, i) in plan.legs"
                :key="i"
                tabindex="0"
                @mouseenter="lit = i"
                @focus="lit = i"
                @mouseleave="lit = null"
                @blur="lit = null"
              >
                <span>{{ settings.say(legSays(leg)) }}</span><span class="num">{{ passesS(leg) }}</span>
              </li>
            </ol>
          </div>
          <div>
            <plan-map :plan="plan" :lit="lit" />
            <p class="soft key">
              <span class="box road"></span>on this drive <span class="box clear bg-clear"></span>proven
              <span class="box data"></span>correct first <span class="box dyno"></span>dynamometer; blank: seldom used. rpm across,
              {{ loadWords[plan.by].name }} {{ loadWords[plan.by].unit }} up.
            </p>
            <h3>Left for a dynamometer</h3>
            <p data-testid="dyno-day">
              <template v-if="plan.dyno.holds.length"
                >Steady first, light load before heavy:
                <template v-for="(h, i) in plan.dyno.holds" :key="i"
                  >{{ i ? '; ' : '' }}{{ h.rpm }} rpm at
                  {{ plan.by === 'pressure' ? settings.format(h.load, 'pressure') : `${h.load} % of throttle` }} for
                  {{ h.seconds }} s</template
                >.
              </template>
              <template v-if="plan.dyno.pulls"
                >Then {{ plan.dyno.pulls }} {{ plan.dyno.pulls === 1 ? 'pull' : 'pulls' }} with the throttle open from
                {{ Math.round(plan.dyno.fromRpm / 50) * 50 }} to {{ Math.round(plan.dyno.toRpm / 50) * 50 }} rpm, slowly,
                {{ plan.dyno.coolS }} s of cooling after each. Stop at the first knock, or when it reads lean. </template
              ><strong>About {{ minutes(plan.dyno.minutes * 60) }}.</strong>
            </p>
            <details class="why">
              <summary>What the plan rests on</summary>
              <ul>
                <li v-for="i in plan.inputs" :key="i.label">{{ i.label }}: {{ shown(i) }}{{ i.assumed ? ', assumed' : '' }}</li>
                <li>
                  Torque against pressure:
                  {{
                    plan.torque.fittedS
                      ? `fitted to ${Math.round(plan.torque.fittedS)} s of the last log, work ${plan.torque.workScale.toFixed(2)} and friction ${plan.torque.frictionScale.toFixed(2)} of the textbook’s`
                      : 'the textbook’s; a log with road speed fits it to this engine'
                  }}
                </li>
              </ul>
            </details>
            <p v-if="assumed.length" class="soft">
              Pressures may be a few kPa off while {{ assumed.join(', ') }} {{ assumed.length === 1 ? 'is' : 'are' }} assumed; followed
              live, the plan counts what the engine really did.
            </p>
          </div>
        </div>
        <drive-follow v-if="following" :plan="plan" :coolant-min-c="coolantMinC" @close="following = false" />
      </template>
    </template>
  </div>
</template>

<style scoped>
.legs {
  counter-reset: leg;
  list-style: none;
  padding: 0;
  margin: var(--s3) 0;
}
.legs li {
  display: grid;
  grid-template-columns: 30px 1fr auto;
  gap: var(--s2);
  padding: var(--s1) 0;
  border-bottom: 1px solid var(--line);
  font-size: var(--t3);
  line-height: 1.25;
}
.legs li::before {
  counter-increment: leg;
  content: counter(leg);
  font: 600 var(--t3) var(--head);
}
.box {
  display: inline-block;
  width: 15px;
  height: 15px;
  vertical-align: -2px;
  margin: 0 var(--s1) 0 var(--s3);
}
.box.road {
  background: color-mix(in srgb, var(--ink) 16%, var(--sheet));
  margin-left: 0;
}
.box.data {
  background: color-mix(in srgb, var(--data) 38%, var(--sheet));
}
.box.dyno {
  border: 1.5px dotted var(--ink);
}
@media (max-width: 900px) {
  .row {
    grid-template-columns: 1fr 1fr;
  }
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
