<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useLive } from '../../stores/live.ts'
import FlagRegister from './FlagRegister.vue'
import InjectorCheck from './InjectorCheck.vue'
import { useStartDesk } from './use-start-desk.ts'

/** Key on, engine still: the app watches what the sensors say; the person listens to the injectors. */
const live = useLive()
const { on, running, busy, hands, say } = useStartDesk()
</script>

<template>
  <div>
    <p>Pump fuse out, battery charged. Key on, engine off; then press the throttle slowly all the way, twice. The app watches.</p>
    <div class="act">
      <n-button type="primary" size="large" :disabled="busy || !hands" data-testid="key" @click="say('key', { on: !on })">{{
        on ? 'Key off' : 'Key on'
      }}</n-button>
      <n-button size="large" :disabled="!on || busy || running || !hands" data-testid="sweep" @click="say('sweep')"
        >Press the throttle once</n-button
      >
      <n-button dashed :disabled="!on || busy || !hands" @click="say('learn-zero')">Learn the throttle’s zero</n-button>
    </div>
    <ul v-if="on || live.checks.length" class="checks">
      <li v-for="check in live.checks" :key="check.id" :class="check.state" :data-testid="`check-${check.id}`">
        <span class="mark">{{ check.state === 'pass' ? 'good' : check.state === 'fail' ? 'BAD' : '…' }}</span><strong>{{
          check.label
        }}</strong
        ><span class="num">{{ check.seen }}</span
        ><small class="soft">{{ check.limit }}</small>
      </li>
    </ul>
    <injector-check />
    <flag-register />
  </div>
</template>

<style scoped>
.checks {
  list-style: none;
  padding: 0;
  margin: 8px 0;
}
.checks li {
  display: grid;
  grid-template-columns: 46px 230px 1fr 1fr;
  gap: 8px;
  border-bottom: 1px dotted var(--hair);
  padding: 2px 0;
  font-size: var(--t2);
  align-items: baseline;
}
.checks .mark {
  font-weight: 600;
}
.checks .pass .mark {
  color: var(--clear);
}
.checks .fail .mark {
  color: var(--stop);
}
</style>
