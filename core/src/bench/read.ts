import type { BuildData, EntryTable } from '../kernel/index.ts'
import { scopeVerdict } from '../spark/index.ts'
import { benchIgnition } from './ignition.ts'
import { type HeldAt, type IgnitionInstrument, ignitionInstruments, notHere, readIgnition } from './instruments.ts'
import { scopeTraces } from './signals.ts'
import { type FitupInstrument, fitupInstruments, isFitupInstrument, readFitup } from './fitup.ts'
import { isWiringInstrument, readWiring, type WiringInstrument, wiringInstruments } from './wiring.ts'

/** Kinds of entry that the bench’s instruments at ignition and wiring give, the scope’s verdict with them. */
export type BenchReadingKind = IgnitionInstrument | WiringInstrument | FitupInstrument | 'spark.scope'
export const benchReadingKinds = [
  ...(Object.keys(ignitionInstruments) as IgnitionInstrument[]),
  ...(Object.keys(wiringInstruments) as WiringInstrument[]),
  ...(Object.keys(fitupInstruments) as FitupInstrument[]),
  'spark.scope',
] as const

const SCOPE_SAMPLES = 100_000
const USUAL_SCOPE = { rpm: 900, seconds: 0.5 }

function readScope(build: BuildData, { rpm = USUAL_SCOPE.rpm, seconds = USUAL_SCOPE.seconds, trace }: HeldAt): EntryTable['spark.scope'] {
  const ignition = benchIgnition(build)
  if (!ignition) throw notHere('cylinders, firing order and way of triggering must be known')
  const traces = scopeTraces(ignition, { rpm, seconds, samples: SCOPE_SAMPLES })
  const held = trace === undefined ? traces[0] : traces.find((t) => t.id === trace)
  if (!held) throw notHere(`the scope has no trace "${trace}" here; it has ${traces.map((t) => t.id).join(', ')}`)
  return scopeVerdict(ignition.context, held)
}

/**
 * One reading by a bench instrument, as its kind of entry wants it, with the title of the instrument.
 * @throws CoreError NOT_ALLOWED when the instrument has nothing to read on this car
 */
export function benchReading(build: BuildData, kind: BenchReadingKind, at: HeldAt = {}): { value: object; instrument: string } {
  if (kind === 'spark.scope') return { value: readScope(build, at), instrument: 'Scope' }
  if (isWiringInstrument(kind)) return readWiring(build, kind, at)
  if (isFitupInstrument(kind)) return readFitup(build, kind, at)
  return { value: readIgnition(build, kind, at), instrument: ignitionInstruments[kind].title }
}
