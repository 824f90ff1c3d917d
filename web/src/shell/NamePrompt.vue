<script setup lang="ts">
import { NButton, NInput, NModal } from 'naive-ui'
import { ref } from 'vue'
import { useBuild } from '../stores/build.ts'

/** Who is working: asked once, before the first entry, since an entry says who witnessed it. */
const builds = useBuild()
const name = ref('')
function go(): void {
  if (name.value.trim()) builds.sign(name.value.trim())
}
</script>

<template>
  <n-modal :show="builds.unnamed.length > 0" preset="card" title="Who is working?" style="max-width: 460px" @close="builds.dropUnnamed()">
    <form class="ask grid gap-3" @submit.prevent="go">
      <label for="who"
        >Your name stands beside what you measure and see, in the logbook and on the sheet. It is kept in this browser.</label
      >
      <n-input v-model:value="name" :maxlength="80" placeholder="your name" autofocus :input-props="{ id: 'who', autocomplete: 'name' }" />
      <n-button type="primary" size="large" attr-type="submit" :disabled="!name.trim()" data-testid="who-go"
        >Record it under this name</n-button
      >
    </form>
  </n-modal>
</template>
