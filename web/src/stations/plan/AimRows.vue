<script setup lang="ts">
import type { judgeRoutes, Route } from '@vectum/core'

/** What each route falls short of, aim by aim, and the hours that this counts for: rows of the table of routes. */
defineProps<{ judged: ReturnType<typeof judgeRoutes>; taken: Route | undefined }>()
const near = ['far from it', 'part of the way', 'near', 'as near as any']
const matters = ['does not matter', 'matters a little', 'matters', 'matters much']
</script>

<template>
  <tr v-for="(aim, i) in judged[0].aims" :key="aim.id">
    <th scope="row">
      {{ aim.title }}<small class="soft block font-400 text-t1">{{ matters[aim.weight] }}{{ aim.own ? ', as you say' : '' }}</small>
    </th>
    <td v-for="j in judged" :key="j.route" class="line-b-hair p-2 align-top text-t2" :class="{ taken: taken === j.route }">
      {{ near[j.aims[i].nearness] }}<template v-if="j.aims[i].hours">, counts {{ j.aims[i].hours.toFixed(0) }} h</template>
    </td>
  </tr>
  <tr>
    <th scope="row">Falls short by</th>
    <td v-for="j in judged" :key="j.route" class="num all line-b-hair p-2 align-top text-t2" :class="{ taken: taken === j.route }">
      {{ j.aimHours.toFixed(0) }} h
    </td>
  </tr>
</template>

<style scoped>
th {
  text-align: left;
  vertical-align: top;
  padding: var(--s2) var(--s2) var(--s2) 0;
  font-weight: 600;
  font-size: var(--t2);
  border-bottom: 1px solid var(--hair);
}
.all {
  font-size: var(--t4);
}
.taken {
  background: var(--wash);
}
</style>
