import { computed, inject, provide, ref, type ComputedRef, type InjectionKey, type Ref } from 'vue'
import { useBuild } from '../../stores/build.ts'
import { useLive, type Answer } from '../../stores/live.ts'

/** What the steps of First start share: the device's state, and a way to command it that shows refusals in one place. */
export interface StartDesk {
  on: ComputedRef<boolean>
  running: ComputedRef<boolean>
  /** whether the device in use has hands here: the bench, while one rehearses; a log or a logger only tells */
  hands: ComputedRef<boolean>
  /** the car without a logger: what its display shows is typed in */
  byHand: ComputedRef<boolean>
  /** a hand over the idle valve's port */
  blocked: Ref<boolean>
  block: (to: boolean) => Promise<void>
  busy: Ref<boolean>
  refusal: Ref<Answer | null>
  say: (command: string, values?: Record<string, unknown>) => Promise<Answer>
  prime: () => Promise<void>
  stopAll: () => Promise<void>
}
const KEY: InjectionKey<StartDesk> = Symbol('start desk')
const RUNS_RPM = 300
const STOPPED: Answer = { ok: false, detail: 'It was stopped meanwhile: nothing was switched on.' }

export function provideStartDesk(): StartDesk {
  const live = useLive()
  const builds = useBuild()
  const busy = ref(false)
  const blocked = ref(false)
  const refusal = ref<Answer | null>(null)
  async function say(command: string, values: Record<string, unknown> = {}): Promise<Answer> {
    busy.value = true
    // gates are asked of the server: what was recorded before a switch is thrown is there first; what is switched off never waits
    const { stops } = live
    if (values.on === true || values.allowed === true) await builds.flushed()
    const reply = live.stops === stops ? await live.send(command, values) : STOPPED
    busy.value = false
    refusal.value = reply.ok ? null : reply
    return reply
  }
  const desk: StartDesk = {
    on: computed(() => live.state === 'up' && live.frame !== null && live.frame.state !== 'off'),
    running: computed(() => live.frame?.state === 'running' && live.frame.rpm > RUNS_RPM),
    hands: computed(() => live.device === 'bench' && builds.view === 'rehearsal'),
    byHand: computed(() => builds.view === 'car' && live.device !== 'replay'),
    blocked,
    block: async (to) => {
      if ((await say('valve', { blocked: to })).ok) blocked.value = to
    },
    busy,
    refusal,
    say,
    prime: async () => {
      if ((await say('pump', { allowed: true })).ok) live.pumpAllowed = true
    },
    stopAll: async () => {
      live.pumpAllowed = false
      live.stopped = null
      await say('stop')
    },
  }
  provide(KEY, desk)
  return desk
}
export const useStartDesk = (): StartDesk => inject(KEY)!
