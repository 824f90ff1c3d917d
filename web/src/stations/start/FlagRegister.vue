<script setup lang="ts">
import { computed } from 'vue'
import { faultFlagKinds, flagRegister, flagTitle } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** The unit's fault flags: what each means, how often it was seen, and what cleared it. */
const builds = useBuild()
const settings = useSettings()
const register = computed(() => flagRegister(builds.context!))
const day = (iso: string) => iso.slice(0, 16).replace('T', ' ')
</script>

<template>
  <section v-if="register.length" class="line-t-hair py-2 px-0" aria-label="Fault flags of the unit">
    <strong class="head">Flags of the unit</strong>
    <ul class="list-none m-0 p-0">
      <li v-for="e in register" :key="e.flag" :class="{ open: e.clearedBy === null }">
        <div>
          <strong class="mr-2">{{ flagTitle(e.flag) }}</strong>
          <span class="soft">{{ e.times === 1 ? 'seen once' : `seen ${e.times} times` }}, last {{ day(e.lastAt) }}</span>
          <p v-if="faultFlagKinds[e.flag]" class="m-0">
            {{ settings.say(faultFlagKinds[e.flag].means) }} {{ faultFlagKinds[e.flag].look }}
          </p>
        </div>
        <span v-if="e.clearedBy !== null" class="clear">cleared by {{ e.clearedBy }}</span>
        <entry-form v-else kind="start.flag" :given="{ flag: e.flag }" :needs="['clearedBy']" :each="e.flag" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  display: flex;
  justify-content: space-between;
  gap: var(--s4);
  align-items: center;
  padding: var(--s1) 0 var(--s1) var(--s3);
  border-left: 4px solid var(--hair);
  margin-top: var(--s1);
}
li.open {
  border-left-color: var(--warn);
}
.by {
  width: 190px;
}
</style>
