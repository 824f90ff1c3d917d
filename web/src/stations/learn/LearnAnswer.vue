<script setup lang="ts">
import { NRadioButton, NRadioGroup } from 'naive-ui'
import { computed, ref, shallowRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { averagingGapPct, type CellChange, latest, type LearnCell, type LearnResult } from '@vectum/core'
import RoomTabs from '../../kit/RoomTabs.vue'
import { useBuild } from '../../stores/build.ts'
import { type CellLayer, cellWords, changeWords, leftAt, loadWords } from './cell-words.ts'
import CellReadingsPlot from './CellReadingsPlot.vue'
import CellMap from './CellMap.vue'
import LearnedCellWords from './LearnedCellWords.vue'
import LogDiagnosis from './LogDiagnosis.vue'
import SettledLine from './SettledLine.vue'
import TimeStrip from './TimeStrip.vue'
import type { Solved } from './use-learning.ts'

/** What a log has taught: the map, a cell's words, the verdicts and where every row went. */
const props = defineProps<{ solved: Solved; changes?: readonly CellChange[] | null }>()
const emit = defineEmits<{ tested: [] }>()
const builds = useBuild()
const selected = shallowRef<LearnCell | null>(null)
const here = computed(() => selected.value && leftAt(selected.value))
const result = computed(() => props.solved.result)
const learning = computed(() => result.value.totals.settledTimePct !== undefined)
/** the learned table that was brought last, laid over the cells of the tune */
const table = computed(() => latest(builds.context!.readings, 'unit.learned')?.value ?? null)
const change = computed(() => (props.changes ? [{ id: 'change' as const, title: 'What accepting changes' }] : []))
const tabs = computed((): { id: CellLayer; title: string }[] =>
  learning.value
    ? [
        { id: 'correction', title: 'What is left' },
        { id: 'learned', title: 'What it holds' },
        ...(table.value ? [{ id: 'table' as const, title: 'Its own table' }] : []),
        { id: 'needed', title: 'What the base needs' },
        { id: 'coverage', title: 'Coverage' },
        ...change.value,
      ]
    : [
        { id: 'coverage', title: 'Coverage' },
        { id: 'correction', title: 'Correction' },
        { id: 'nearest', title: 'Plain averaging, for comparison' },
        ...change.value,
      ],
)
const tab = ref<CellLayer>(learning.value ? 'correction' : 'coverage')
/** where throttles on the runners tell the load, most of the fuel comes from a table by throttle */
const asked = ref<'pressure' | 'throttle'>('throttle')
const by = computed(() => (result.value.runner ? asked.value : 'pressure'))
const map = computed((): Pick<LearnResult, 'rpm' | 'mapKpa' | 'cells'> => {
  const { runner } = result.value
  return runner && by.value === 'throttle'
    ? { rpm: result.value.rpm, mapKpa: runner.throttlePct, cells: runner.cells.map((c) => ({ ...c, mapKpa: c.throttlePct })) }
    : result.value
})
watch(by, () => (selected.value = null))
const changesHere = computed(() => (props.changes ?? []).filter((c) => c.table === (by.value === 'throttle' ? 'runner' : 've')))
const changeOf = (cell: LearnCell) => changesHere.value.find((c) => c.i === cell.i && c.j === cell.j)
// what is about to be accepted is looked at first
watch(
  () => props.changes,
  (changes) => (tab.value = changes ? 'change' : tab.value === 'change' ? tabs.value[0].id : tab.value),
)
const count = (state: LearnCell['state']) => map.value.cells.filter((c) => c.state === state).length
const leftOut = computed(() => Object.entries(result.value.totals.excluded).sort((a, b) => b[1] - a[1]))
const nearestGap = computed(() => averagingGapPct(result.value.cells))
</script>

<template>
  <log-diagnosis :result="result" :log-id="solved.logId" @tested="emit('tested')" />
  <settled-line v-if="learning" :result="result" />
  <room-tabs v-model="tab" class="mt-4" label="What the log shows" :tabs="tabs" />
  <p v-if="tab === 'nearest'" class="soft my-2 mx-0 text-t2">
    What averaging into the nearest cell would give; it smears.<template v-if="nearestGap !== null">
      It differs from the solve by {{ nearestGap.toFixed(2) }} % rms here.</template
    >
  </p>
  <p v-else-if="tab === 'change'" class="soft my-2 mx-0 text-t2">
    VE, %, that a new version gains or loses at each cell. Tap one for its old and new value, and why.
  </p>
  <p v-else class="soft my-2 mx-0 text-t2">
    <span class="key proven"></span>proven {{ count('proven') }} <span class="key needs"></span>needs correction
    {{ count('needs-correction') }} <span class="key thin"></span>thin {{ count('thin')
    }}{{ tab === 'coverage' ? ', seconds missing' : '' }}
    <template v-if="count('unsafe')"><span class="key bg-stop"></span>unsafe {{ count('unsafe') }}</template> ╱ passed through
    {{ count('passed-through') }}
  </p>
  <n-radio-group v-if="result.runner" v-model:value="asked" class="by mb-2" aria-label="Which table">
    <n-radio-button v-for="(words, load) in loadWords" :key="load" :value="load">{{ words.table }}</n-radio-button>
  </n-radio-group>
  <cell-map v-model:selected="selected" :result="map" :show="tab" :table="table" :by="by" :changes="changesHere" data-testid="cell-map" />
  <p class="cellsay min-h-24px mx-0 mt-2px mb-2" aria-live="polite">
    <template v-if="selected"
      ><strong>{{ selected.rpm }} rpm, {{ selected.mapKpa }} {{ loadWords[by].unit }}: {{ cellWords[selected.state] }}</strong>.
      <template v-if="tab === 'change'"
        ><template v-if="changeOf(selected)"
          >VE {{ changeOf(selected)!.fromPct.toFixed(1) }} to {{ changeOf(selected)!.toPct.toFixed(1) }} %,
          {{ changeWords[changeOf(selected)!.how] }}. </template
        ><template v-else>VE stays as it is. </template></template
      >
      <template v-if="here && here.pct !== null"
        >{{ here.pct > 0 ? 'Add' : 'Take' }} {{ Math.abs(here.pct).toFixed(2) }} ± {{ here.errorPct?.toFixed(2) }} % from
        {{ selected.seconds.toFixed(1) }} s. </template
      ><learned-cell-words
        v-if="selected.learnedPct != null"
        :cell="selected"
        :used-seconds="result.totals.usedSeconds"
        :driven-s="solved.strip?.durationS ?? 0"
        :settle-s="builds.current?.choices.unit?.learnSettleS"
      /><template v-if="selected.state === 'thin'"
        >About {{ Math.ceil(selected.missingSeconds) }} s more of steady driving here.</template
      ></template
    ><span v-else class="soft"
      >rpm across, {{ loadWords[by].name }} {{ loadWords[by].unit }} up; a number is the fuel still to be added, %. Tap a cell.</span
    >
  </p>
  <cell-readings-plot v-if="selected && selected.seconds > 0" :at="{ i: selected.i, j: selected.j, by }" :readings="solved.readings" />
  <ul class="verdicts mx-0 mt-0 mb-2 pl-5">
    <li v-for="v in result.verdicts" :key="v.code" :class="{ stop: v.code.startsWith('unsafe') }">{{ v.message }}</li>
  </ul>
  <time-strip
    v-if="solved.strip"
    :columns="solved.strip.columns"
    :fates="solved.strip.fates"
    :duration-s="solved.strip.durationS"
    label="Engine speed"
  />
  <router-link v-if="solved.strip" :to="{ query: { tab: 'look' } }">Look at this log closely</router-link>
  <p class="soft text-t1" data-testid="totals">
    <template v-if="solved.with"
      >Solved together with {{ solved.with }} earlier {{ solved.with === 1 ? 'log' : 'logs' }} of this version. </template
    >{{ result.totals.used }} of {{ result.totals.samples }} rows used<template v-if="result.totals.provenTimePct !== null"
      >, {{ result.totals.provenTimePct.toFixed(0) }} % of that time in proven cells</template
    >. Left out:
    <template v-for="([reason, n], i) in leftOut" :key="reason">{{ i ? ', ' : '' }}{{ reason.replaceAll('-', ' ') }} {{ n }}</template>.
    Sensor delay {{ result.delay.fitted ? `measured from ${result.delay.events} ends of fuel cuts` : 'assumed' }}:
    {{ result.delay.lagS.toFixed(2) }} s lag.
  </p>
</template>

<style scoped>
.key {
  display: inline-block;
  width: 15px;
  height: 15px;
  vertical-align: -2px;
  margin: 0 var(--s1) 0 var(--s3);
}
.key.proven {
  background: var(--clear);
  margin-left: 0;
}
.key.needs {
  background: color-mix(in srgb, var(--data) 38%, var(--sheet));
}
.key.thin {
  border: 1.5px dashed var(--ink);
}
</style>
