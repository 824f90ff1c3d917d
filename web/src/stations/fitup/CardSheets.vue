<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { benchCards, bonnetOf, boltsOf, type JointId, linkageOf, sensorLengthMm, sensorStretch, vacuumMap } from '@vectum/core'
import PrintedSheet from '../../kit/PrintedSheet.vue'
import BoltPattern from './BoltPattern.vue'
import BonnetSection from './BonnetSection.vue'
import LinkageDrawing from './LinkageDrawing.vue'
import PipeDrawing from './PipeDrawing.vue'
import PortMap from './PortMap.vue'
import { useFitup } from './use-fitup.ts'

/** The bench cards on paper, each with its drawing and room for what is read. */
const { builds, settings, c, fitup } = useFitup()
const cards = computed(() => benchCards(c.value))
const today = new Date().toISOString().slice(0, 10)
const print = (): void => window.print()
const bolts = (joint: string | null) => (joint ? boltsOf(fitup.value.joints?.[joint as JointId] ?? {}) : [])
const sensor = computed(() => fitup.value.sensor ?? {})
const mergeMm = computed(() => sensor.value.mergeMm ?? c.value.facts.exhaust?.mergeMm ?? null)
</script>

<template>
  <section class="pad">
    <div class="act"><n-button size="large" type="primary" @click="print">Print</n-button></div>
    <printed-sheet
      :rehearsal="builds.view === 'rehearsal'"
      :car="builds.current!.title"
      version="fit-up"
      :date="today"
      :name="settings.person"
    >
      <h2>Bench cards, {{ builds.current!.title }}</h2>
      <article v-for="(card, i) in cards" :key="card.id" class="card" data-testid="printed-card">
        <h3 class="flex justify-between m-0">
          {{ i + 1 }}. {{ card.title }} <span class="box" :class="{ ticked: card.done }" aria-hidden="true" />
        </h3>
        <p>{{ settings.say(card.does) }}</p>
        <p class="text-t1">
          Why: {{ card.why }}.<template v-if="card.tools.length"> With: {{ card.tools.join(', ') }}.</template
          ><template v-if="card.torque"> Torque: {{ card.torque }}.</template> Done when: {{ settings.say(card.doneWhen) }}.
        </p>
        <p v-for="text in card.cautions" :key="text" class="text-t1 font-600">{{ text }}</p>
        <div class="drawing max-w-120mm">
          <bolt-pattern v-if="card.room === 'bolts' && bolts(card.of).length" :bolts="bolts(card.of)" :label="card.title" still />
          <port-map v-else-if="card.room === 'ports'" :map="vacuumMap(c)" :picked="null" still />
          <linkage-drawing v-else-if="card.id === 'linkage'" :linkage="linkageOf(c)" :pedal="0.3" still />
          <bonnet-section v-else-if="card.room === 'bonnet'" :stack="bonnetOf(c)" />
          <pipe-drawing
            v-else-if="card.room === 'sensor'"
            :from-port-mm="sensor.fromPortMm ?? null"
            :length-mm="sensorLengthMm(c)"
            :merge-mm="mergeMm"
            :up-deg="sensor.upDeg ?? null"
            :stretch="sensorStretch(mergeMm, sensorLengthMm(c))"
            still
          />
        </div>
        <p class="read">Read: <span /> By: <span /> On: <span /></p>
      </article>
    </printed-sheet>
  </section>
</template>

<style scoped>
.card {
  break-inside: avoid;
  border-top: 2px solid #14202c;
  padding: 3mm 0;
}
p {
  margin: 1mm 0;
}
.box {
  width: 6mm;
  height: 6mm;
  border: 2px solid #14202c;
}
.box.ticked {
  background: #14202c;
}
.drawing :deep(.pattern) {
  max-width: 70mm;
  max-height: 55mm;
}
.read span {
  display: inline-block;
  width: 36mm;
  border-bottom: 1px solid #14202c;
}
</style>
