<script setup lang="ts">
import { NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import { shownChannels } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

/** What the unit shows on its display, and what it writes into a log. */
const builds = useBuild()
const unit = computed(() => builds.current!.choices.unit ?? {})
type Channel = (typeof shownChannels)[number]
const words: Record<Channel, string> = {
  rpm: 'speed',
  map: 'manifold pressure',
  throttle: 'throttle',
  mixture: 'mixture',
  target: 'target mixture',
  trim: 'live trim',
  learned: 'learned value',
  coolant: 'coolant',
  air: 'intake air',
  battery: 'battery',
  'idle-valve': 'idle valve',
}
const has = (list: 'shows' | 'logs', id: Channel): boolean => unit.value[list]?.includes(id) ?? false
function set(list: 'shows' | 'logs', id: Channel, on: boolean): void {
  const next = shownChannels.filter((c) => (c === id ? on : has(list, c)))
  builds.change(`choices.unit.${list}`, next.length ? next : undefined)
}
</script>

<template>
  <details>
    <summary><strong>What it shows and logs</strong></summary>
    <table>
      <thead>
        <tr>
          <th>Channel</th>
          <th>On its display</th>
          <th>In its log</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="id in shownChannels" :key="id">
          <th scope="row">{{ words[id] }}</th>
          <td v-for="list in ['shows', 'logs'] as const" :key="list">
            <n-checkbox
              :checked="has(list, id)"
              :aria-label="`${words[id]}, ${list === 'shows' ? 'on its display' : 'in its log'}`"
              @update:checked="(on: boolean) => set(list, id, on)"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </details>
</template>
