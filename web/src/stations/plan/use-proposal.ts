import { shallowRef } from 'vue'
import { effectOf, mergePatches, patchFor, type PlanEffect } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

export interface Proposal {
  title: string
  /** paths of the plan and what each becomes; undefined takes it away */
  changes: [path: string, value: unknown][]
  effect: PlanEffect
}
const changesNothing = (e: PlanEffect): boolean =>
  e.cost.before === e.cost.after && e.hours.before.high === e.hours.after.high && e.appears.length + e.clears.length === 0

/** A choice is shown with what it does to cost, hours and findings before it is taken; one that does nothing to them is taken at once. */
export function useProposal() {
  const builds = useBuild()
  const proposal = shallowRef<Proposal | null>(null)
  function propose(title: string, ...changes: [path: string, value: unknown][]): void {
    const patch = changes.reduce<object>((all, [path, value]) => mergePatches(all, patchFor(path, value)) as object, {})
    const effect = effectOf(builds.current!, patch)
    if (changesNothing(effect)) {
      for (const [path, value] of changes) builds.change(path, value)
      proposal.value = null
    } else proposal.value = { title, changes, effect }
  }
  function take(): void {
    for (const [path, value] of proposal.value?.changes ?? []) builds.change(path, value)
    proposal.value = null
  }
  const leave = (): void => void (proposal.value = null)
  return { proposal, propose, take, leave }
}
