<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import CarStrip from './CarStrip.vue'
import { useKeys } from './keys.ts'
import { FindPalette, HelpSheet } from './sheets.ts'

/** A page that is no car's: the strip with its title, and the keys that lead on. */
defineProps<{ title: string; says: string }>()
const router = useRouter()
const help = ref(false)
const palette = ref(false)
useKeys(
  router,
  () => null,
  () => (help.value = true),
  () => (palette.value = true),
)
</script>

<template>
  <div class="page">
    <car-strip class="top bold-b-ink" @help="help = true"
      ><strong class="head">{{ title }}</strong> <span class="soft">{{ says }}</span></car-strip
    >
    <main class="overflow-auto bg-sheet px-5 pt-3 pb-6"><slot /></main>
    <help-sheet v-if="help" v-model:show="help" />
    <find-palette v-if="palette" v-model:show="palette" :build="null" />
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-rows: 56px minmax(0, 1fr);
  height: 100%;
}
</style>
