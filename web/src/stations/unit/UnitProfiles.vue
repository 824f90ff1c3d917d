<script setup lang="ts">
import { NButton, NInput, NSelect } from 'naive-ui'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { Anything, UnitProfile, UnitProfiles } from '@vectum/core'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'

/** A unit that the shop has met before is taken from its profile; one that was typed in is kept for the next car. */
const builds = useBuild()
const all = shallowRef<UnitProfile[]>([])
const chosen = ref<string | null>(null)
const name = ref('')
const said = ref<{ text: string; bad: boolean } | null>(null)
const load = async (): Promise<void> => {
  all.value = await api('/unit-profiles', UnitProfiles).catch(() => [])
}
onMounted(load)
const options = computed(() => all.value.map((p) => ({ value: p.name, label: p.name })))
async function trying(work: () => Promise<string>): Promise<void> {
  try {
    said.value = { text: await work(), bad: false }
  } catch (e) {
    said.value = { text: (e as Error).message, bad: true }
  }
  await load()
}
const keep = () =>
  trying(async () => {
    const { unit, plan } = builds.current!.choices
    const body = { unit: unit ?? {}, ...(plan?.unit ? { offers: plan.unit } : {}) }
    await api(`/unit-profiles/${encodeURIComponent(name.value.trim())}`, UnitProfile, { method: 'PUT', body })
    builds.change('choices.unit.profile', name.value.trim())
    return `Kept as “${name.value.trim()}”.`
  })
const forget = () =>
  trying(async () => {
    await api(`/unit-profiles/${encodeURIComponent(chosen.value!)}`, Anything, { method: 'DELETE' })
    const text = `“${chosen.value}” forgotten.`
    chosen.value = null
    return text
  })
function take(): void {
  const profile = all.value.find((p) => p.name === chosen.value)
  if (!profile) return
  for (const [key, value] of Object.entries(profile.unit)) builds.change(`choices.unit.${key}`, value)
  for (const [key, value] of Object.entries(profile.offers ?? {})) builds.change(`choices.plan.unit.${key}`, value)
  builds.change('choices.unit.profile', profile.name)
  said.value = { text: `Taken from “${profile.name}”.`, bad: false }
}
</script>

<template>
  <div class="row" data-testid="profiles">
    <label v-if="options.length" class="min-w-220px"
      >Begin from a unit of the shop<n-select v-model:value="chosen" :options="options" placeholder="a profile" aria-label="Profile"
    /></label>
    <n-button v-if="options.length" size="large" :disabled="!chosen" @click="take">Take it</n-button>
    <n-button v-if="options.length" size="large" quaternary :disabled="!chosen" @click="forget">Forget it</n-button>
    <label class="min-w-220px"
      >Keep this one as<n-input
        v-model:value="name"
        placeholder="a name of your own"
        :input-props="{ 'data-testid': 'profile-name' } as never"
    /></label>
    <n-button size="large" :disabled="!name.trim()" data-testid="keep-profile" @click="keep">Keep</n-button>
    <span v-if="said" :class="said.bad ? 'stop' : 'clear'" role="status">{{ said.text }}</span>
  </div>
</template>
