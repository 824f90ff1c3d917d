import * as Comlink from 'comlink'
import { inflateSync } from 'fflate'
import {
  applyCorrection,
  mendBase,
  type Blocks,
  blocksOf,
  cellReadings,
  columnsToLog,
  CoreError,
  headerFingerprint,
  joinLogs,
  judgeSteps,
  judgeWarmUp,
  logRow,
  judgedRows,
  marksIn,
  momentInLog,
  previewLog,
  scatterOf,
  type ScatterOver,
  solveWithSetup,
  startScores,
  stretchFates,
  thinned,
  type LearnResult,
  type LearnSetup,
  type LogData,
  type LogPreview,
  type TuneDocument,
} from '@vectum/core'

type Log = Pick<LogData, 'timeS' | 'channels'>
/** What a log may hold beside its time. */
export type Channel = keyof Log['channels']
type Judged = ReturnType<typeof judgedRows>

/** A log unpacked; its channels' blocks, made when they are first drawn; its rows as a solve judges them. */
interface Unpacked {
  id: string
  log: Log
  blocks: Map<Channel, Blocks>
  judged: { setup: string; rows: Judged } | null
}
/** Work on logs that must not hold up the screen: first look, solve, drawing data. One log is kept unpacked between calls. */
let kept: Unpacked | null = null

async function load(id: string, channels: string[]): Promise<Unpacked> {
  if (kept?.id === id) return kept
  const parts = await Promise.all(
    channels.map(async (channel) => {
      const response = await fetch(`/api/logs/${id}/channels/${channel}`)
      if (!response.ok) throw new Error(`The channel ${channel} could not be read (${response.status}).`)
      return { channel, data: await response.arrayBuffer() }
    }),
  )
  const log = columnsToLog(parts.map(({ channel, data }) => ({ channel, shuffled: inflateSync(new Uint8Array(data)) })))
  kept = { id, log, blocks: new Map(), judged: null }
  return kept
}
function blocksIn({ log, blocks }: Unpacked, channel: Channel): Blocks | null {
  const values = log.channels[channel]
  if (!values) return null
  const made = blocks.get(channel) ?? blocksOf(values)
  blocks.set(channel, made)
  return made
}
function judgedIn(of: Unpacked, setup: LearnSetup): Judged {
  const told = JSON.stringify([setup.coolantMinC, setup.target])
  if (of.judged?.setup !== told) of.judged = { setup: told, rows: judgedRows(of.log, setup) }
  return of.judged.rows
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

/** Logs as one, oldest first; the last stays unpacked. */
async function together(logs: readonly { id: string; channels: string[] }[]): Promise<Log> {
  const loaded: Log[] = []
  for (const { id, channels } of logs) loaded.push((await load(id, channels)).log)
  return joinLogs(loaded)
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
  /** @param logs oldest first; the last is the one asked about, and stays unpacked for the drawings */
  async solve(
    logs: { id: string; channels: string[] }[],
    setup: LearnSetup,
    onProgress: (share: number) => void,
  ): Promise<LearnResult | Refusal> {
    onProgress(0)
    const log = await together(logs)
    onProgress(0.1)
    return refusing(() => solveWithSetup(log, setup, (share) => onProgress(0.1 + 0.9 * share)))
  },
  /** A channel over the whole log, with what became of each slice of it. */
  async strip(id: string, channels: string[], channel: Channel, width: number, setup: LearnSetup) {
    const of = await load(id, channels)
    const blocks = blocksIn(of, channel)
    if (!blocks) return null
    const { timeS } = of.log
    const [fromS, toS] = [timeS[0], timeS[timeS.length - 1]]
    return refusing(() => {
      const fates = stretchFates(judgedIn(of, setup), timeS, width)
      return { durationS: toS - fromS, columns: thinned(timeS, blocks, fromS, toS, width), fates }
    })
  },
  /** A log ready to be looked at: its length, and the least and most of each channel that holds anything. */
  async open(id: string, channels: string[]) {
    const of = await load(id, channels)
    const { timeS } = of.log
    const ends = (Object.keys(of.log.channels) as Channel[]).flatMap((channel) => {
      const { low, high } = blocksIn(of, channel)!
      return low <= high ? [{ channel, low, high }] : []
    })
    return { durationS: timeS[timeS.length - 1] - timeS[0], rows: timeS.length, ends }
  },
  /** Lowest and highest of channels in each column of a window of time, counted from the log's beginning, and what became of its rows. */
  async window(id: string, channels: string[], wanted: Channel[], fromS: number, toS: number, width: number, setup: LearnSetup) {
    const of = await load(id, channels)
    const { timeS } = of.log
    const [from, to] = [timeS[0] + fromS, timeS[0] + toS]
    const drawn = wanted.map((channel) => [channel, thinned(timeS, blocksIn(of, channel)!, from, to, width)] as const)
    const fates = stretchFates(judgedIn(of, setup), timeS, width, from, to)
    return Comlink.transfer(
      { traces: Object.fromEntries(drawn) as Partial<Record<Channel, Float32Array>>, fates },
      drawn.map(([, trace]) => trace.buffer),
    )
  },
  /** The row next to a moment. @param step rows before or after it */
  async row(id: string, channels: string[], atS: number, step: number, setup: LearnSetup) {
    const of = await load(id, channels)
    return logRow(of.log, judgedIn(of, setup), atS, step)
  },
  /** The moments marked in a log, with what was there around each. */
  async marks(id: string, channels: string[]) {
    const { log } = await load(id, channels)
    return marksIn(log).flatMap((atS) => {
      const moment = momentInLog(log, atS)
      return moment ? [{ atS: atS - log.timeS[0], moment }] : []
    })
  },
  /** The readings of one cell in one log. */
  async cell(id: string, channels: string[], setup: LearnSetup, at: { i: number; j: number; by: 'pressure' | 'throttle' }) {
    const of = await load(id, channels)
    return refusing(() => cellReadings(of.log, judgedIn(of, setup), setup, at))
  },
  /** What each used row wanted over one of its readings. */
  async scatter(id: string, channels: string[], setup: LearnSetup, over: ScatterOver) {
    const of = await load(id, channels)
    return refusing(() => scatterOf(of.log, judgedIn(of, setup), over))
  },
  /** What the fuel for an opening throttle does, from the steps in a log. */
  async steps(id: string, channels: string[], setup: LearnSetup, decayS: number | null) {
    const of = await load(id, channels)
    return judgeSteps(of.log, decayS, judgedIn(of, setup).causeMapKpa)
  },
  /** What the fuel for a cold engine does, on the way to warm. */
  async warmUp(logs: { id: string; channels: string[] }[], setup: LearnSetup, tune: Pick<TuneDocument, 'parameters'>) {
    const log = await together(logs)
    return refusing(() => judgeWarmUp(log, setup, tune))
  },
  /** The starts in a log, each with its score. */
  async starts(id: string, channels: string[]) {
    const { log } = await load(id, channels)
    return refusing(() => startScores(log))
  },
  /** The new version that a log asks for; over a unit that learns by itself only where it never does. */
  correct: (tune: TuneDocument, learn: LearnResult, provenance: string) =>
    refusing(() => (learn.totals.settledTimePct === undefined ? applyCorrection : mendBase)(tune, learn, provenance)),
}
export type LogTasks = typeof tasks
Comlink.expose(tasks)
