<script setup lang="ts">
import { NButton, NModal } from 'naive-ui'
import { pathWords, valueSays } from '@vectum/core'
import { useBuild } from '../stores/build.ts'
import { useSettings } from '../stores/settings.ts'

const builds = useBuild()
const settings = useSettings()
const words = (path: string, value: unknown) => settings.say(valueSays(path, value))
</script>

<template>
  <n-modal
    :show="builds.conflicts.length > 0"
    preset="card"
    title="Someone else changed this too"
    :closable="false"
    :mask-closable="false"
    style="max-width: 620px"
    :bordered="false"
  >
    <p>While you were typing, another screen saved a different value. Nothing is lost; choose which one stands.</p>
    <div v-for="c in builds.conflicts" :key="c.path" class="row" data-testid="conflict">
      <strong class="flex-1">{{ pathWords(c.path) }}</strong>
      <n-button @click="builds.settle(c.path, 'mine')">mine: {{ words(c.path, c.mine) }}</n-button>
      <n-button @click="builds.settle(c.path, 'theirs')">theirs: {{ words(c.path, c.theirs) }}</n-button>
    </div>
  </n-modal>
</template>

<style scoped>
.row {
  display: flex;
  gap: var(--s3);
  align-items: center;
  flex-wrap: wrap;
  padding: var(--s2) 0;
  border-top: 1px solid var(--hair);
}
</style>
