<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, reactive } from 'vue'
import { checkFact, planSizes, type Size, type SizeId } from '@vectum/core'
import QuantityField from '../../quantity/QuantityField.vue'
import WorkingNumber from '../../shell/WorkingNumber.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** Every size with its working, and a place for the person's own figure with its reason. */
const builds = useBuild()
const settings = useSettings()
const sizes = computed(() => planSizes(builds.context!))
const open = reactive<{ id: SizeId | null; value: number | undefined; reason: string }>({ id: null, value: undefined, reason: '' })
const path = (id: SizeId) => `choices.plan.overrides.${id}`
function begin(size: Size): void {
  open.id = size.sizeId
  open.value = size.value ?? undefined
  open.reason = size.reason ?? ''
}
const problem = computed(() =>
  open.id && open.value !== undefined && open.reason.trim() ? checkFact(path(open.id), { value: open.value, reason: open.reason }) : null,
)
function keep(): void {
  builds.change(path(open.id!), { value: open.value, reason: open.reason.trim() })
  open.id = null
}
</script>

<template>
  <p v-if="!sizes.length" class="soft">Enter displacement or power in Survey: every size comes from them.</p>
  <div v-for="s in sizes" :key="s.id" class="size grid grid-cols-[minmax(0,460px)_auto_minmax(0,1fr)] gap-y-1 gap-x-4 items-center">
    <working-number :number="s" class="number" />
    <span v-if="s.stock && !s.reason" class="stock">buy {{ settings.say(s.stock) }}</span>
    <span v-if="s.reason" class="reason col-span-full order-1 text-t2"
      >own figure, {{ s.reason }}; computed {{ settings.format(s.computed, s.dimension) }}</span
    >
    <div class="tools">
      <n-button v-if="open.id !== s.sizeId" size="small" @click="begin(s)">Own figure</n-button>
      <n-button v-if="s.reason" size="small" @click="builds.change(path(s.sizeId), undefined)">Take the computed one</n-button>
    </div>
    <form v-if="open.id === s.sizeId" class="own" @submit.prevent="keep">
      <quantity-field v-model="open.value" :label="`${s.label}, own figure`" :dimension="s.dimension" />
      <div>
        <label for="own-reason">Why</label>
        <n-input
          v-model:value="open.reason"
          :maxlength="200"
          placeholder="the reason stays beside it"
          :input-props="{ id: 'own-reason' }"
        />
      </div>
      <n-button type="primary" attr-type="submit" :disabled="open.value === undefined || open.reason.trim().length < 3 || problem !== null"
        >Keep</n-button
      >
      <n-button @click="open.id = null">Leave</n-button>
      <p v-if="problem" class="stop col-span-full m-0" role="alert">{{ problem }}</p>
    </form>
  </div>
</template>

<style scoped>
.number {
  grid-column: 1;
  grid-row: 1;
}
.stock {
  font: 600 var(--t3) var(--head);
  grid-column: 3;
  grid-row: 1;
}
.tools {
  grid-column: 2;
  grid-row: 1;
  display: flex;
  gap: var(--s2);
}
.own {
  order: 2;
  grid-column: 1 / -1;
  display: grid;
  grid-template-columns: 220px minmax(0, 1fr) auto auto;
  gap: var(--s3);
  align-items: end;
  padding: var(--s2) 0 var(--s4);
}
@media (max-width: 700px) {
  .own {
    grid-template-columns: 1fr;
  }
}
</style>
