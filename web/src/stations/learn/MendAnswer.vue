<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { answerMend, learnSetup, lookedBeside, pressureReadRunning, withMendedAnswer } from '@vectum/core'
import { routeTo } from '../../shell/landing.ts'
import { useBuild } from '../../stores/build.ts'
import type { Solved } from './use-learning.ts'
import { useNewVersion } from './use-new-version.ts'
import { signed } from './cell-words.ts'

/** A unit that makes its base itself holds no table to correct: the answer that moves its base, worked out from a log and shown cell by cell before. */
const props = defineProps<{ solved: Solved; fits: boolean; logName: string }>()
const builds = useBuild()
const limitPct = computed(() => learnSetup(builds.current!, props.solved.tune?.document ?? null).learnLimitPct ?? null)
const mend = computed(() => {
  const { tune, result } = props.solved
  const told = result.verdicts.some((v) => v.code === 'answer-to-mend')
  return told && tune && limitPct.value ? answerMend(tune.document, result, limitPct.value) : null
})
const to = (station: 'fuel' | 'learn', part: string, field?: string) => routeTo({ station, part, field }, builds.current!.id)
const toLearn = computed(() => {
  const [least, most] = mend.value?.toLearnPct?.map(signed) ?? []
  return least === most ? least : `${least} to ${most}`
})
/** what must be on record first, with the room where it is written down */
const shut = computed(() => {
  if (!props.fits)
    return { because: 'This log is older than the tune now in the car. Drive again and bring the new log.', go: null, word: '' }
  if (!lookedBeside(builds.context!))
    return {
      because: 'Shut until the exhaust was smoked and a second meter held against the sensor: outside air reads as lean.',
      ...{ go: to('learn', 'beside'), word: 'Do both now' },
    }
  if (!pressureReadRunning(builds.context!))
    return {
      because: 'Shut until the fuel pressure was read at idle: a regulator that is off is mended there, not in an answer.',
      ...{ go: to('fuel', 'proof', 'fuel.pressure'), word: 'Read it now' },
    }
  return null
})
const { busy, problem, store: storeVersion } = useNewVersion()
const stored = ref<number | null>(null)
async function store(): Promise<void> {
  const { tune } = props.solved
  if (!mend.value || !tune) return
  const document = withMendedAnswer(tune.document, mend.value, `learned from ${props.logName} over version ${tune.number}`)
  const next = await storeVersion(async () => ({ document, origin: 'learned', parentId: tune.id }))
  if (next) stored.value = next.number
}
</script>

<template>
  <section v-if="mend" class="boxed" data-testid="mend-answer">
    <h2>Mend the answer that its base is made of</h2>
    <p>
      Flow of one injector: tell it <strong class="num">{{ mend.toCcMin }}</strong> instead of
      <span class="num">{{ mend.fromCcMin }}</span> cc/min. Every pulse then delivers
      <strong class="num">{{ signed(mend.morePct) }} %</strong
      ><template v-if="toLearn">, and {{ toLearn }} % is left for it to learn, within its {{ limitPct }} %</template>.
    </p>
    <p class="soft">
      The injectors pass what they pass: this makes up for the base that the unit works out by itself. What it has learned stands over the
      old base: clear it as the new answer goes in.
    </p>
    <template v-if="mend.beyond.length">
      <p class="stop">
        No answer brings these right. Look in its sheet for a way to close the loop there, and prove them on a dyno or a closed road:
      </p>
      <ul class="mx-0 mt-0 mb-3 pl-5">
        <li v-for="c in mend.beyond" :key="`${c.rpm} ${c.mapKpa}`">
          {{ c.rpm }} rpm, {{ c.mapKpa }} kPa: <strong class="num">{{ signed(c.thenPct) }} %</strong> would be left{{
            c.open ? ', its loop is open there' : ', more than it learns'
          }}
        </li>
      </ul>
    </template>
    <details class="mb-3">
      <summary><strong>Cell by cell</strong><span class="soft ml-2">{{ mend.cells.length }} cells</span></summary>
      <table>
        <thead>
          <tr>
            <th>Cell</th>
            <th>Wanted over the base now</th>
            <th>Over the mended one</th>
            <th>Driven</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in mend.cells" :key="`${c.rpm} ${c.mapKpa}`">
            <th scope="row">
              {{ c.rpm }} rpm, {{ c.mapKpa }} kPa<template v-if="c.unsafe">, <span class="stop">lean at high load</span></template>
            </th>
            <td class="num">{{ signed(c.neededPct) }} %</td>
            <td class="num">{{ signed(c.thenPct) }} %</td>
            <td class="num">{{ c.seconds.toFixed(0) }} s</td>
          </tr>
        </tbody>
      </table>
    </details>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <p v-if="stored" class="clear" role="status">
      Version {{ stored }} stored. Put it in, answer the flow anew
      <router-link :to="{ name: 'unit', params: { id: builds.current!.id } }">at the unit</router-link>, clear what it learned, then drive
      and bring that log.
    </p>
    <div v-else class="flex gap-4 items-center flex-wrap">
      <n-button type="primary" size="large" :loading="busy" :disabled="shut !== null" data-testid="mend-answer-store" @click="store"
        >Store as a new version</n-button
      >
      <span v-if="shut" class="soft">{{ shut.because }} <router-link v-if="shut.go" :to="shut.go">{{ shut.word }}</router-link></span>
    </div>
  </section>
</template>
