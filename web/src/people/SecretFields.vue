<script setup lang="ts">
import { SECRET_LENGTH } from '@vectum/core'
import { NInput } from 'naive-ui'
import { computed } from 'vue'

/** A new secret, typed once and shown if wanted: what is seen is not mistyped. */
const secret = defineModel<string>({ required: true })
const props = defineProps<{ id: string }>()
const short = computed(() => secret.value.length > 0 && secret.value.length < SECRET_LENGTH.min)
</script>

<template>
  <div>
    <label :for="props.id">Secret</label>
    <n-input
      v-model:value="secret"
      placeholder=""
      type="password"
      show-password-on="click"
      :maxlength="SECRET_LENGTH.max"
      :status="short ? 'warning' : undefined"
      :input-props="{ id: props.id, autocomplete: 'new-password' }"
    />
    <small class="soft"
      >At least {{ SECRET_LENGTH.min }} characters{{ short ? `, ${SECRET_LENGTH.min - secret.length} more` : '' }}. Three or four words that
      do not belong together.</small
    >
  </div>
</template>
