<script setup lang="ts">
import { addDays, differenceInCalendarDays, format, parseISO } from 'date-fns'
import { computed, ref } from 'vue'
import { contextOf, CoreError, defaultPeople, planSchedule, type Person, type ScheduledTask } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import FreeHours from './FreeHours.vue'
import TaskDetail from './TaskDetail.vue'
import { usePointerDays } from './use-pointer-days.ts'

/** The job as a strip of days with its critical path: drag a task to a later day, and what waits for it moves too. */
const builds = useBuild()
const today = format(new Date(), 'yyyy-MM-dd')
const schedule = computed(() => {
  try {
    return { plan: planSchedule(contextOf(builds.current!), today), problem: null }
  } catch (e) {
    if (!(e instanceof CoreError)) throw e
    return { plan: null, problem: e.message }
  }
})
const plan = computed(() => schedule.value.plan)
const people = computed<Person[]>(() => builds.context!.plan.people ?? defaultPeople)
const open = ref<string | null>(null)
const opened = computed(() => plan.value?.tasks.find((t) => t.id === open.value) ?? null)

const ROW = 30
const first = computed(() => plan.value!.tasks.reduce((a, t) => (t.start < a ? t.start : a), today))
const span = computed(() => Math.max(14, differenceInCalendarDays(parseISO(plan.value!.end.high), parseISO(first.value)) + 2))
const dayPx = computed(() => Math.max(7, Math.min(26, 470 / span.value)))
const x = (date: string) => differenceInCalendarDays(parseISO(date), parseISO(first.value)) * dayPx.value
const at = (days: number) => format(addDays(parseISO(first.value), days), 'yyyy-MM-dd')
const weeks = computed(() => Array.from({ length: span.value }, (_, i) => at(i)).filter((d) => parseISO(d).getDay() === 1))
const barOf = (t: ScheduledTask) => ({ x: x(t.start), w: Math.max(dayPx.value, x(t.end) - x(t.start) + dayPx.value) })
const path = (id: string, field: string) => `choices.plan.tasks.${id}.${field}`
const short = (date: string) => format(parseISO(date), 'd MMM')

function move(t: ScheduledTask, days: number): void {
  if (days === 0 || t.done) return
  const target = addDays(parseISO(t.start), days)
  builds.change(path(t.id, 'notBefore'), format(target < parseISO(today) ? parseISO(today) : target, 'yyyy-MM-dd'))
}
const drag = usePointerDays(dayPx, (id, days) =>
  move(
    plan.value!.tasks.find((t) => t.id === id)!,
    days,
  ),
)
function onKey(event: KeyboardEvent, t: ScheduledTask): void {
  const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  if (step) {
    event.preventDefault()
    move(t, event.shiftKey ? 7 * step : step)
  } else if (event.key === 'Delete' || event.key === 'Backspace') builds.change(path(t.id, 'notBefore'), undefined)
  else if (event.key === 'Enter' || event.key === ' ') {
    event.preventDefault()
    open.value = t.id
  }
}
const says = (t: ScheduledTask) =>
  `${t.title}, ${t.done ? `done ${short(t.start)}` : `${short(t.start)} to ${short(t.end)}`}${t.critical ? ', critical' : ''}`
</script>

<template>
  <p v-if="schedule.problem" class="stop" role="alert">{{ schedule.problem }}</p>
  <template v-if="plan">
    <div class="bar">
      <p class="m-0">
        <strong class="num big">{{ plan.hours.low.toFixed(0) }}–{{ plan.hours.high.toFixed(0) }} h</strong> of work, done between
        <strong class="num big" data-testid="end">{{ short(plan.end.low) }} and {{ format(parseISO(plan.end.high), 'd MMM yyyy') }}</strong>
        <span v-if="plan.assumed.length" class="soft"> (taken: {{ plan.assumed.join(', ') }})</span>
      </p>
      <a class="ics" :href="`/api/builds/${builds.current!.id}/schedule.ics?today=${today}`" download>Calendar file</a>
    </div>
    <div class="strip">
      <svg
        class="block [touch-action:pan-x_pan-y]"
        :width="232 + span * dayPx"
        :height="34 + plan.tasks.length * ROW"
        role="group"
        aria-label="Tasks over the days"
      >
        <g v-for="w in weeks" :key="w" :transform="`translate(${232 + x(w)} 0)`">
          <path :d="`M0 20V${34 + plan.tasks.length * ROW}`" class="week" />
          <text v-if="dayPx > 5" x="3" y="14" class="day">{{ short(w) }}</text>
        </g>
        <path :d="`M${232 + x(today)} 18V${34 + plan.tasks.length * ROW}`" class="today" />
        <g v-for="(t, i) in plan.tasks" :key="t.id" :transform="`translate(0 ${28 + i * ROW})`">
          <text x="0" y="20" class="name" :class="{ done: t.done, critical: t.critical }">
            {{ t.title.length > 36 ? `${t.title.slice(0, 35)}…` : t.title }}
          </text>
          <path :d="`M0 ${ROW}H${232 + span * dayPx}`" class="rule" />
          <g
            class="task cursor-grab touch-none"
            :class="[t.kind, { done: t.done, critical: t.critical, on: open === t.id }]"
            :transform="`translate(${232 + barOf(t).x + (drag.id.value === t.id ? drag.days.value * dayPx : 0)} 4)`"
            role="button"
            tabindex="0"
            :aria-label="says(t)"
            :data-testid="`task-${t.id}`"
            @pointerdown="(e) => !t.done && drag.start(e, t.id)"
            @click="open = t.id"
            @keydown="(e) => onKey(e, t)"
          >
            <rect :width="barOf(t).w" :height="ROW - 8" class="bar-body" />
            <template v-if="t.days.length">
              <rect v-for="d in t.days" :key="d.date" :x="x(d.date) - barOf(t).x" :width="dayPx" :height="ROW - 8" class="worked" />
            </template>
            <path v-if="t.done" :d="`M4 ${(ROW - 8) / 2}l4 4l7 -8`" class="tick" />
          </g>
        </g>
      </svg>
    </div>
    <p class="soft keys">
      Filled: hours of work. Outlined: outside trade. Dotted: waiting. Heavy edge: on the critical path. Drag a bar, or ← → on it.
    </p>
    <task-detail v-if="opened" :task="opened" :people="people" :today="today" />
  </template>
  <free-hours :people="people" />
</template>

<style scoped>
.big {
  font-size: var(--t4);
}
.ics {
  min-height: 44px;
  display: inline-flex;
  align-items: center;
  padding: 0 var(--s4);
  border: 1px solid var(--ink);
  color: var(--ink);
  text-decoration: none;
  white-space: nowrap;
}
.strip {
  overflow-x: auto;
  margin-top: var(--s2);
}
.name,
.day {
  font: 600 var(--t2) var(--head);
  fill: var(--ink);
}
.day {
  font-size: var(--t1);
  fill: var(--soft);
}
.name.done {
  fill: var(--soft);
}
.week {
  stroke: var(--hair);
}
.rule {
  stroke: var(--hair);
  opacity: 0.5;
}
.today {
  stroke: var(--stop);
  stroke-width: 2;
}
.bar-body {
  fill: var(--sheet);
  stroke: var(--soft);
}
.worked {
  fill: var(--data);
}
.trade .bar-body {
  stroke: var(--ink);
  stroke-width: 2;
}
.wait .bar-body {
  stroke-dasharray: 2 4;
}
.critical .bar-body {
  stroke: var(--ink);
  stroke-width: 3;
}
.done .bar-body {
  fill: var(--hair);
  stroke: none;
}
.done .worked {
  fill: none;
}
.tick {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.4;
}
.on .bar-body {
  stroke: var(--data);
  stroke-width: 3;
}
.keys {
  font-size: var(--t1);
  margin: var(--s1) 0 var(--s4);
}
</style>
