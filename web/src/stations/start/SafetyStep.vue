<script setup lang="ts">
import { computed } from 'vue'
import { latest } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import { useBuild } from '../../stores/build.ts'

/** Two people, an extinguisher, a stop word. */
const builds = useBuild()
const emit = defineEmits<{ recorded: [] }>()
const known = computed(() => latest(builds.context!.readings, 'start.prepared'))
</script>

<template>
  <div>
    <p>
      Whoever turns the key and whoever looks for leaks are two people. Wheels chocked, neutral, brake on, exhaust led outside, sleeves and
      hair away from the fan.
    </p>
    <entry-form class="act" kind="start.safety" @recorded="emit('recorded')" />
    <entry-form class="act" kind="start.prepared" @recorded="emit('recorded')" />
    <span v-if="known" class="clear">looked at</span>
  </div>
</template>
