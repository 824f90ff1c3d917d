<script setup lang="ts">
/** The part of a log that is looked at closely, on its strip: a thing of its own, so that moving it draws nothing else again. */
defineProps<{ seen: { from: number; to: number }; durationS: number }>()
</script>

<template>
  <div
    class="part"
    data-testid="seen-part"
    :style="{ left: `${(100 * seen.from) / durationS}%`, width: `${(100 * (seen.to - seen.from)) / durationS}%` }"
  ></div>
</template>

<style scoped>
.part {
  position: absolute;
  top: 0;
  height: 60px;
  min-width: 3px;
  background: var(--wash);
  border: 1px solid var(--ink);
}
</style>
