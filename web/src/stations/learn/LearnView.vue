<script setup lang="ts">
import { NButton, NProgress, useMessage } from 'naive-ui'
import { computed, onMounted, ref } from 'vue'
import { learnsItself, learnSetup, logDoubtsSaid, mayTrial } from '@vectum/core'
import RoomTabs from '../../kit/RoomTabs.vue'
import StationHead from '../../kit/StationHead.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { useRouteQuery } from '../../shell/use-route-query.ts'
import AcceptVersion from './AcceptVersion.vue'
import BenchDyno from './BenchDyno.vue'
import BringLog from './BringLog.vue'
import BesideTheLog from './BesideTheLog.vue'
import DrivePlanRoom from './DrivePlanRoom.vue'
import DrivesLine from './DrivesLine.vue'
import LearnedTables from './LearnedTables.vue'
import OneChange from './OneChange.vue'
import PutInCar from './PutInCar.vue'
import MendAnswer from './MendAnswer.vue'
import MendConstant from './MendConstant.vue'
import ErrorScatter from './ErrorScatter.vue'
import FeltList from './FeltList.vue'
import LogMarks from './LogMarks.vue'
import LogRoom from './LogRoom.vue'
import LearnAnswer from './LearnAnswer.vue'
import MappingSheet from './MappingSheet.vue'
import SparkTrialRoom from './SparkTrialRoom.vue'
import ThrottleSteps from './ThrottleSteps.vue'
import WarmUpFuel from './WarmUpFuel.vue'
import { useLearning } from './use-learning.ts'

const builds = useBuild()
const message = useMessage()
const { state, problem, chosen, imported, inCar, fits, take, confirm, driveBench, solve, cancel, propose, dismiss, accept } = useLearning()
const over = ref(false)
const itself = computed(() => learnsItself(builds.context!))
/** a base that is made inside the unit cannot be given to it */
const answersAlone = computed(() => builds.current!.choices.unit?.setBy === 'questions')
const rooms = computed(() => [
  { id: 'log', title: 'Logs' },
  { id: 'look', title: 'Look at a log' },
  { id: 'drive', title: 'What to drive next' },
  ...(itself.value
    ? [
        { id: 'beside', title: 'What no log tells' },
        { id: 'tables', title: 'Learned tables' },
      ]
    : []),
  ...(mayTrial(builds.context!) ? [{ id: 'spark', title: 'Spark trial' }] : []),
])
/** from here on a row of a log counts, as the solve has it */
const coolantMinC = computed(() => learnSetup(builds.current!, null).coolantMinC)
async function drivePlanned(): Promise<void> {
  tab.value = 'log'
  await driveBench({ byPlan: true })
}
const tab = useRouteQuery('tab', 'log')
const settings = useSettings()
/** what this engine cannot have done, while nobody has said that it did */
const doubts = computed(() => {
  const log = builds.current!.logs.find((l) => l.id === chosen.value)
  return log ? logDoubtsSaid(builds.context!, log) : []
})
function mine(): void {
  if (chosen.value) builds.record('learn.same-car', { logId: chosen.value })
  void solve()
}
const logOptions = computed(() =>
  builds
    .current!.logs.toReversed()
    .map((l) => ({ value: l.id, label: `${l.name}, ${(l.durationS / 60).toFixed(0)} min${l.source === 'bench' ? ', bench' : ''}` })),
)
const logName = computed(() => builds.current!.logs.find((l) => l.id === chosen.value)?.name ?? 'a log')
const tuneOptions = computed(() => builds.current!.tunes.toReversed().map((t) => ({ value: t.id, label: `${t.number}  ${t.name}` })))
const busy = computed(() => state.value.at === 'driving' || state.value.at === 'solving')
function drop(event: DragEvent): void {
  over.value = false
  void take(event.dataTransfer?.files[0])
}
async function store(): Promise<void> {
  const before = inCar.value?.number
  const number = await accept()
  if (number !== null) message.success(`Version ${number} stored. Version ${before} stays to go back to.`)
}
function nowDrive(): void {
  message.success(
    `Version ${inCar.value?.number} is in. Send it to the unit and read it back at First start, then drive and bring that log.`,
  )
}
onMounted(() => void solve())
</script>

<template>
  <div class="learn min-h-full" :class="{ over }" @dragover.prevent="over = true" @dragleave="over = false" @drop.prevent="drop">
    <station-head title="Learn" line="Where is the mixture proven, and what should be driven next?" />
    <caution-strip station="learn" />
    <p v-if="problem" class="stop" role="alert" data-testid="log-problem">{{ problem }}</p>
    <div v-if="doubts.length" class="bold-a-warn py-2 px-3 mb-3" role="alert" data-testid="log-doubt">
      <strong>Is this log of another car?</strong> <span v-for="(d, i) in doubts" :key="i">{{ settings.say(d) }} </span>
      <n-button data-testid="log-mine" @click="mine">It was driven with this car</n-button>
    </div>
    <room-tabs v-if="state.at !== 'mapping'" v-model="tab" label="Learn" :tabs="rooms" />
    <drive-plan-room
      v-if="tab === 'drive' && state.at !== 'mapping'"
      :driving="state.at === 'driving'"
      :coolant-min-c="coolantMinC"
      @drive="drivePlanned"
    />
    <div v-else-if="itself && tab === 'beside'" class="pad"><beside-the-log /></div>
    <div v-else-if="itself && tab === 'tables'" class="pad"><learned-tables /></div>
    <log-room v-else-if="tab === 'look' && state.at !== 'mapping'" v-model:chosen="chosen" :logs="logOptions" />
    <spark-trial-room v-else-if="tab === 'spark' && state.at !== 'mapping'" />
    <mapping-sheet
      v-else-if="state.at === 'mapping'"
      :preview="state.preview"
      :file-name="state.file.name"
      :busy="state.sentShare !== null"
      :progress="state.sentShare"
      :tunes="tuneOptions"
      :driven-on="inCar?.id ?? null"
      @confirm="confirm"
      @cancel="cancel"
    />
    <template v-else>
      <bring-log
        v-model:chosen="chosen"
        :logs="logOptions"
        :busy="busy"
        :driving="state.at === 'driving'"
        @take="take"
        @drive="driveBench({ minutes: 20 })"
        @solve="solve"
      />
      <p v-if="imported && imported.id === chosen && imported.rejected.length" class="soft">
        Left out while reading:
        <template v-for="(r, i) in imported.rejected" :key="i">{{ i ? ', ' : '' }}{{ r.count }} × {{ r.channel }} {{ r.reason }}</template>.
      </p>
      <div v-if="state.at === 'solving'" class="grid grid-cols-[1fr_auto_auto] gap-4 items-center my-3 mx-0" role="status">
        <n-progress aria-label="How far it is" type="line" :percentage="Math.round(state.share * 100)" :show-indicator="false" />
        <span>solving {{ Math.round(state.share * 100) }} %</span>
        <n-button size="small" @click="cancel">Cancel</n-button>
      </div>
      <felt-list />
      <p v-if="!logOptions.length && !problem" class="empty">
        No log yet. Drive with a passenger at the screen or read the log afterwards; steady holds of a few seconds in each cell tell most.
      </p>
      <template v-if="state.at === 'solved'">
        <learn-answer :key="state.solved.logId" :solved="state.solved" :changes="state.proposed?.changes ?? null" @tested="solve" />
        <accept-version :state="state" :fits="fits" :itself="itself" @propose="propose" @dismiss="dismiss" @accept="store" />
        <mend-answer v-if="itself && answersAlone" :solved="state.solved" :fits="fits" :log-name="logName" />
        <error-scatter :solved="state.solved" />
        <throttle-steps :solved="state.solved" :log-name="logName" :fits="fits" :busy="busy" @drive="driveBench" />
        <warm-up-fuel :solved="state.solved" :log-name="logName" :fits="fits" :busy="busy" @drive="driveBench({ fromC: $event })" />
        <log-marks :log-id="state.solved.logId" :marks="state.solved.marks" />
        <drives-line />
        <one-change />
        <mend-constant v-if="itself && !answersAlone" :solved="state.solved" />
      </template>
      <put-in-car @put="nowDrive" />
      <bench-dyno />
    </template>
  </div>
</template>

<style scoped>
.over {
  outline: 4px dashed var(--data);
  outline-offset: -4px;
}
</style>
