import * as Comlink from 'comlink'
import { inflateSync } from 'fflate'
import {
  applyCorrection,
  cellReadings,
  columnsToLog,
  CoreError,
  headerFingerprint,
  joinLogs,
  judgedRows,
  marksIn,
  momentInLog,
  previewLog,
  scatterOf,
  type ScatterOver,
  solveWithSetup,
  startScores,
  stretchFates,
  type LearnResult,
  type LearnSetup,
  type LogData,
  type LogPreview,
  type TuneDocument,
} from '@vectum/core'

/** Work on logs that must not hold up the screen: first look, solve, drawing data. One log is kept unpacked between calls. */
let kept: { id: string; log: Pick<LogData, 'timeS' | 'channels'> } | null = null

async function load(id: string, channels: string[]): Promise<Pick<LogData, 'timeS' | 'channels'>> {
  if (kept?.id === id) return kept.log
  const parts = await Promise.all(
    channels.map(async (channel) => {
      const response = await fetch(`/api/logs/${id}/channels/${channel}`)
      if (!response.ok) throw new Error(`The channel ${channel} could not be read (${response.status}).`)
      return { channel, data: await response.arrayBuffer() }
    }),
  )
  const log = columnsToLog(parts.map(({ channel, data }) => ({ channel, shuffled: inflateSync(new Uint8Array(data)) })))
  kept = { id, log }
  return log
}

/** The lowest and highest reading in each of `width` slices of time, in order: what a strip of that many pixels can show. */
function minMax(timeS: Float64Array, values: Float32Array, width: number): { low: number; high: number }[] {
  const out = Array.from({ length: width }, () => ({ low: Infinity, high: -Infinity }))
  const span = timeS[timeS.length - 1] || 1
  for (let i = 0; i < timeS.length; i++) {
    const v = values[i]
    if (v !== v) continue
    const slot = out[Math.min(width - 1, Math.floor((timeS[i] / span) * width))]
    if (v < slot.low) slot.low = v
    if (v > slot.high) slot.high = v
  }
  return out
}

export interface Refusal {
  refused: { code: string; message: string }
}
const refusing = <T>(work: () => T): T | Refusal => {
  try {
    return work()
  } catch (error) {
    if (error instanceof CoreError) return { refused: { code: error.code, message: error.message } }
    throw error
  }
}

const tasks = {
  preview(head: ArrayBuffer, later: ArrayBuffer[], known: { barometerKpa?: number }): (LogPreview & { fingerprint: string }) | Refusal {
    return refusing(() => {
      const preview = previewLog(
        new Uint8Array(head),
        later.map((piece) => new Uint8Array(piece)),
        known,
      )
      return { ...preview, fingerprint: headerFingerprint(preview.dialect) }
    })
  },
  /** @param logs the log that is asked about, last, and those that are solved with it: the last stays unpacked for the drawings */
  async solve(
    logs: { id: string; channels: string[] }[],
    setup: LearnSetup,
    onProgress: (share: number) => void,
  ): Promise<LearnResult | Refusal> {
    onProgress(0)
    const loaded: Pick<LogData, 'timeS' | 'channels'>[] = []
    for (const { id, channels } of logs) loaded.unshift(await load(id, channels))
    const log = joinLogs(loaded)
    onProgress(0.1)
    return refusing(() => solveWithSetup(log, setup, (share) => onProgress(0.1 + 0.9 * share)))
  },
  /** A channel over the whole log, with what became of each slice of it. */
  async strip(id: string, channels: string[], channel: 'rpm' | 'mapKpa' | 'lambda', width: number, setup: LearnSetup) {
    const log = await load(id, channels)
    const values = log.channels[channel]
    if (!values) return null
    const fates = stretchFates(judgedRows(log, setup), log.timeS, width)
    return { durationS: log.timeS[log.timeS.length - 1], slots: minMax(log.timeS, values, width), fates }
  },
  /** The moments marked in a log, with what was there around each. */
  async marks(id: string, channels: string[]) {
    const log = await load(id, channels)
    return marksIn(log).flatMap((atS) => {
      const moment = momentInLog(log, atS)
      return moment ? [{ atS: atS - log.timeS[0], moment }] : []
    })
  },
  /** The readings of one cell in one log. */
  async cell(id: string, channels: string[], setup: LearnSetup, at: { i: number; j: number; by: 'pressure' | 'throttle' }) {
    const log = await load(id, channels)
    return refusing(() => cellReadings(log, judgedRows(log, setup), setup, at))
  },
  /** What each used row wanted over one of its readings. */
  async scatter(id: string, channels: string[], setup: LearnSetup, over: ScatterOver) {
    const log = await load(id, channels)
    return refusing(() => scatterOf(log, judgedRows(log, setup), over))
  },
  /** The starts in a log, each with its score. */
  async starts(id: string, channels: string[]) {
    const log = await load(id, channels)
    return refusing(() => startScores(log))
  },
  correct: (tune: TuneDocument, learn: LearnResult, provenance: string) => refusing(() => applyCorrection(tune, learn, provenance)),
}
export type LogTasks = typeof tasks
Comlink.expose(tasks)
