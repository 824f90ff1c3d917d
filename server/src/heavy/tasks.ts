import { createReadStream } from 'node:fs'
import { open } from 'node:fs/promises'
import { deflateRawSync, inflateRawSync } from 'node:zlib'
import {
  benchDrive,
  benchDyno,
  columnsToLog,
  drivePlan,
  headerFingerprint,
  judgeIdle,
  LogReader,
  LOOKED_INTO,
  PIECE_BYTES,
  previewLog,
  readScopeCsv,
  shuffleColumn,
  solveWithSetup,
  speedSpikes,
  topOf,
  unloggedLoop,
  type BuildData,
  type ChannelId,
  type DynoPlan,
  type DynoRow,
  type IdleVerdict,
  type LearnResult,
  type LearnSetup,
  type LogData,
  type LogMapping,
  type Rejection,
  type Unsure,
  type SpeedSpike,
  type Trace,
  type TuneDocument,
} from '@vectum/core'

/** Heavy work of the server, run in worker threads so that the event loop stays free. Everything goes in and out as plain data. */
export interface ImportTask {
  kind: 'import'
  path: string
  mapping: LogMapping | null
  /** mappings confirmed before, by header fingerprint; used when none is given */
  remembered: Record<string, LogMapping>
  /** of the build, for pressure that is counted from the air outside, kPa */
  barometerKpa: number
}
/** What a person has to say first. */
export interface UnsureImport {
  unsure: Unsure[]
  proposal: LogMapping
}
export interface ImportResult {
  rows: number
  durationS: number
  rejected: Rejection[]
  mapping: LogMapping
  fingerprint: string
  columns: { channel: ChannelId; data: Uint8Array }[]
  /** highest speed and manifold pressure that last; null where there is no such channel */
  topRpm?: number | null
  topMapKpa?: number | null
}
interface StoredLog {
  columns: { channel: string; data: Uint8Array }[]
}
export interface LearnTask extends StoredLog {
  kind: 'learn'
  setup: LearnSetup
}
export interface IdleTask extends StoredLog {
  kind: 'idle'
  targetRpm: number | null
}
export interface SpikesTask extends StoredLog {
  kind: 'spikes'
}
export interface ScopeTask {
  kind: 'scope'
  text: string
}
export interface DriveTask {
  kind: 'drive'
  build: BuildData
  tune: TuneDocument
  /** what the unit had learned before, on its own cells, % */
  learned?: readonly number[]
  minutes: number
  seed: number
}
export interface DriveResult {
  rows: number
  durationS: number
  distanceKm: number
  stalls: number
  columns: ImportResult['columns']
  /** what the unit holds after it */
  learned: { rpm: number[]; mapKpa: number[]; learnedPct: number[] }
}
export interface DynoTask {
  kind: 'dyno'
  build: BuildData
  tune: TuneDocument
  plan: DynoPlan
}
export interface UnpackTask extends StoredLog {
  kind: 'unpack'
}
/** A log as it is in memory, to be stored. */
export interface PackTask {
  kind: 'pack'
  timeS: Float64Array
  channels: Partial<Record<ChannelId, Float32Array>>
}
export type HeavyTask = ImportTask | LearnTask | IdleTask | SpikesTask | DriveTask | DynoTask | UnpackTask | PackTask | ScopeTask

const HEAD_BYTES = 1 << 18

export async function importLog(task: ImportTask): Promise<ImportResult | UnsureImport> {
  const file = await open(task.path)
  const { size } = await file.stat()
  const piece = async (at: number, length: number): Promise<Uint8Array> => {
    const bytes = new Uint8Array(length)
    const { bytesRead } = await file.read(bytes, 0, length, at)
    return bytes.subarray(0, bytesRead)
  }
  const head = await piece(0, HEAD_BYTES)
  const later = size > 2 * HEAD_BYTES ? await Promise.all(LOOKED_INTO.map((share) => piece(Math.floor(share * size), PIECE_BYTES))) : []
  await file.close()
  const preview = previewLog(head, later, { barometerKpa: task.barometerKpa })
  const fingerprint = headerFingerprint(preview.dialect)
  const told = task.mapping ?? task.remembered[fingerprint]
  const mapping = told ?? preview.mapping
  const reader = new LogReader(preview.dialect, mapping)
  for await (const bytes of createReadStream(task.path, { highWaterMark: 1 << 20 })) reader.push(bytes as Uint8Array)
  // what cannot be a log at all is refused for that, before anything is asked
  const log = reader.finish()
  if (!told && preview.unsure.length) return { unsure: preview.unsure, proposal: preview.mapping }
  if (!told && unloggedLoop(log))
    return {
      unsure: [
        {
          channel: 'correctionPct',
          because: 'lambda stays on its target everywhere, so the closed loop was at work, and no column holds its correction',
        },
      ],
      proposal: mapping,
    }
  const columns = packLog(log)
  return {
    rows: log.rows,
    durationS: log.timeS[log.rows - 1],
    rejected: log.rejected,
    mapping,
    fingerprint,
    columns,
    topRpm: topOf(log.channels.rpm),
    topMapKpa: topOf(log.channels.mapKpa),
  }
}

const packColumn = (values: Float32Array | Float64Array): Uint8Array => deflateRawSync(shuffleColumn(values), { level: 1 })

export const packLog = ({ timeS, channels }: Pick<LogData, 'timeS' | 'channels'>): ImportResult['columns'] =>
  Object.entries({ timeS, ...channels }).map(([channel, data]) => ({ channel: channel as ChannelId, data: packColumn(data) }))

export const unpackLog = (stored: StoredLog): Pick<LogData, 'timeS' | 'channels'> =>
  columnsToLog(stored.columns.map(({ channel, data }) => ({ channel, shuffled: inflateRawSync(data) })))

export const learn = (task: LearnTask): LearnResult => solveWithSetup(unpackLog(task), task.setup)

export function spikes(task: SpikesTask): SpeedSpike[] {
  const { timeS, channels } = unpackLog(task)
  return channels.rpm ? speedSpikes(timeS, channels.rpm) : []
}

/** The trace of a scope's file that is judged: the first of its channels. */
export const scope = (task: ScopeTask): Trace => readScopeCsv(task.text)[0]

export const dyno = (task: DynoTask): DynoRow[] => benchDyno(task.build, task.tune, task.plan).rows

/** The bench car driven over a plan of its own, as fast as it goes, into the columns of a log. */
export function drive(task: DriveTask): DriveResult {
  const { timeS, channels, distanceKm, stalls, learned } = benchDrive(task.build, task.tune, drivePlan(task.minutes, task.seed), {
    learned: task.learned,
  })
  const columns = packLog({ timeS, channels })
  const held = {
    rpm: [...learned.rpm],
    mapKpa: [...learned.mapKpa],
    learnedPct: learned.pct.map((v) => Math.round(v * 100) / 100),
  }
  return { rows: timeS.length, durationS: timeS[timeS.length - 1], distanceKm, stalls, columns, learned: held }
}

export const idle = (task: IdleTask): IdleVerdict =>
  judgeIdle(unpackLog(task), task.targetRpm === null ? {} : { targetRpm: task.targetRpm })
