import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { Coverage, type DrivePlan, legStillGives, nextLeg, planDone } from '@vectum/core'
import { useLive } from '../../stores/live.ts'
import { useBuild } from '../../stores/build.ts'

/** Follows a plan while it is driven: what has been gathered, which leg is the next that still gives something, how far it is. */
export function useFollow(plan: DrivePlan, coolantMinC: number) {
  const live = useLive()
  const builds = useBuild()
  const coverage = new Coverage(plan, { coolantMinC })
  const got = shallowRef<readonly number[]>([...coverage.seconds])
  const counting = ref(false)
  const at = ref(nextLeg(plan, got.value, 0))
  const skipped = ref(0)
  let seenS = -Infinity
  /** what the leg at hand would still give when it was begun, s */
  let promised = 0
  const leg = computed(() => (at.value === null ? null : plan.legs[at.value]))
  const after = computed(() => {
    if (at.value === null) return null
    const next = nextLeg(plan, got.value, at.value + 1)
    return next === null ? null : plan.legs[next]
  })
  const legShare = computed(() => {
    if (!leg.value || promised <= 0) return 0
    return Math.min(1, Math.max(0, 1 - legStillGives(plan, leg.value, got.value) / promised))
  })
  const share = computed(() => planDone(plan, got.value))

  /** From a leg on; what was missed is asked for again once the rest is done. */
  function goOn(from: number): void {
    const next = nextLeg(plan, got.value, from) ?? nextLeg(plan, got.value, 0)
    if (next === at.value && promised > 0) return
    at.value = next
    promised = next === null ? 0 : legStillGives(plan, plan.legs[next], got.value)
  }
  function skip(): void {
    if (at.value === null) return
    skipped.value++
    goOn(at.value + 1)
  }
  watch(
    () => live.frames,
    (frames) => {
      for (const frame of frames) {
        if (frame.timeS <= seenS) continue
        seenS = frame.timeS
        coverage.add(frame)
      }
      counting.value = coverage.counting
      got.value = [...coverage.seconds]
      if (at.value !== null) goOn(at.value)
    },
  )
  onMounted(() => {
    // what was driven before the plan was opened is in the log, not in this drive
    seenS = live.frames.at(-1)?.timeS ?? -Infinity
    live.open(builds.current!.id)
  })
  goOn(0)
  promised = leg.value ? legStillGives(plan, leg.value, got.value) : 0
  return { leg, after, legShare, share, counting, at, skip, skipped, live }
}
