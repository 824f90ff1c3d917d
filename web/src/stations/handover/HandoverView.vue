<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, shallowRef, watch } from 'vue'
import { handoverReport, latest, tableNames, tableSpecs, type Tune, TuneAnswer } from '@vectum/core'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import EntryForm from '../../kit/EntryForm.vue'
import PrintedSheet from '../../kit/PrintedSheet.vue'
import StationHead from '../../kit/StationHead.vue'

const builds = useBuild()
const settings = useSettings()
const inCar = computed(() => builds.current!.tunes.find((t) => t.status === 'in-car') ?? null)
const tune = shallowRef<Tune | null>(null)
watch(
  () => inCar.value?.id,
  async (id) => (tune.value = id ? await api(`/builds/${builds.current!.id}/tunes/${id}`, TuneAnswer).catch(() => null) : null),
  { immediate: true },
)
const sections = computed(() => handoverReport(builds.current!, tune.value?.document ?? null))
const signed = computed(() => latest(builds.context!.readings, 'handover.signed'))
const rehearsal = computed(() => builds.view === 'rehearsal')
const today = new Date().toISOString().slice(0, 10)
const print = () => window.print()
</script>

<template>
  <div v-if="builds.current">
    <div class="bar">
      <station-head title="Hand-over" line="As it will print, on A4 or Letter." />
      <n-button type="primary" @click="print">Print</n-button>
    </div>
    <printed-sheet
      :rehearsal="rehearsal"
      :car="builds.current.title"
      :version="inCar ? `tune ${inCar.number}` : 'no tune in the car'"
      :date="today"
      :name="settings.person"
    >
      <header>
        <span class="brand head">Sheet of work</span>
        <h1>{{ builds.current.title }}</h1>
        <p>Conversion report, {{ today }}. Made from what was entered, measured and computed; nothing else.</p>
      </header>
      <section v-for="s in sections" :key="s.id" class="mb-4" :class="s.id">
        <h2>{{ s.title }}</h2>
        <p v-if="!s.lines.length">{{ s.empty }}</p>
        <ul v-else-if="s.lines.every((l) => l.label === '')">
          <li v-for="(l, i) in s.lines" :key="i">{{ settings.say(l.text) }}</li>
        </ul>
        <table v-else>
          <tbody>
            <tr v-for="(l, i) in s.lines" :key="i">
              <th scope="row">{{ l.label }}</th>
              <td class="py-2px px-0">
                <strong>{{ settings.say(l.text) }}</strong>
                <span v-if="l.note" class="note">{{ settings.say(l.note) }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-for="table in tune ? tableNames : []" :key="table" class="sheets mb-4">
        <h2>{{ tableSpecs[table].label }}, version {{ tune!.number }}</h2>
        <table>
          <tbody>
            <tr v-for="j in tune!.document.axes.mapKpa.length" :key="j">
              <th scope="row">{{ tune!.document.axes.mapKpa[tune!.document.axes.mapKpa.length - j] }}</th>
              <td v-for="(rpm, i) in tune!.document.axes.rpm" :key="rpm" class="py-2px px-0">
                {{
                  tune!.document.tables[table][(tune!.document.axes.mapKpa.length - j) * tune!.document.axes.rpm.length + i].toFixed(
                    table === 'lambdaTarget' ? 2 : 0,
                  )
                }}
              </td>
            </tr>
            <tr>
              <th></th>
              <th v-for="rpm in tune!.document.axes.rpm" :key="rpm" scope="col">{{ rpm }}</th>
            </tr>
          </tbody>
        </table>
        <p class="note">rpm across, manifold pressure kPa up</p>
      </section>
      <footer class="flex gap-3 items-end mt-6">
        <template v-if="signed"><strong>Received by {{ signed.value.name }}</strong>, {{ signed.takenAt.slice(0, 10) }}</template>
        <template v-else> <span>Received by</span><span class="rule"></span><span>date</span><span class="rule short"></span> </template>
      </footer>
    </printed-sheet>
    <p v-if="rehearsal" class="soft">
      This sheet counts what the bench showed. Nothing is signed in rehearsal: go to the car in the strip above.
    </p>
    <template v-else>
      <section class="after mb-4" data-at="handover.after">
        <h2>As it drives now</h2>
        <p class="soft">The same driver, the same marks as before, the same starts: only what is filled is compared.</p>
        <entry-form kind="handover.after" />
      </section>
      <entry-form v-if="!signed" data-at="handover.signed" kind="handover.signed" />
    </template>
  </div>
</template>

<style scoped>
.brand {
  letter-spacing: 0.08em;
  text-transform: uppercase;
  color: #566270;
}
header {
  border-bottom: 3px solid #14202c;
  margin-bottom: var(--s4);
}
h2 {
  border-bottom: 1px solid #b9b09c;
  padding-bottom: 2px;
  margin-bottom: var(--s1);
}
th {
  text-align: left;
  font-weight: 400;
  width: 210px;
  vertical-align: top;
  color: #566270;
  padding: 2px var(--s3) 2px 0;
}
.sheets th,
.sheets td {
  width: auto;
  text-align: right;
  padding: 0 var(--s1);
  font-size: var(--t1);
}
.note {
  display: block;
  color: #566270;
  font-size: var(--t1);
}
.rule {
  flex: 1;
  border-bottom: 1px solid #14202c;
}
.short {
  flex: 0.4;
}
@media print {
  .bar,
  .sign {
    display: none;
  }
}
</style>
