import { contextOf, type DeskCommand, type DeskState, evaluate, startGates, type StartStep, stopsBefore, wordsOf } from '@vectum/core'
import type { Build } from '../job/store.ts'

/** The step of First start whose gates keep an order back; null for one that no gate is for, or that the car refuses anyway. */
export function stepOf(order: DeskCommand, desk: DeskState | null): { step: StartStep; detail: string } | null {
  if (order.command === 'key') return { step: 'key-on', detail: 'The key stays off until these are met.' }
  if (!desk?.keyOn) return null
  if (order.command === 'pump' && order.allowed) return { step: 'prime', detail: 'The pump fuse stays out until these are met.' }
  if (order.command === 'crank' && order.on)
    return { step: (order.fuel ?? true) ? 'crank' : 'dry-crank', detail: 'The starter stays off until these are met.' }
  return null
}

/** What is not yet met of the gates of a step, on the build as it is seen. */
export function unmetGates(build: Build, step: StartStep): { label: string; why: string; station: string }[] {
  return startGates(contextOf(build), stopsBefore(evaluate(build).stations, 'start'))
    [step].filter((gate) => !gate.met)
    .map(({ label, why, station }) => ({ label, why: wordsOf(why), station }))
}
