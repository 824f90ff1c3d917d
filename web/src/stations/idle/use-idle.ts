import { useIntervalFn } from '@vueuse/core'
import { computed, inject, type InjectionKey, provide, ref, shallowRef, toRaw, watch } from 'vue'
import {
  type AirBalance,
  airBalance,
  carIdleOptions,
  type Frame,
  type IdlePoint,
  idleModeSeen,
  idleMoves,
  idlePoints,
  isRehearsed,
  screwByValve,
  type Tune,
  TuneAnswer,
  tuneInCar,
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
/** a look is the mean of so much of the stream, s */
const LOOK_S = 3
/** an idle is worth judging once there are so many frames of it */
const LEAST_FRAMES = 100
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
        tune.value = await api(`/builds/${builds.current!.id}/tunes/${id}`, TuneAnswer)
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
    if (judging || !streams.value || recent.value.length < LEAST_FRAMES) return
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

  const blocked = ref(false)
  /** What the stream shows now, as a look at the idle; null: it does not tell speed, valve and pressure, or it stands. */
  const now = computed<IdlePoint | null>(() => (streams.value && desk.running.value ? lookAt(live.frames, blocked.value) : null))
  /** practising, the looks at the real car say nothing of the bench's */
  const readings = computed(() => {
    const all = c.value.readings
    return builds.view === 'rehearsal' ? all.filter((r) => isRehearsed(r, c.value.build)) : all
  })
  const noted = computed(() => idlePoints(readings.value))
  const points = computed<IdlePoint[]>(() => {
    const turns = noted.value.at(-1)?.turns ?? 0
    const turnedSince = readings.value.reduce((sum, r) => sum + (r.kind === 'idle.screw' ? r.value.turns : 0), 0)
    return now.value ? [...noted.value, { ...now.value, turns: noted.value.length ? turnedSince : turns }] : noted.value
  })
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
    blocked,
    now,
    noted,
    points,
    air,
    advice,
    moves,
    inUse,
  }
}
function lookAt(frames: readonly Frame[], blocked: boolean): IdlePoint | null {
  const last = frames.at(-1)
  if (!last) return null
  const recent = frames.filter((f) => f.timeS > last.timeS - LOOK_S)
  const mean = (of: (f: Frame) => number | null): number | null => {
    const told = recent.map(of).filter((v): v is number => v !== null)
    return told.length ? told.reduce((sum, v) => sum + v, 0) / told.length : null
  }
  const [rpm, mapKpa, valvePct] = [mean((f) => f.rpm), mean((f) => f.mapKpa), mean((f) => f.idleValvePct)]
  if (rpm === null || mapKpa === null || valvePct === null) return null
  return {
    ...{ rpm, mapKpa, valvePct, blocked, turns: 0, screwShut: false },
    coolantC: mean((f) => f.coolantC) ?? undefined,
    airC: mean((f) => f.intakeAirC) ?? undefined,
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
