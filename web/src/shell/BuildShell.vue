<script setup lang="ts">
import { NButton, NMessageProvider, NSpin } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { RouterView, useRoute, useRouter } from 'vue-router'
import { useBuild } from '../stores/build.ts'
import CarStrip from './CarStrip.vue'
import ConflictSheet from './ConflictSheet.vue'
import Docket from './Docket.vue'
import EditSheet from './EditSheet.vue'
import HeldBar from './HeldBar.vue'
import JobLine from './JobLine.vue'
import NamePrompt from './NamePrompt.vue'
import RehearsalBar from './RehearsalBar.vue'
import { useKeys } from './keys.ts'
import { FindPalette, HelpSheet } from './sheets.ts'
import { provideLanding } from './landing.ts'

const props = defineProps<{ id: string }>()
const builds = useBuild()
const route = useRoute()
const router = useRouter()
const help = ref(false)
const palette = ref(false)
provideLanding()
watch(
  () => props.id,
  (id) => void builds.open(id),
  { immediate: true },
)
const build = computed(() => (builds.current?.id === props.id ? builds.current : null))
useKeys(
  router,
  () => build.value,
  () => (help.value = true),
  () => (palette.value = true),
)
const wide = computed(() => route.name === 'handover' || route.name === 'logbook')
</script>

<template>
  <div class="shell" :class="{ wide }">
    <car-strip
      class="top col-span-full bold-b-ink"
      :build="build"
      :pending="{ count: builds.pendingCount, saving: builds.saving }"
      :view="builds.view"
      @help="help = true"
      @view="(v) => (builds.view = v)"
    />
    <template v-if="build">
      <job-line class="left line-r-hair" :stations="build.stations" :build-id="build.id" :rehearsal="builds.view === 'rehearsal'" />
      <main class="work" :aria-label="String(route.name)">
        <p v-if="builds.refused" class="refused stop bold-a-stop py-2 px-3 mx-0 mt-0 mb-3" role="alert">
          {{ builds.refused }} <button class="plain underline" @click="builds.refused = null">close</button>
        </p>
        <held-bar />
        <rehearsal-bar />
        <n-message-provider placement="top"><router-view :key="build.id" /></n-message-provider>
      </main>
      <docket v-if="!wide" class="right line-l-hair min-h-0" :build="build" />
    </template>
    <main v-else class="work whole">
      <div v-if="builds.error" role="alert">
        <h1>{{ builds.error.status === 404 ? 'No such build' : 'The build could not be read' }}</h1>
        <p>{{ builds.error.message }}</p>
        <n-button v-if="builds.error.status !== 404" type="primary" @click="builds.open(id)">Try again</n-button>
        <n-button v-else type="primary" @click="router.push('/')">To the board</n-button>
      </div>
      <n-spin v-else size="large" description="reading the build" style="margin-top: 120px" />
    </main>
    <help-sheet v-if="help" v-model:show="help" :stations="build?.stations" />
    <find-palette v-if="palette" v-model:show="palette" :build="build" />
    <name-prompt />
    <edit-sheet />
    <conflict-sheet />
  </div>
</template>

<style scoped>
.shell {
  display: grid;
  grid-template: 56px minmax(0, 1fr) / 212px minmax(0, 1fr) 316px;
  height: 100%;
  overflow: hidden;
}
.shell.wide {
  grid-template-columns: 212px minmax(0, 1fr);
}
.work {
  /* what is hidden inside stays inside: one scroll bar */
  position: relative;
  background: var(--sheet);
  overflow: auto;
  padding: var(--s4) var(--s5);
  min-width: 0;
}
.whole {
  grid-column: 1 / -1;
  display: grid;
  justify-content: center;
  padding-top: 60px;
}
@media (max-width: 1000px) {
  .shell,
  .shell.wide {
    grid-template: 56px auto minmax(0, 1fr) auto / minmax(0, 1fr);
  }
  .left {
    flex-direction: row !important;
    overflow-x: auto;
    border-right: 0;
    border-bottom: 1px solid var(--hair);
    height: auto !important;
  }
  .right {
    border-left: 0;
    border-top: 2px solid var(--ink);
    max-height: 60vh;
  }
}
@media print {
  .shell {
    display: block;
    height: auto;
    overflow: visible;
  }
  .top,
  .left,
  .right {
    display: none !important;
  }
  .work {
    overflow: visible;
    background: #fff;
    padding: 0;
  }
}
</style>
