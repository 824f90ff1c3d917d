<script setup lang="ts">
import { NButton } from 'naive-ui'
import { v4 as uuid } from 'uuid'
import { computed, ref } from 'vue'
import { lastTest, reversalShown, takeParts, type TestedChange, TuneAnswer } from '@vectum/core'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'

/** Changes that were tested together and moved the mixture: each can be put back alone, into a version of its own, until one is found to be the cause. */
const builds = useBuild()
const busy = ref<string | null>(null)
const problem = ref<string | null>(null)
const shown = computed(() => reversalShown(builds.context!))
const test = computed(() => {
  const last = lastTest(builds.context!)
  return last && last.moved !== 'same' && last.changes && last.changes.length > 1 ? last : null
})
/** the question is answered: nothing more is put back */
const found = computed(() => shown.value?.says === 'cause')
const waits = (what: string): boolean =>
  builds.current!.tunes.some((t) => t.name === nameOf(what) && (t.status === 'draft' || t.status === 'ready'))
const nameOf = (what: string): string => `${test.value!.after.number} with ${what} back as in ${test.value!.before.number}`.slice(0, 120)
async function putBack(change: TestedChange): Promise<void> {
  const { before, after } = test.value!
  busy.value = change.label
  problem.value = null
  try {
    const path = `/builds/${builds.current!.id}/tunes`
    const [had, has] = await Promise.all([before, after].map(({ tuneId }) => api(`${path}/${tuneId}`, TuneAnswer)))
    const id = uuid()
    const body = {
      ...{ id, name: nameOf(change.label), origin: 'edited', parentId: after.tuneId },
      document: takeParts(has.document, had.document, change.parts),
    }
    await api(path, TuneAnswer, { method: 'POST', body })
    builds.record('learn.reversal', { tuneId: id, ofTuneId: after.tuneId, toTuneId: before.tuneId, what: change.label.slice(0, 120) })
    await builds.reload()
  } catch (e) {
    problem.value = (e as Error).message
  } finally {
    busy.value = null
  }
}
</script>

<template>
  <section v-if="test" data-at="one-change" class="boxed" aria-label="Changes tested together" data-testid="one-change">
    <h2 v-if="shown" data-testid="reversal-shown">
      {{ { cause: 'It was this:', 'not-cause': 'It was not this:', part: 'It had a part:' }[shown.says] }} {{ shown.what }},
      {{ shown.errorsPct[2].toFixed(1) }} % rms without it.
    </h2>
    <h2 v-else>{{ test.changes!.length }} changes, one log: which of them?</h2>
    <p>
      Version {{ test.before.number }} left {{ test.before.errorRmsPct.toFixed(1) }} % rms, version {{ test.after.number }}
      {{ test.after.errorRmsPct.toFixed(1) }} %.<template v-if="!found">
        Put one back alone, drive the same roads, and bring that log.</template
      >
    </p>
    <div v-for="change in found ? [] : test.changes" :key="change.label" class="act">
      <strong>{{ change.label }}</strong>
      <span v-if="test.tried.includes(change.label)" class="soft">put back and tested</span>
      <span v-else-if="!change.parts.length" class="soft">no version undoes it: look at it with your hands</span>
      <span v-else-if="waits(change.label)" class="soft">a version with it back is stored: put it in the car and drive</span>
      <n-button
        v-else
        size="large"
        :loading="busy === change.label"
        :disabled="busy !== null"
        :data-testid="`put-back-${change.parts[0]}`"
        @click="putBack(change)"
        >Put it back alone</n-button
      >
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
  </section>
</template>
