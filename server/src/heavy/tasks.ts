import { createReadStream } from 'node:fs'
import { open } from 'node:fs/promises'
import { promisify } from 'node:util'
import { deflateRaw, inflateRaw } from 'node:zlib'
import {
  benchDrive,
  benchDyno,
  benchTrialHold,
  columnsToLog,
  driveByPlan,
  everydayDrive,
  stepDrive,
  warmUpDrive,
  headerFingerprint,
  joinLogs,
  joinParts,
  type IdleOptions,
  judgeIdle,
  LogReader,
  LOOKED_INTO,
  PIECE_BYTES,
  planDrive,
  previewLog,
  readScopeCsv,
  shuffleColumn,
  solveWithSetup,
  speedSpikes,
  topOf,
  unloggedLoop,
  type BuildData,
  type ChannelId,
  type DrivePlan,
  type DynoPlan,
  type TrialHold,
  type DynoRow,
  type IdleVerdict,
  type LearnResult,
  type LearnSetup,
  type LogData,
  type LogDialect,
  type LogMapping,
  type LogPart,
  type Rejection,
  type Unsure,
  type SpeedSpike,
  type Trace,
  type TuneDocument,
} from '@vectum/core'

/** Heavy work of the server, run in worker threads so that the event loop stays free. Everything goes in and out as plain data. */
export interface ImportFile {
  path: string
  mapping: LogMapping | null
  /** mappings confirmed before, by header fingerprint; used when none is given */
  remembered: Record<string, LogMapping>
  /** of the build, for pressure that is counted from the air outside, kPa */
  barometerKpa: number
}
export interface LookTask extends Pick<ImportFile, 'path' | 'barometerKpa'> {
  kind: 'look'
}
export interface Looked {
  dialect: LogDialect
  mapping: LogMapping
  unsure: Unsure[]
  fingerprint: string
  /** bytes of the file, cut between rows, that can be read each by itself */
  stretches: { from: number; to: number }[]
}
export interface ParseTask extends Pick<Looked, 'dialect' | 'mapping'> {
  kind: 'parse'
  path: string
  from: number
  to: number
}
export interface JoinTask extends Pick<Looked, 'dialect' | 'mapping' | 'unsure' | 'fingerprint'> {
  kind: 'join'
  parts: LogPart[]
  /** the mapping was confirmed */
  told: boolean
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
export interface LearnTask {
  kind: 'learn'
  /** the log that is asked about, and those that are solved with it */
  logs: readonly StoredLog[]
  setup: LearnSetup
}
/** The last log of a build, for a plan of the next drive. */
export interface LastLog {
  logs: readonly StoredLog[]
  /** for a solve against the tune in the car; null: driven on another, it only tells of the engine's torque */
  setup: LearnSetup | null
}
export interface PlanDriveTask {
  kind: 'plan-drive'
  build: Pick<BuildData, 'facts' | 'choices'>
  tune: TuneDocument | null
  last: LastLog | null
}
export interface IdleTask extends StoredLog {
  kind: 'idle'
  options: IdleOptions
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
  /** town, road and hills for so long, openings of the throttle, a start from cold and the way to warm, or a plan of what is missing */
  by: { minutes: number; seed: number } | { steps: number; fromC?: number } | { fromC: number } | { last: LastLog | null; seed: number }
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
export interface TrialHoldTask {
  kind: 'trial-hold'
  build: BuildData
  tune: TuneDocument
  hold: TrialHold
  /** holds that were made before it */
  number: number
}
/** What the brake, an ear and the gauges told of it. */
export type TrialHoldResult = Pick<ReturnType<typeof benchTrialHold>, 'torqueNm' | 'knock' | 'coolantC' | 'intakeAirC'>
export interface UnpackTask extends StoredLog {
  kind: 'unpack'
}
/** A log as it is in memory, to be stored. */
export interface PackTask {
  kind: 'pack'
  timeS: Float64Array
  channels: Partial<Record<ChannelId, Float32Array>>
}
export type HeavyTask =
  | LookTask
  | ParseTask
  | JoinTask
  | LearnTask
  | PlanDriveTask
  | IdleTask
  | SpikesTask
  | DriveTask
  | DynoTask
  | TrialHoldTask
  | UnpackTask
  | PackTask
  | ScopeTask

const HEAD_BYTES = 1 << 18
/** a file over this is read in so many parts side by side */
const SPLIT_FROM_BYTES = 1 << 23
const PARTS = 2

/** First look at a file: how it is written, and what has to be asked before it is read. */
export async function look({ path, barometerKpa }: LookTask): Promise<Looked> {
  const file = await open(path)
  const { size } = await file.stat()
  const piece = async (at: number, length: number): Promise<Uint8Array> => {
    const bytes = new Uint8Array(length)
    const { bytesRead } = await file.read(bytes, 0, length, at)
    return bytes.subarray(0, bytesRead)
  }
  const head = await piece(0, HEAD_BYTES)
  const later = size > 2 * HEAD_BYTES ? await Promise.all(LOOKED_INTO.map((share) => piece(Math.floor(share * size), PIECE_BYTES))) : []
  const { dialect, mapping, unsure } = previewLog(head, later, { barometerKpa })
  const stretches: Looked['stretches'] = []
  const parts = size > SPLIT_FROM_BYTES && dialect.encoding === 'utf-8' ? PARTS : 1
  for (let k = 0, from = 0; k < parts; k++) {
    const to = k === parts - 1 ? size : await nextLine(piece, Math.floor((size * (k + 1)) / parts), size)
    if (to > from) stretches.push({ from, to })
    from = to
  }
  await file.close()
  return { dialect, mapping, unsure, fingerprint: headerFingerprint(dialect), stretches }
}
/** Where the line after a place in a file begins. */
async function nextLine(piece: (at: number, length: number) => Promise<Uint8Array>, from: number, size: number): Promise<number> {
  for (let at = from; at < size; at += PIECE_BYTES) {
    const end = (await piece(at, PIECE_BYTES)).indexOf(10)
    if (end >= 0) return at + end + 1
  }
  return size
}

export async function parse({ path, from, to, dialect, mapping }: ParseTask): Promise<LogPart> {
  const reader = new LogReader(dialect, mapping, from > 0)
  for await (const bytes of createReadStream(path, { start: from, end: to - 1, highWaterMark: 1 << 20 })) reader.push(bytes as Uint8Array)
  return reader.part()
}

/** What a part holds its rows in: it changes threads whole, without a copy. */
export const buffersOf = ({ timeS, columns }: LogPart): ArrayBuffer[] =>
  [timeS, ...columns.map((c) => c.data)].map((a) => a.buffer as ArrayBuffer)

/** One log of its parts, and its columns ready to store. */
export async function join({ parts, dialect, mapping, told, unsure, fingerprint }: JoinTask): Promise<ImportResult | UnsureImport> {
  // what cannot be a log at all is refused for that, before anything is asked
  const log = joinParts(dialect, mapping.channels.timeS!.column, parts)
  if (!told && unsure.length) return { unsure, proposal: mapping }
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
  return {
    rows: log.rows,
    durationS: log.timeS[log.rows - 1],
    rejected: log.rejected,
    mapping,
    fingerprint,
    columns: await packLog(log),
    topRpm: topOf(log.channels.rpm),
    topMapKpa: topOf(log.channels.mapKpa),
  }
}

const deflate = promisify(deflateRaw)
const inflate = promisify(inflateRaw)
/** Columns side by side: zlib has threads of its own. */
export const packLog = ({ timeS, channels }: Pick<LogData, 'timeS' | 'channels'>): Promise<ImportResult['columns']> =>
  Promise.all(
    Object.entries({ timeS, ...channels }).map(async ([channel, data]) => ({
      channel: channel as ChannelId,
      data: await deflate(shuffleColumn(data), { level: 1 }),
    })),
  )

export const unpackLog = async (stored: StoredLog): Promise<Pick<LogData, 'timeS' | 'channels'>> =>
  columnsToLog(
    await Promise.all(stored.columns.map(async ({ channel, data }) => ({ channel, shuffled: (await inflate(data)) as Uint8Array }))),
  )

const unpackLogs = async (logs: readonly StoredLog[]) => joinLogs(await Promise.all(logs.map(unpackLog)))
export const learn = async ({ logs, setup }: LearnTask): Promise<LearnResult> => solveWithSetup(await unpackLogs(logs), setup)

/** What a plan of the next drive starts from. */
async function knownOf(last: LastLog | null): Promise<{ log?: Pick<LogData, 'timeS' | 'channels'>; result: LearnResult | null }> {
  if (!last) return { result: null }
  const log = await unpackLogs(last.logs)
  return { log, result: last.setup && solveWithSetup(log, last.setup) }
}
export async function planNextDrive({ build, tune, last }: PlanDriveTask): Promise<DrivePlan> {
  const { log, result } = await knownOf(last)
  return planDrive(build, tune, result, { log })
}

export async function spikes(task: SpikesTask): Promise<SpeedSpike[]> {
  const { timeS, channels } = await unpackLog(task)
  return channels.rpm ? speedSpikes(timeS, channels.rpm) : []
}

/** The trace of a scope's file that is judged: the first of its channels. */
export const scope = (task: ScopeTask): Trace => readScopeCsv(task.text)[0]

export function trialHold({ build, tune, hold, number }: TrialHoldTask): TrialHoldResult {
  const { torqueNm, knock, coolantC, intakeAirC } = benchTrialHold(build, tune, hold, number)
  return { torqueNm, knock, coolantC, intakeAirC }
}
export const dyno = (task: DynoTask): DynoRow[] => benchDyno(task.build, task.tune, task.plan).rows

/** A cold engine is warm after a third of it; the rest tells what the map itself lacks. */
const WARM_UP_MIN = 14

/** The bench car driven as fast as it goes, into the columns of a log: over town, road and hills, or by the plan of what is missing. */
export async function drive({ build, tune, learned: before, by }: DriveTask): Promise<DriveResult> {
  const { timeS, channels, distanceKm, stalls, learned } =
    'minutes' in by
      ? benchDrive(build, tune, everydayDrive(by.minutes, by.seed), { learned: before })
      : 'steps' in by
        ? benchDrive(build, tune, stepDrive(by.steps, { cold: by.fromC !== undefined }), { learned: before, coolantC: by.fromC })
        : 'fromC' in by
          ? benchDrive(build, tune, warmUpDrive(WARM_UP_MIN), { learned: before, coolantC: by.fromC })
          : driveByPlan(build, tune, await knownOf(by.last), before, by.seed)
  const columns = await packLog({ timeS, channels })
  const held = {
    rpm: [...learned.rpm],
    mapKpa: [...learned.mapKpa],
    learnedPct: learned.pct.map((v) => Math.round(v * 100) / 100),
  }
  return { rows: timeS.length, durationS: timeS[timeS.length - 1], distanceKm, stalls, columns, learned: held }
}

export const idle = async (task: IdleTask): Promise<IdleVerdict> => judgeIdle(await unpackLog(task), task.options)
