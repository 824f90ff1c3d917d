import * as Comlink from 'comlink'
import {
  benchIgnition,
  CoreError,
  judgeTrain,
  minMaxPerColumn,
  readScopeCsv,
  scopeTraces,
  type BuildData,
  type PulsePattern,
  type ScopeSetting,
  type Trace,
} from '@vectum/core'

/** Scope records are made, read, judged and thinned here, so that the screen only draws what it can show. The last record is kept. */
let traces: Trace[] = []

export interface ScopeRecord {
  traces: { id: string; unit: 'V' | 'A'; low: number; high: number }[]
  seconds: number
  samples: number
}
export interface ScopeVerdict {
  kind: 'magnetic' | 'square'
  slope: 'falling' | 'rising'
  /** why the polarity cannot be told; null when it can */
  unsure: string | null
  /** the wheel as counted between two gaps; null with fewer than two in the record */
  counted: { places: number; missing: number } | null
  pulses: number
  firstS: number
  missing: number[]
  extra: number[]
  rpm: number | null
  jitterDeg: number | null
  noiseV: number
  peakV: number
  thresholdV: number
}
export type Refused = { refused: string }

function refusing<T>(work: () => T): T | Refused {
  try {
    return work()
  } catch (e) {
    if (e instanceof CoreError) return { refused: e.message }
    throw e
  }
}
function kept(next: Trace[]): ScopeRecord {
  traces = next
  const { stepS, samples } = traces[0]
  return {
    seconds: stepS * (samples.length - 1),
    samples: samples.length,
    traces: traces.map((t) => {
      let low = Infinity
      let high = -Infinity
      for (const v of t.samples) {
        if (v < low) low = v
        if (v > high) high = v
      }
      return { id: t.id, unit: t.unit, low, high }
    }),
  }
}

const tasks = {
  record: (build: BuildData, setting: ScopeSetting): ScopeRecord | Refused =>
    refusing(() => {
      const ignition = benchIgnition(build)
      if (!ignition) throw new CoreError('NOT_ALLOWED', 'bench', 'cylinders, firing order and way of triggering must be known')
      return kept(scopeTraces(ignition, setting))
    }),
  read: (text: string): ScopeRecord | Refused => refusing(() => kept(readScopeCsv(text))),
  /** For each trace, in its order, the lowest and highest sample of each column of the window. */
  columns(fromS: number, toS: number, width: number): Float32Array[] {
    const out = traces.map((t) => minMaxPerColumn(t, fromS, toS, width))
    return Comlink.transfer(
      out,
      out.map((o) => o.buffer as ArrayBuffer),
    )
  },
  /** What each trace shows at a moment. */
  at: (timeS: number): number[] =>
    traces.map((t) => t.samples[Math.min(t.samples.length - 1, Math.max(0, Math.round((timeS - t.startS) / t.stepS)))]),
  judge: (id: string, pattern: PulsePattern): ScopeVerdict | Refused =>
    refusing(() => {
      const trace = traces.find((t) => t.id === id)
      if (!trace) throw new CoreError('SCOPE_UNREADABLE', 'scope trace', 'it is not in this record')
      const { pulses, ...verdict } = judgeTrain(trace, pattern)
      return { ...verdict, pulses: pulses.length, firstS: pulses[0].timeS }
    }),
}
export type ScopeTasks = typeof tasks
Comlink.expose(tasks)
