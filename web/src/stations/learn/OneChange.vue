<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { lastTest, reversalShown, takeParts, type TestedChange, TuneAnswer } from '@vectum/core'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'
import { useNewVersion } from './use-new-version.ts'

/** Changes that were tested together and moved the mixture: each can be put back alone, into a version of its own, until one is found to be the cause. */
const builds = useBuild()
const { busy, problem, store } = useNewVersion()
const pressed = ref('')
const shown = computed(() => reversalShown(builds.context!))
/** the question is answered: nothing more is put back */
const found = computed(() => shown.value?.says === 'cause')
const test = computed(() => {
  const last = lastTest(builds.context!)
  return last && last.moved !== 'same' && last.moved !== 'elsewhere' && last.changes && last.changes.length > 1 ? last : null
})
async function putBack({ label, parts }: TestedChange): Promise<void> {
  const { before, after } = test.value!
  pressed.value = label
  const made = await store(async () => {
    const path = `/builds/${builds.current!.id}/tunes`
    const [had, has] = await Promise.all([before, after].map(({ tuneId }) => api(`${path}/${tuneId}`, TuneAnswer)))
    const name = `${after.number} with ${label} back as in ${before.number}`.slice(0, 120)
    return { name, origin: 'edited', parentId: after.tuneId, document: takeParts(has.document, had.document, parts) }
  })
  if (made) builds.record('learn.reversal', { tuneId: made.id, ofTuneId: after.tuneId, toTuneId: before.tuneId, what: label.slice(0, 120) })
}
</script>

<template>
  <section v-if="test" data-at="one-change" class="boxed" aria-label="Changes tested together" data-testid="one-change">
    <h2 v-if="shown?.says === 'elsewhere'" data-testid="reversal-shown">
      {{ shown.what }}: not known yet, since the log with it put back was driven elsewhere.
    </h2>
    <h2 v-else-if="shown" data-testid="reversal-shown">
      {{ { cause: 'It was this:', 'not-cause': 'It was not this:', part: 'It had a part:' }[shown.says] }} {{ shown.what }},
      {{ shown.errorsPct[2].toFixed(1) }} % rms without it.
    </h2>
    <h2 v-else>{{ test.changes!.length }} changes, one log: which of them?</h2>
    <p>
      Version {{ test.before.number }} left {{ test.before.errorRmsPct.toFixed(1) }} % rms, version {{ test.after.number }} left
      {{ test.after.errorRmsPct.toFixed(1) }} %<template v-if="test.sharedTime < 1">, at the cells that both drove</template>.<template
        v-if="!found"
      >
        Put one back alone, drive the same roads, and bring that log.</template
      >
    </p>
    <div v-for="change in found ? [] : test.changes" :key="change.label" class="act">
      <strong>{{ change.label }}</strong>
      <span v-if="shown?.says === 'elsewhere' && shown.what === change.label" class="soft">put back: drive it on the same roads</span>
      <span v-else-if="test.tried.includes(change.label)" class="soft">put back and tested</span>
      <span v-else-if="!change.parts.length" class="soft">no version undoes it: look at it with your hands</span>
      <span v-else-if="test.waiting.includes(change.label)" class="soft"
        >a version with it back is stored: put it in the car and drive</span
      >
      <n-button
        v-else
        size="large"
        :loading="busy && pressed === change.label"
        :disabled="busy"
        :data-testid="`put-back-${change.parts[0]}`"
        @click="putBack(change)"
        >Put it back alone</n-button
      >
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
  </section>
</template>
