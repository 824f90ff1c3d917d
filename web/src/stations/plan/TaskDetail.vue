<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { type Person, type ScheduledTask, slackSays } from '@vectum/core'
import QuantityField from '../../quantity/QuantityField.vue'
import { useBuild } from '../../stores/build.ts'

/** One task of the schedule: what it takes, whose it is, and whether it is done. */
const props = defineProps<{ task: ScheduledTask; people: Person[]; today: string }>()
const builds = useBuild()
const path = (id: string, field: string) => `choices.plan.tasks.${id}.${field}`
const kind = { work: 'work', trade: 'outside trade', wait: 'waiting' } as const
const amount = computed(() => {
  const t = props.task
  return t.kind === 'work'
    ? `${t.low.toFixed(1)}–${t.high.toFixed(1)} h`
    : `${t.amount} days${t.leadDays ? `, booked ${t.leadDays} days ahead` : ''}`
})
const hoursCheck = (v: number | undefined) => (v !== undefined && (v < 0 || v > 400) ? 'must be 0 to 400 h' : null)
</script>

<template>
  <section class="boxed" :aria-label="task.title">
    <h2>{{ task.title }}</h2>
    <p>
      {{ kind[task.kind] }}, {{ amount }}{{ task.person ? `, ${task.person}` : '' }}{{ task.helper ? ', needs a helper' : '' }};
      {{ slackSays(task) }}{{ task.because ? `; brought in by: ${task.because}` : '' }}
    </p>
    <div class="row">
      <quantity-field
        :label="task.kind === 'work' ? 'Own figure for its hours' : 'Days'"
        :dimension="task.kind === 'work' ? 'hours' : 'days'"
        input-id="task-hours"
        :model-value="builds.context!.plan.tasks?.[task.id]?.hours"
        :check="hoursCheck"
        @update:model-value="(v) => builds.change(path(task.id, 'hours'), v)"
      />
      <quantity-field
        v-if="task.leadDays !== undefined && !task.done"
        label="Booked ahead"
        dimension="days"
        input-id="task-lead"
        :model-value="builds.context!.plan.tasks?.[task.id]?.leadDays ?? task.leadDays"
        :check="(v) => (v !== undefined && (v < 0 || v > 365) ? 'must be 0 to 365 days' : null)"
        @update:model-value="(v) => builds.change(path(task.id, 'leadDays'), v)"
      />
      <div v-if="task.leadDays !== undefined && !task.done">
        <label for="task-booked">Booked on</label>
        <input
          id="task-booked"
          type="date"
          :max="today"
          :value="builds.context!.plan.tasks?.[task.id]?.booked"
          @change="builds.change(path(task.id, 'booked'), ($event.target as HTMLInputElement).value || undefined)"
        />
      </div>
      <n-button
        v-if="task.kind === 'trade' && !task.done"
        @click="builds.change(path(task.id, 'sundays'), builds.context!.plan.tasks?.[task.id]?.sundays ? undefined : true)"
      >
        {{ builds.context!.plan.tasks?.[task.id]?.sundays ? 'Sundays off' : 'Works on Sundays' }}
      </n-button>
      <quantity-field
        v-if="task.kind === 'work' && !task.done"
        label="Hours still to do"
        dimension="hours"
        input-id="task-left"
        :model-value="builds.context!.plan.tasks?.[task.id]?.hoursLeft"
        :check="hoursCheck"
        @update:model-value="(v) => builds.change(path(task.id, 'hoursLeft'), v)"
      />
      <quantity-field
        v-if="task.kind === 'work'"
        label="Hours it took"
        dimension="hours"
        input-id="task-took"
        :model-value="builds.context!.plan.tasks?.[task.id]?.hoursTaken"
        @update:model-value="(v) => builds.change(path(task.id, 'hoursTaken'), v)"
      />
      <div v-if="task.kind === 'work' && people.length > 1">
        <label for="task-person">Who</label>
        <select
          id="task-person"
          :value="builds.context!.plan.tasks?.[task.id]?.person ?? 0"
          @change="builds.change(path(task.id, 'person'), Number(($event.target as HTMLSelectElement).value))"
        >
          <option v-for="(p, i) in people" :key="i" :value="i">{{ p.name }}</option>
        </select>
      </div>
      <n-button v-if="!task.done" type="primary" @click="builds.change(path(task.id, 'done'), today)">Done today</n-button>
      <n-button v-else-if="!task.proven" @click="builds.change(path(task.id, 'done'), undefined)">Not done</n-button>
      <span v-else class="soft">proven by the logbook</span>
      <n-button v-if="task.notBefore" @click="builds.change(path(task.id, 'notBefore'), undefined)">Let it fall back</n-button>
    </div>
  </section>
</template>
