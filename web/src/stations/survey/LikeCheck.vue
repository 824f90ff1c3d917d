<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { factAt, notLookedAt, takenKey } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

/** Facts that were taken over from a like car: what of them nobody has looked at on this one, here and in all. */
const props = defineProps<{ paths: readonly string[] }>()
const builds = useBuild()
const like = computed(() => builds.context?.build.choices.survey?.like)
const open = computed(() => (builds.context ? notLookedAt(builds.context) : []))
const here = computed(() => open.value.filter((path) => props.paths.includes(`facts.${path}`)))
function looked(): void {
  for (const path of here.value) builds.change(`choices.survey.like.taken.${takenKey(path)}`, undefined)
}
</script>

<template>
  <section v-if="like && open.length" class="boxed" aria-label="Taken over from a like car">
    <p v-if="here.length" class="m-0">
      Taken over from {{ like.title }}, not looked at on this car: <strong>{{ here.map((p) => factAt(p).label).join(', ') }}</strong>.
      Change what differs; then
      <n-button size="small" type="primary" data-testid="looked" @click="looked">the rest here is as it says</n-button>
    </p>
    <p v-else class="soft m-0">Still to be looked at in other zones, as taken over from {{ like.title }}: {{ open.length }}.</p>
  </section>
</template>
