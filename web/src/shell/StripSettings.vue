<script setup lang="ts">
import { NInput, NPopover, NRadioButton, NRadioGroup } from 'naive-ui'
import { RouterLink } from 'vue-router'
import { useMe } from '../stores/me.ts'
import { useSettings } from '../stores/settings.ts'

/** Who is working, and what they like: units, mixture, light. Open as soon as it is there. */
defineProps<{ words: string }>()
const settings = useSettings()
const me = useMe()
</script>

<template>
  <n-popover default-show trigger="click" placement="bottom-end">
    <template #trigger><button class="chip" data-testid="settings">{{ words }}</button></template>
    <div class="settings grid gap-2 p-1">
      <template v-if="me.signer">
        <span class="head">{{ me.signer.name }}, {{ me.role }}</span>
        <router-link to="/people">People, tablets, sign out</router-link>
      </template>
      <template v-else>
        <label class="head" for="person">Your name, for the logbook</label>
        <n-input v-model:value="settings.person" placeholder="who is working" :maxlength="80" :input-props="{ id: 'person' }" />
        <router-link to="/people">Nobody signs in yet: make the first owner</router-link>
      </template>
      <span class="head">Units</span>
      <n-radio-group v-model:value="settings.system" aria-label="Units"
        ><n-radio-button value="metric" label="mm, kPa, °C" /><n-radio-button value="inch" label="inch, psi, °F"
      /></n-radio-group>
      <span class="head">Mixture</span>
      <n-radio-group v-model:value="settings.mixture" aria-label="Mixture"
        ><n-radio-button value="lambda" label="lambda" /><n-radio-button value="AFR" label="AFR"
      /></n-radio-group>
      <span class="head">Light</span>
      <n-radio-group v-model:value="settings.theme" aria-label="Theme"
        ><n-radio-button value="auto" label="as the device" /><n-radio-button value="light" label="day" /><n-radio-button
          value="dark"
          label="night"
      /></n-radio-group>
    </div>
  </n-popover>
</template>
