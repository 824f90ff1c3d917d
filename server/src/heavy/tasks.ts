import { createReadStream } from 'node:fs'
import { open } from 'node:fs/promises'
import { deflateRawSync, inflateRawSync } from 'node:zlib'
import {
  bilinear,
  headerFingerprint,
  judgeIdle,
  LogReader,
  previewLog,
  solveLearn,
  type Axes,
  type ChannelId,
  type IdleVerdict,
  type LearnResult,
  type LogData,
  type LogMapping,
  type Rejection,
  type TuneDocument,
} from '@vectum/core'

/** Heavy work of the server, run in worker threads so that the event loop stays free. Everything goes in and out as plain data. */
export interface ImportTask {
  kind: 'import'
  path: string
  mapping: LogMapping | null
  /** mappings confirmed before, by header fingerprint; used when none is given */
  remembered: Record<string, LogMapping>
}
export interface ImportResult {
  rows: number
  durationS: number
  rejected: Rejection[]
  mapping: LogMapping
  fingerprint: string
  columns: { channel: ChannelId; data: Uint8Array }[]
}
interface StoredLog {
  columns: { channel: string; data: Uint8Array }[]
}
export interface LearnTask extends StoredLog {
  kind: 'learn'
  axes: Axes
  barometerKpa: number
  coolantMinC: number
  target: Pick<TuneDocument, 'axes' | 'tables'> | null
}
export interface IdleTask extends StoredLog {
  kind: 'idle'
  targetRpm: number | null
}
export type HeavyTask = ImportTask | LearnTask | IdleTask

const HEAD_BYTES = 1 << 18

export async function importLog(task: ImportTask): Promise<ImportResult> {
  const file = await open(task.path)
  const head = new Uint8Array(HEAD_BYTES)
  const { bytesRead } = await file.read(head, 0, HEAD_BYTES, 0)
  await file.close()
  const preview = previewLog(head.subarray(0, bytesRead))
  const fingerprint = headerFingerprint(preview.dialect)
  const mapping = task.mapping ?? task.remembered[fingerprint] ?? preview.mapping
  const reader = new LogReader(preview.dialect, mapping)
  for await (const piece of createReadStream(task.path, { highWaterMark: 1 << 20 })) reader.push(piece as Uint8Array)
  const log = reader.finish()
  const columns: ImportResult['columns'] = [{ channel: 'timeS', data: packColumn(log.timeS) }]
  for (const [channel, data] of Object.entries(log.channels)) columns.push({ channel: channel as ChannelId, data: packColumn(data) })
  return { rows: log.rows, durationS: log.timeS[log.rows - 1], rejected: log.rejected, mapping, fingerprint, columns }
}

/** A column as stored: little-endian floats (64 bit for time, 32 for the rest), bytes of like weight together, deflated. */
export function packColumn(values: Float32Array | Float64Array): Uint8Array {
  const size = values.BYTES_PER_ELEMENT
  const bytes = new Uint8Array(values.buffer, values.byteOffset, values.byteLength)
  const shuffled = new Uint8Array(bytes.length)
  const n = values.length
  for (let b = 0; b < size; b++) for (let i = 0; i < n; i++) shuffled[b * n + i] = bytes[i * size + b]
  return deflateRawSync(shuffled, { level: 1 })
}

export function unpackColumn(data: Uint8Array, size: 4 | 8): Float32Array | Float64Array {
  const shuffled = inflateRawSync(data)
  const n = shuffled.length / size
  const bytes = new Uint8Array(shuffled.length)
  for (let b = 0; b < size; b++) for (let i = 0; i < n; i++) bytes[i * size + b] = shuffled[b * n + i]
  return size === 8 ? new Float64Array(bytes.buffer) : new Float32Array(bytes.buffer)
}

export function unpackLog(stored: StoredLog): Pick<LogData, 'timeS' | 'channels'> {
  const channels: LogData['channels'] = {}
  let timeS = new Float64Array(0)
  for (const { channel, data } of stored.columns)
    if (channel === 'timeS') timeS = unpackColumn(data, 8) as Float64Array<ArrayBuffer>
    else channels[channel as keyof LogData['channels']] = unpackColumn(data, 4) as Float32Array
  return { timeS, channels }
}

export function learn(task: LearnTask): LearnResult {
  const { target } = task
  return solveLearn(unpackLog(task), task.axes, {
    barometerKpa: task.barometerKpa,
    limits: { coolantMinC: task.coolantMinC },
    targetLambdaAt: target ? (rpm, mapKpa) => bilinear(target.axes, target.tables.lambdaTarget, rpm, mapKpa) : undefined,
  })
}

export const idle = (task: IdleTask): IdleVerdict =>
  judgeIdle(unpackLog(task), task.targetRpm === null ? {} : { targetRpm: task.targetRpm })
