<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, reactive } from 'vue'
import { closers, entryKinds, feltLead, feltSays, openFelt } from '@vectum/core'
import { routeTo } from '../../shell/landing.ts'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** What was felt and is not settled: what the instruments showed, the next test, and the reading that closes it. */
const builds = useBuild()
const settings = useSettings()
const open = computed(() =>
  openFelt(builds.context!).map((felt) => {
    const lead = feltLead(felt.value, builds.context!)
    return {
      felt,
      lead,
      says: settings.say(feltSays(felt.value)),
      to: routeTo(lead.where, builds.current!.id),
      by: closers(builds.context!, felt),
    }
  }),
)
const picked = reactive<Record<string, string>>({})
const said = reactive<Record<string, string>>({})
/** the last one taken, unless another was chosen */
const readingOf = (f: (typeof open.value)[number]): string | undefined => picked[f.felt.id] ?? f.by.at(-1)?.id
function close(f: (typeof open.value)[number]): void {
  builds.record('learn.felt-closed', { feltId: f.felt.id, readingId: readingOf(f)!, said: said[f.felt.id].trim() })
}
</script>

<template>
  <section v-if="open.length" data-at="learn.felt" aria-label="What was felt" data-testid="felt-list">
    <h2>Felt, and not settled</h2>
    <article v-for="f in open" :key="f.felt.id" class="boxed">
      <h3>{{ f.says }} <small class="soft">{{ f.felt.takenAt.slice(0, 10) }}, {{ f.felt.who }}</small></h3>
      <p>It showed: {{ settings.say(f.lead.seen) }}.</p>
      <p><strong>{{ f.lead.test }}</strong> <router-link :to="f.to" class="chip">Go there</router-link></p>
      <div v-if="f.by.length" class="row">
        <label
          >Settled by
          <select :value="readingOf(f)" @change="(e) => (picked[f.felt.id] = (e.target as HTMLSelectElement).value)">
            <option v-for="r in f.by" :key="r.id" :value="r.id">{{ entryKinds[r.kind].title }}, {{ r.takenAt.slice(0, 10) }}</option>
          </select></label
        >
        <label class="said">What it was<n-input v-model:value="said[f.felt.id]" placeholder="gone since, or what was found" /></label>
        <n-button type="primary" :disabled="!said[f.felt.id]?.trim()" data-testid="felt-close" @click="close(f)">Settle it</n-button>
      </div>
      <p v-else class="soft">A reading taken after it closes it; there is none yet.</p>
    </article>
  </section>
</template>

<style scoped>
.said {
  flex: 1 1 240px;
}
</style>
