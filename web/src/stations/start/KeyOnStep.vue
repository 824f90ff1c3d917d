<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { useSettings } from '../../stores/settings.ts'
import { useLive } from '../../stores/live.ts'
import { latest } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import { useBuild } from '../../stores/build.ts'
import FlagRegister from './FlagRegister.vue'
import IdleValveCheck from './IdleValveCheck.vue'
import InjectorCheck from './InjectorCheck.vue'
import { useStartDesk } from './use-start-desk.ts'

/** Key on, engine still: the app watches what the sensors say; the person listens to the injectors. */
const live = useLive()
const builds = useBuild()
const settings = useSettings()
const { on, running, busy, hands, byHand, say } = useStartDesk()
/** without a logger: the same checks, on what the display showed */
const shown = (entryId: string) => {
  for (const kind of ['start.throttle', 'start.sanity'] as const) builds.ask(kind, { entryIds: [entryId] })
}
const passed = computed(() => latest(builds.context!.readings, 'start.sanity')?.value.passed ?? false)
const judged = computed(() => (byHand.value ? latest(builds.context!.readings, 'start.sanity') : null))
const failed = computed(() => judged.value?.value.checks.filter((c) => c.state !== 'pass') ?? [])
</script>

<template>
  <div>
    <p>Pump fuse out, battery charged. Key on, engine off; then press the throttle slowly all the way, twice. The app watches.</p>
    <div v-if="byHand && live.device !== 'line'">
      <entry-form kind="start.key-on-shown" @made="shown" />
      <p v-if="judged?.value.passed" class="clear" data-testid="key-on-passed">All checks passed on what the display showed.</p>
      <p v-else-if="judged" class="stop" role="alert" data-testid="key-on-failed">
        Not passed: {{ failed.map((f) => `${f.id} (${f.seen})`).join('; ') }}.
      </p>
    </div>
    <div v-else class="act">
      <n-button type="primary" size="large" :disabled="busy || !hands" data-testid="key" @click="say('key', { on: !on })">{{
        on ? 'Key off' : 'Key on'
      }}</n-button>
      <n-button size="large" :disabled="!on || busy || running || !hands" data-testid="sweep" @click="say('sweep')"
        >Press the throttle once</n-button
      >
      <n-button dashed :disabled="!on || busy || !hands" @click="say('learn-zero')">Learn the throttle’s zero</n-button>
    </div>
    <ul v-if="(on || live.checks.length) && (hands || live.device === 'line')" class="checks">
      <li v-for="check in live.checks" :key="check.id" :class="check.state" :data-testid="`check-${check.id}`">
        <span class="mark">{{ check.state === 'pass' ? 'good' : check.state === 'fail' ? 'BAD' : '…' }}</span
        ><strong>{{ check.label }}</strong><span class="num">{{ settings.say(check.said.seen) }}</span
        ><small class="soft">{{ settings.say(check.said.limit) }}</small>
      </li>
    </ul>
    <entry-form v-if="passed" kind="start.plug-opened" />
    <idle-valve-check />
    <injector-check />
    <flag-register />
  </div>
</template>

<style scoped>
.checks {
  list-style: none;
  padding: 0;
  margin: var(--s2) 0;
}
.checks li {
  display: grid;
  grid-template-columns: 46px 230px 1fr 1fr;
  gap: var(--s2);
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
