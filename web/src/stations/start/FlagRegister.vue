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
  <section v-if="register.length" class="flags" aria-label="Fault flags of the unit">
    <strong class="head">Flags of the unit</strong>
    <ul>
      <li v-for="e in register" :key="e.flag" :class="{ open: e.clearedBy === null }">
        <div>
          <strong>{{ flagTitle(e.flag) }}</strong>
          <span class="soft">{{ e.times === 1 ? 'seen once' : `seen ${e.times} times` }}, last {{ day(e.lastAt) }}</span>
          <p v-if="faultFlagKinds[e.flag]">{{ settings.say(faultFlagKinds[e.flag].means) }} {{ faultFlagKinds[e.flag].look }}</p>
        </div>
        <span v-if="e.clearedBy !== null" class="clear">cleared by {{ e.clearedBy }}</span>
        <entry-form v-else kind="start.flag" :given="{ flag: e.flag }" :needs="['clearedBy']" :each="e.flag" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
.flags {
  border-top: 1px solid var(--hair);
  padding: var(--s2) 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
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
p {
  margin: 0;
}
li strong {
  margin-right: var(--s2);
}
.by {
  width: 190px;
}
</style>
