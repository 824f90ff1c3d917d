<script setup lang="ts">
import { type GlobalTheme, NConfigProvider } from 'naive-ui'
import { computed, defineAsyncComponent, onMounted, shallowRef, watch, watchEffect } from 'vue'
import { RouterView, useRoute } from 'vue-router'
import PlainHttpBar from './shell/PlainHttpBar.vue'
import { api } from './api/client.ts'
import { useLink } from './stores/link.ts'
import { useMe } from './stores/me.ts'
import { useSettings } from './stores/settings.ts'
import { cssVariables, naiveOverrides, palettes } from './theme.ts'

const settings = useSettings()
const night = shallowRef<GlobalTheme | null>(null)
watch(
  () => settings.dark,
  async (dark) => (night.value = dark ? (await import('./night.ts')).darkTheme : null),
  { immediate: true },
)
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
const ask = async () => {
  try {
    const answer = import('./api/wire.ts').then((wire) => wire.Me)
    me.take(await api('/me', answer))
  } catch {
    // the link tells that the server is away, and asks again when it is back
  }
}
onMounted(ask)
useLink().onBack(() => void ask())
</script>

<template>
  <n-config-provider :theme="night" :theme-overrides="naiveOverrides(palette)" style="height: 100%">
    <div class="flex flex-col h-full">
      <plain-http-bar />
      <router-view class="room flex-1 min-h-0" />
    </div>
    <sign-in-sheet v-if="asks" />
  </n-config-provider>
</template>
