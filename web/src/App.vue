<script setup lang="ts">
import { darkTheme, NConfigProvider, NMessageProvider } from 'naive-ui'
import { computed, defineAsyncComponent, onMounted, watchEffect } from 'vue'
import { RouterView, useRoute } from 'vue-router'
import PlainHttpBar from './shell/PlainHttpBar.vue'
import { useLink } from './stores/link.ts'
import { useMe } from './stores/me.ts'
import { useSettings } from './stores/settings.ts'
import { cssVariables, naiveOverrides, palettes } from './theme.ts'

const settings = useSettings()
const palette = computed(() => (settings.dark ? palettes.dark : palettes.light))
watchEffect(() => {
  for (const [name, value] of Object.entries(cssVariables(palette.value))) document.documentElement.style.setProperty(name, value)
  document.documentElement.style.colorScheme = settings.dark ? 'dark' : 'light'
})
const me = useMe()
const route = useRoute()
// not a part of the first page: most screens never show it
const SignInSheet = defineAsyncComponent(() => import('./people/SignInSheet.vue'))
const asks = computed(() => me.access === 'signed-out' || me.me?.wantsSecret || route.name === 'pair')
const ask = async () => void (await (await import('./people/use-people.ts')).usePeople().load())
onMounted(ask)
useLink().onBack(() => void ask())
</script>

<template>
  <n-config-provider :theme="settings.dark ? darkTheme : null" :theme-overrides="naiveOverrides(palette)" style="height: 100%">
    <n-message-provider placement="top">
      <div class="house">
        <plain-http-bar />
        <router-view class="room" />
      </div>
      <sign-in-sheet v-if="asks" />
    </n-message-provider>
  </n-config-provider>
</template>

<style scoped>
.house {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.room {
  flex: 1;
  min-height: 0;
}
</style>
