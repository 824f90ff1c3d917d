<script setup lang="ts">
import type { IdleMove } from '@vectum/core'

/** What was turned and sent so far, each with the looks about it. */
defineProps<{ moves: readonly IdleMove[] }>()
const look = (l: IdleMove['before']): string =>
  l ? `${l.rpm.toFixed(0)} rpm${l.valvePct === null ? '' : `, ${l.valvePct.toFixed(0)} %`}` : 'not looked at'
</script>

<template>
  <template v-if="moves.length">
    <h2>Moves so far</h2>
    <table class="plain" data-testid="moves">
      <thead>
        <tr>
          <th>Move</th>
          <th>Before</th>
          <th>After</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="m in [...moves].reverse()" :key="m.id">
          <td>{{ m.what }}</td>
          <td>{{ look(m.before) }}</td>
          <td>{{ look(m.after) }}</td>
          <td :class="m.better === null ? 'soft' : m.better ? 'clear' : 'warn'">
            {{ m.better === null ? (m.after ? 'alike' : 'look again') : m.better ? 'better' : 'worse' }}
          </td>
        </tr>
      </tbody>
    </table>
  </template>
</template>
