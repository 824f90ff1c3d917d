<script setup lang="ts">
import { NModal } from 'naive-ui'
import { dialKeys, gridKeys, stationKeys } from './keys.ts'

defineProps<{ stations?: readonly { id: string; title: string; key: string }[] }>()
const show = defineModel<boolean>('show', { required: true })
</script>

<template>
  <n-modal v-model:show="show" preset="card" title="Keys and signs" style="max-width: 720px" :bordered="false">
    <div class="flex gap-6 flex-wrap">
      <section>
        <h3>Go to</h3>
        <dl>
          <template v-for="s in stationKeys(stations ?? [])" :key="s.keys"
            ><dt>{{ s.keys }}</dt>
            <dd>{{ s.does }}</dd></template
          >
          <dt>Ctrl + K</dt>
          <dd>find a station or a build</dd>
          <dt>?</dt>
          <dd>this sheet</dd>
        </dl>
      </section>
      <section>
        <h3>In a table</h3>
        <dl>
          <template v-for="s in gridKeys" :key="s.keys"
            ><dt>{{ s.keys }}</dt>
            <dd>{{ s.does }}</dd></template
          >
        </dl>
        <h3>On the dial</h3>
        <dl>
          <template v-for="s in dialKeys" :key="s.keys"
            ><dt>{{ s.keys }}</dt>
            <dd>{{ s.does }}</dd></template
          >
        </dl>
      </section>
    </div>
    <p>
      Numbers take units as you type them: <strong>58 psi</strong>, <strong>4 bar</strong>, <strong>3,18 L</strong>. Every computed number
      has a <strong>why</strong>. Nothing you type is lost: while the server is away it is kept in this browser and sent later.
    </p>
  </n-modal>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: var(--s1) var(--s4);
  margin: var(--s1) 0 var(--s4);
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
}
</style>
