<script setup lang="ts">
import { darkTheme, NConfigProvider, NMessageProvider } from 'naive-ui'
import { computed, watchEffect } from 'vue'
import { RouterView } from 'vue-router'
import { useSettings } from './stores/settings.ts'
import { cssVariables, naiveOverrides, palettes } from './theme.ts'

const settings = useSettings()
const palette = computed(() => (settings.dark ? palettes.dark : palettes.light))
watchEffect(() => {
  for (const [name, value] of Object.entries(cssVariables(palette.value))) document.documentElement.style.setProperty(name, value)
  document.documentElement.style.colorScheme = settings.dark ? 'dark' : 'light'
})
</script>

<template>
  <n-config-provider :theme="settings.dark ? darkTheme : null" :theme-overrides="naiveOverrides(palette)" style="height: 100%">
    <n-message-provider placement="top">
      <router-view />
    </n-message-provider>
  </n-config-provider>
</template>
