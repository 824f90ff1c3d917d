<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { NButton, NInput } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { missingFacts, sharpeningFacts, valueAt } from '@vectum/core'
import StationHead from '../../kit/StationHead.vue'
import FactField from '../../quantity/FactField.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import { useLanding } from '../../shell/landing.ts'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import CarOutline from './CarOutline.vue'
import LikeCheck from './LikeCheck.vue'
import { fieldFor, fieldsOf, zones, type Group } from './zones.ts'
import FileShelf from '../../shell/FileShelf.vue'
import OldTiming from './OldTiming.vue'

const builds = useBuild()
const settings = useSettings()
const missing = computed(() => (builds.context ? missingFacts(builds.context) : []))
const missingByZone = computed(() => {
  const counts: Record<string, number> = {}
  for (const { path } of missing.value) {
    const zone = fieldFor(path)?.zone
    if (zone) counts[zone] = (counts[zone] ?? 0) + 1
  }
  return counts
})
const known = (path: string) => valueAt(builds.current, path) !== undefined
const knownByZone = computed(() =>
  Object.fromEntries(zones.map((z) => [z.id, `${fieldsOf(z).filter((f) => known(f.path)).length} of ${fieldsOf(z).length}`])),
)
const selected = ref(Object.keys(missingByZone.value)[0] ?? 'engine')
const zone = computed(() => zones.find((z) => z.id === selected.value)!)

/** What the stations still want: the survey first, then what sharpens each later one. */
const wants = computed(() => {
  const c = builds.context
  if (!c) return []
  return builds
    .current!.stations.map((s) => ({ id: s.id, title: s.title, facts: s.id === 'survey' ? missing.value : sharpeningFacts(c, s.id) }))
    .filter((w) => w.facts.length)
})
const asked = ref<string | null>(null)
/** the list stays as it was opened, so that an answered field does not jump from under the thumb */
const askedFields = ref<ReturnType<typeof fieldFor>[]>([])
function ask(id: string): void {
  asked.value = asked.value === id ? null : id
  askedFields.value = (wants.value.find((w) => w.id === asked.value)?.facts ?? []).map((f) => fieldFor(f.path)).filter(Boolean)
}
function open(zoneId: string): void {
  asked.value = null
  selected.value = zoneId
}

const folded = useStorage<Record<string, boolean>>('vectum.survey.folded', {})
const landing = useLanding()
watch(
  landing.at,
  (at) => {
    const found = at ? fieldFor(at.replace(/^facts\./, '')) : undefined
    if (!found) return
    asked.value = null
    selected.value = found.zone
    const group = zones.find((z) => z.id === found.zone)!.groups.find((g) => g.fields.some((f) => f.path === at))!
    folded.value = { ...folded.value, [group.id]: false }
  },
  { immediate: true },
)
const isOpen = (g: Group, first: boolean) =>
  folded.value[g.id] === undefined ? first || g.fields.some((f) => known(f.path)) : !folded.value[g.id]
const count = (g: Group) => `${g.fields.filter((f) => known(f.path)).length} of ${g.fields.length}`

const note = ref('')
function addNote(): void {
  if (note.value.trim() === '') return
  builds.record('note', { text: note.value.trim() })
  note.value = ''
}
const headline = computed(() =>
  missing.value.length
    ? `${missing.value.length} ${missing.value.length === 1 ? 'fact is' : 'facts are'} still needed; the dashed zones lack them.`
    : builds.station('survey')?.state === 'blocked'
      ? 'The facts are here, but one of them stops the job: see the docket.'
      : 'All that the next stations need is here. Units as you type them: 58 psi, 4 bar.',
)
</script>

<template>
  <div v-if="builds.current" class="survey">
    <station-head title="Survey" :line="headline" />
    <nav v-if="wants.length" class="wants flex flex-wrap gap-2 mb-3" aria-label="What the stations still want">
      <button
        v-for="w in wants"
        :key="w.id"
        :class="{ on: asked === w.id, hard: w.id === 'survey' }"
        :aria-pressed="asked === w.id"
        @click="ask(w.id)"
      >
        {{ w.title }}
        <small class="text-t2 font-500 text-soft">{{
          w.id === 'survey' ? `needs ${w.facts.length}` : `would like ${w.facts.length}`
        }}</small>
      </button>
    </nav>
    <div class="sheet grid grid-cols-[232px_minmax(0,1fr)] gap-5 items-start">
      <car-outline class="outline" :selected="asked ? '' : selected" :missing="missingByZone" :known="knownByZone" @select="open" />
      <section v-if="asked" :aria-label="`What ${asked} wants`">
        <h2>{{ asked === 'survey' ? 'Needed before anything else' : 'Would sharpen the sums; not known is an answer' }}</h2>
        <div class="fields">
          <fact-field v-for="f in askedFields" :key="f!.field.path" :field="f!.field" />
        </div>
        <n-button @click="asked = null">Back to the car</n-button>
      </section>
      <section v-else :aria-label="zone.title">
        <like-check :paths="fieldsOf(zone).map((f) => f.path)" />
        <details
          v-for="(g, i) in zone.groups"
          :key="g.id"
          class="group line-b-hair"
          :open="isOpen(g, i === 0)"
          @toggle="folded[g.id] = !($event.target as HTMLDetailsElement).open"
        >
          <summary class="flex items-center justify-between min-h-48px cursor-pointer">
            <h2 class="flex-1">{{ g.title }}</h2>
            <span class="soft">{{ count(g) }}</span>
          </summary>
          <div class="fields">
            <fact-field v-for="f in g.fields" :key="f.path" :field="f" />
          </div>
          <old-timing v-if="g.id === 'curve'" />
        </details>
        <file-shelf :key="zone.id" :item="zone.id" :title="zone.title" />
        <form class="note flex gap-2 line-t-hair pt-3" @submit.prevent="addNote">
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
        <p class="soft text-t1">
          {{
            settings.person
              ? `Written down as ${settings.person}.`
              : 'Enter your name under the units button, so that the logbook knows who it was.'
          }}
        </p>
        <caution-strip station="survey" />
      </section>
    </div>
  </div>
</template>

<style scoped>
.outline {
  position: sticky;
  top: 0;
}
.wants button {
  min-height: 44px;
  padding: 0 var(--s3);
  border: 1px solid var(--soft);
  background: var(--sheet);
  color: var(--ink);
  font: 600 var(--t3) var(--head);
  cursor: pointer;
}
.wants .hard {
  border: 2px dashed var(--warn);
}
.wants .on {
  background: var(--ink);
  color: var(--onInk);
}
.wants .on small {
  color: var(--onInk);
}
summary::before {
  content: '+';
  font: 600 var(--t4) var(--head);
  width: 22px;
}
[open] > summary::before {
  content: '–';
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
