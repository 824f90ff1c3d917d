<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { mendConstant, needShapeDriven } from '@vectum/core'
import type { Solved } from './use-learning.ts'
import { useNewVersion } from './use-new-version.ts'
import { signed } from './cell-words.ts'

/** A constant that was learned everywhere goes into the answer it belongs to, and what was learned is scaled: shown cell by cell before. */
const props = defineProps<{ solved: Solved }>()
const shape = computed(() => needShapeDriven(props.solved.result))
const made = computed(() => {
  const { tune, result } = props.solved
  if (!tune || !shape.value) return null
  try {
    return { mended: mendConstant(tune.document, result, shape.value.constantPct), problem: null }
  } catch (e) {
    return { mended: null, problem: (e as Error).message }
  }
})
const { busy, problem, store: storeVersion } = useNewVersion()
const done = ref('')
const cellAt = (i: number, j: number): string => `${props.solved.result.rpm[i]} rpm, ${props.solved.result.mapKpa[j]} kPa`
async function store(): Promise<void> {
  const mended = made.value?.mended
  if (!mended) return
  const next = await storeVersion(async () => ({ document: mended.tune, origin: 'learned', parentId: props.solved.tune!.id }))
  if (next) done.value = `Version ${next.number} stored. Put it in the car together with the scaled learned values.`
}
</script>

<template>
  <section v-if="solved.result.verdicts.some((v) => v.code === 'constant-to-mend') && made && shape" class="boxed" data-testid="mend">
    <h2>Mend the answer, not the map: {{ signed(shape.constantPct) }} % everywhere</h2>
    <p v-if="made.problem" class="stop">{{ made.problem }}</p>
    <template v-else-if="made.mended">
      <p>
        Flow of one injector from {{ made.mended.fromCcMin }} to <strong>{{ made.mended.toCcMin }} cc/min</strong>; every learned value is
        scaled, so that the fuel delivered changes by {{ made.mended.worstPct.toFixed(2) }} % at most. Read the pressure at idle first: if
        that is what is wrong, mend it there.
      </p>
      <details>
        <summary><strong>Cell by cell</strong><span class="soft">{{ made.mended.cells.length }} cells</span></summary>
        <table>
          <thead>
            <tr>
              <th>Cell</th>
              <th>It holds</th>
              <th>It shall hold</th>
              <th>Fuel changes</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in made.mended.cells" :key="`${c.i} ${c.j}`">
              <th scope="row">{{ cellAt(c.i, c.j) }}</th>
              <td class="num">{{ signed(c.fromPct) }} %</td>
              <td class="num">{{ signed(c.toPct) }} %</td>
              <td>{{ c.deliveredPct.toFixed(2) }} %</td>
            </tr>
          </tbody>
        </table>
      </details>
      <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
      <p v-else-if="done" class="clear" role="status">{{ done }}</p>
      <n-button type="primary" size="large" :loading="busy" data-testid="mend-store" @click="store">Store as a new version</n-button>
    </template>
  </section>
</template>
