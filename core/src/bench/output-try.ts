import { type BuildData, CoreError, seedOf } from '../kernel/index.ts'
import type { TuneDocument } from '../tune/index.ts'
import { type OutputChannel, type OutputCondition, outputOver } from '../wiring/index.ts'
import type { ChannelId } from '../logfile/index.ts'
import { benchDrive, everydayDrive } from './drive.ts'

/** What a virtual output did over a drive of the bench car. */
export interface TriedOutput {
  rows: { timeS: number; value: number; on: boolean }[]
  /** times it came on */
  switched: number
}
const MINUTES = 4
const STEP_ROWS = 10
const channelOf: Record<OutputChannel, ChannelId | null> = {
  rpm: 'rpm',
  mapKpa: 'mapKpa',
  throttlePct: 'throttlePct',
  coolantC: 'coolantC',
  intakeAirC: 'intakeAirC',
  batteryV: 'batteryV',
  fuelKpa: 'fuelPressureKpa',
  oilKpa: null,
  speedKmh: 'speedKmh',
}
/**
 * Drives the bench car about for four minutes, from lukewarm on, and lets the output follow what it sees.
 * @param onProgress share done; returning false cancels
 * @throws CoreError NOT_ALLOWED when the car does not run on this tune, or its drive does not show the channel
 */
export function tryOutput(
  build: BuildData,
  tune: TuneDocument,
  when: OutputCondition,
  onProgress?: (share: number) => boolean | void,
): TriedOutput {
  const { timeS, channels } = benchDrive(build, tune, everydayDrive(MINUTES, seedOf(build.id)), { onProgress })
  const channel = channelOf[when.channel]
  const values = channel === null ? undefined : channels[channel]
  if (!values || !channels.rpm) throw new CoreError('NOT_ALLOWED', 'output', 'the drive of the bench car does not show this channel')
  const rows = Array.from(timeS, (t, i) => ({ timeS: t, value: values[i], rpm: channels.rpm![i] })).filter((_, i) => i % STEP_ROWS === 0)
  const on = outputOver(when, rows)
  return {
    rows: rows.map(({ timeS, value }, i) => ({ timeS, value, on: on[i] })),
    switched: on.filter((is, i) => is && !on[i - 1]).length,
  }
}
