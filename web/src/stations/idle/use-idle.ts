import { useIntervalFn } from '@vueuse/core'
import { computed, inject, type InjectionKey, provide, ref, shallowRef, toRaw, watch } from 'vue'
import {
  type AirBalance,
  airBalance,
  carIdleOptions,
  type IdlePoint,
  idleModeSeen,
  idleMoves,
  idlePoints,
  isRehearsed,
  lookAt,
  screwByValve,
  type Tune,
  TuneAnswer,
  tuneInCar,
  turnsSoFar,
  valveBandPct,
  WARM_C,
} from '@vectum/core'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'
import type { LiveIdle } from '../../workers/idle-worker.ts'
import type { StartDesk } from '../start/use-start-desk.ts'
import { useIdleWorker } from './use-idle-worker.ts'

const JUDGED_EVERY_MS = 1000
/** fewer frames tell nothing at all, not even what is missing */
const LEAST_FRAMES = 20
/** what is judged and drawn: half a minute and what settling takes, s */
const RECENT_S = 45

function makeIdle(desk: StartDesk) {
  const builds = useBuild()
  const live = useLive()
  const { tasks } = useIdleWorker()
  const c = computed(() => builds.context!)
  const inUse = computed(() => tuneInCar(builds.current!))
  const tune = shallowRef<Tune | null>(null)
  const problem = ref<string | null>(null)
  watch(
    () => inUse.value?.id,
    async (id) => {
      tune.value = null
      problem.value = null
      if (!id) return
      try {
        const answer = await api(`/builds/${builds.current!.id}/tunes/${id}`, TuneAnswer)
        // another may have gone in meanwhile
        if (inUse.value?.id === id) tune.value = answer
      } catch (e) {
        problem.value = (e as Error).message
      }
    },
    { immediate: true },
  )
  const options = computed(() => carIdleOptions(builds.current!))
  const bandPct = computed(() => valveBandPct(options.value))
  const targetRpm = computed(() => options.value.targetRpm ?? null)

  // the bench's stream is nothing of the car's
  const streams = computed(() => live.frame !== null && (live.device === 'line' || live.device === 'replay' || builds.view === 'rehearsal'))
  const recent = computed(() => {
    const last = live.frames.at(-1)
    return last ? live.frames.filter((f) => f.timeS > last.timeS - RECENT_S && f.timeS <= last.timeS) : []
  })
  const seen = shallowRef<LiveIdle | null>(null)
  let judging = false
  useIntervalFn(async () => {
    if (judging) return
    // what was judged of another stream, or before it stopped, is not of now
    if (!streams.value || recent.value.length < LEAST_FRAMES) return void (seen.value = null)
    judging = true
    try {
      seen.value = await tasks().judge(toRaw(recent.value), toRaw(options.value))
    } catch {
      // a thread that was ended; the next second asks again
    } finally {
      judging = false
    }
  }, JUDGED_EVERY_MS)
  watch(streams, (on) => !on && (seen.value = null))

  /** practising, the looks at the real car say nothing of the bench's */
  const readings = computed(() => {
    const all = c.value.readings
    return builds.view === 'rehearsal' ? all.filter((r) => isRehearsed(r, c.value.build)) : all
  })
  /** What the stream shows now, as a look at the idle; null: it does not tell speed, valve and pressure, or it stands. */
  const now = computed<IdlePoint | null>(() =>
    streams.value && desk.running.value ? lookAt(live.frames, desk.blocked.value, turnsSoFar(readings.value)) : null,
  )
  const noted = computed(() => idlePoints(readings.value))
  const points = computed<IdlePoint[]>(() => (now.value ? [...noted.value, now.value] : noted.value))
  const air = computed<AirBalance | null>(() =>
    tune.value && points.value.length && targetRpm.value
      ? airBalance(tune.value.document, points.value, targetRpm.value, c.value.resolved.idleMapKpa)
      : null,
  )
  /** a cold engine wants other air: what the valve shows then is no reason to turn anything */
  const coldC = computed(() => (now.value?.coolantC !== undefined && now.value.coolantC < WARM_C ? now.value.coolantC : null))
  const mode = computed(() => (now.value ? idleModeSeen(recent.value) : null))
  /** a speed that swings has no valve to go by */
  const swings = computed(() => seen.value?.verdict.verdict.startsWith('hunting') ?? false)
  const advice = computed(() =>
    coldC.value === null && !swings.value && points.value.length && targetRpm.value
      ? screwByValve(points.value, targetRpm.value, bandPct.value, options.value.offsetsRpm)
      : null,
  )
  const moves = computed(() => idleMoves({ build: c.value.build, readings: readings.value }))
  return {
    builds,
    live,
    desk,
    c,
    tune,
    problem,
    options,
    bandPct,
    targetRpm,
    streams,
    seen,
    recent,
    coldC,
    swings,
    mode,
    now,
    noted,
    points,
    air,
    advice,
    moves,
    inUse,
  }
}
export type Idle = ReturnType<typeof makeIdle>
const KEY: InjectionKey<Idle> = Symbol('idle')
/** What the rooms of Idle share: the tune in use, the stream as a look, looks on record, and what the last half minute is. */
export function provideIdle(desk: StartDesk): Idle {
  const idle = makeIdle(desk)
  provide(KEY, idle)
  return idle
}
export const useIdle = (): Idle => inject(KEY)!
