import type { JudgedContext, StoredReading } from '../kernel/index.ts'
import { contextOf, evaluate } from './judgement.ts'
import { soundBuild } from './made-up.fixture.ts'
import type { WiringChoices } from '../wiring/choices.ts'
import { harnessOf } from '../wiring/harness.ts'

/** The made-up sound car with wiring told, and more of it changed. */
export const wiredBuild = (wiring: WiringChoices = {}, patch: { facts?: object; choices?: object } = {}, readings: StoredReading[] = []) =>
  soundBuild({ ...patch, choices: { ...patch.choices, wiring } }, readings)
export const wired = (
  wiring: WiringChoices = {},
  patch: { facts?: object; choices?: object } = {},
  readings: StoredReading[] = [],
): JudgedContext => contextOf(wiredBuild(wiring, patch, readings))
export const wireOf = (c: JudgedContext, id: string) => harnessOf(c).wires.find((w) => w.circuit.id === id)!
/** A finding of Wiring by the end of its id. */
export const found = (
  id: string,
  wiring: WiringChoices = {},
  patch: { facts?: object; choices?: object } = {},
  readings: StoredReading[] = [],
) =>
  evaluate(wiredBuild(wiring, patch, readings))
    .stations.find((s) => s.id === 'wiring')!
    .findings.find((f) => f.id === `wiring.${id}`)
