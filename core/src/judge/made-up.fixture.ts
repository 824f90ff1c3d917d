import { type FuelChoices, startingCircuit } from '../fuel/circuit.ts'
import { genericPumps } from '../fuel/pump.ts'
import type { BuildData } from '../kernel/build.ts'
import type { StoredReading } from '../kernel/entry.ts'
import type { Severity } from '../kernel/finding.ts'
import { mergePatch } from '../kernel/patch.ts'
import { evaluate } from './judgement.ts'

/** A made-up car for tests: nothing wrong with it, every station's facts there. */
export const soundFuel: FuelChoices = {
  ...startingCircuit('return'),
  pumpPlace: 'outside',
  pump: { curves: [{ ...genericPumps[1].spec.curves[0] }] },
  heights: { fuelM: 0.5, pumpM: 0.35, railM: 0.85 },
  wiring: { lengthM: 4, areaMm2: 4 },
  safety: { relay: true, crashCutOff: true, stallCutOff: true, mechanicalPumpRemoved: true, portsPlugged: true },
}
const sound: BuildData = {
  id: 'sound',
  title: 'Sound car',
  facts: {
    engine: {
      cycle: 'four-stroke',
      cylinders: 6,
      layout: 'inline',
      displacementCc: 3180,
      firingOrder: [1, 5, 3, 6, 2, 4],
      compressionRatio: 8.2,
      chamber: 'wedge',
      redlineRpm: 5200,
      powerKw: 96,
    },
    cam: { class: 'mild', idleVacuumKpa: 52 },
    induction: { kind: 'natural' },
    ignition: { kind: 'hall', leads: 'resistive', plugs: 'resistor' },
    fuel: { kind: 'petrol', octaneRon: 95, tankL: 60, tankVented: true, tankBaffled: true, mechanicalPump: true },
    electrics: { polarity: 'negative-earth', charging: 'alternator', chargingRatedA: 80, fan: 'belt' },
    exhaust: { kind: 'manifold', bung: 'after-merge' },
    place: { use: 'road', barometerKpa: 99, flange: 'two-barrel' },
  },
  choices: {
    plan: { route: 'throttle-body', timingControl: true, injectors: 2, injectorCcMin: 520, injectorRatedKpa: 300, fuelPressureKpa: 300 },
    spark: { trigger: 'hall', referenceDeg: 54 },
    fuel: soundFuel,
  },
  readings: [],
  tunes: [],
  logs: [],
}
export const soundBuild = (patch: object = {}, readings: StoredReading[] = []): BuildData => ({
  ...(mergePatch(sound, patch) as BuildData),
  readings,
})

let clock = 0
/** A reading, each a second after the one before. */
export const madeReading = (kind: StoredReading['kind'], value: object, more: Partial<StoredReading> = {}): StoredReading =>
  ({
    id: `r${clock++}`,
    kind,
    value: value as never,
    instrument: null,
    who: 'Ada',
    takenAt: new Date(1.7e12 + clock * 1000).toISOString(),
    conditions: null,
    supersedes: null,
    ...more,
  }) as StoredReading

/** Severity of one finding on the made-up car with a patch on it, and readings; null when it is not found. */
export const severityOf = (id: string, patch: object = {}, readings: StoredReading[] = []): Severity | null =>
  evaluate(soundBuild(patch, readings))
    .stations.flatMap((s) => s.findings)
    .find((f) => f.id === id)?.severity ?? null
