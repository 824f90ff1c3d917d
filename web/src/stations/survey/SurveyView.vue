<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { missingFacts, valueAt } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import CarOutline from './CarOutline.vue'
import { zones } from './fields.ts'
import SurveyField from './SurveyField.vue'

const builds = useBuild()
const settings = useSettings()
const missing = computed(() => (builds.context ? missingFacts(builds.context) : []))
const missingByZone = computed(() => {
  const counts: Record<string, number> = {}
  for (const fact of missing.value) {
    const path = fact.path.startsWith('plan.') ? `choices.${fact.path}` : `facts.${fact.path}`
    const zone = zones.find((z) => z.fields.some((f) => f.path === path))
    if (zone) counts[zone.id] = (counts[zone.id] ?? 0) + 1
  }
  return counts
})
const knownByZone = computed(() =>
  Object.fromEntries(
    zones.map((z) => [z.id, `${z.fields.filter((f) => valueAt(builds.current, f.path) !== undefined).length} of ${z.fields.length}`]),
  ),
)
const selected = ref(Object.keys(missingByZone.value)[0] ?? 'engine')
const zone = computed(() => zones.find((z) => z.id === selected.value)!)
const note = ref('')
function addNote(): void {
  if (note.value.trim() === '') return
  builds.record('note', { text: note.value.trim() })
  note.value = ''
}
</script>

<template>
  <div v-if="builds.current" class="survey">
    <div class="station-head">
      <h1>Survey</h1>
      <p>
        {{
          missing.length
            ? `${missing.length} ${missing.length === 1 ? 'fact is' : 'facts are'} still needed; the dashed zones lack them.`
            : builds.station('survey')?.state === 'blocked'
              ? 'The facts are here, but one of them stops the job: see the docket.'
              : 'All that the next stations need is here. Units as you type them: 58 psi, 4 bar.'
        }}
      </p>
    </div>
    <div class="sheet">
      <car-outline class="outline" :selected="selected" :missing="missingByZone" :known="knownByZone" @select="selected = $event" />
      <section :aria-label="zone.title">
        <h2>{{ zone.title }}</h2>
        <div class="fields">
          <survey-field v-for="f in zone.fields" :key="f.path" :field="f" />
        </div>
        <form class="note" @submit.prevent="addNote">
          <n-input
            v-model:value="note"
            type="textarea"
            :autosize="{ minRows: 1, maxRows: 4 }"
            placeholder="A note for the logbook"
            :maxlength="4000"
            :input-props="{ 'aria-label': 'Note for the logbook' }"
          />
          <n-button attr-type="submit" :disabled="!note.trim()">Write down</n-button>
        </form>
        <p class="soft small">
          {{
            settings.person
              ? `Written down as ${settings.person}.`
              : 'Enter your name under the units button, so that the logbook knows who it was.'
          }}
        </p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.sheet {
  display: grid;
  grid-template-columns: 244px minmax(0, 1fr);
  gap: 24px;
  align-items: start;
}
.outline {
  position: sticky;
  top: 0;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 12px 16px;
  margin: 10px 0 18px;
  align-items: start;
}
.note {
  display: flex;
  gap: 8px;
  border-top: 1px solid var(--hair);
  padding-top: 12px;
}
.small {
  font-size: 14px;
}
@media (max-width: 700px) {
  .sheet {
    grid-template-columns: 1fr;
  }
  .outline {
    position: static;
    max-width: 260px;
  }
}
</style>
