import { shallowRef } from 'vue'
import { learnSetupOf, LogAnswer, type LearnSetup, type LogRow, type StretchFate, TuneAnswer, tuneInCar } from '@vectum/core'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'
import type { Channel } from '../../workers/log-worker.ts'
import { useLogWorker } from './use-log-worker.ts'
import type { LogColumns } from './LogScreen.vue'

/** A log that stands open to be looked at: what is drawn of it comes from its worker, window by window. */
interface OpenLog {
  id: string
  durationS: number
  rows: number
  /** channels that hold anything, with their least and most */
  ends: { channel: Channel; low: number; high: number }[]
  /** the engine's speed from end to end, and what became of each slice; null: no speed in it, or nothing can be judged */
  whole: { columns: Float32Array; fates: (StretchFate | null)[] } | null
  /** moments that were marked, s from its beginning */
  marks: number[]
  columns: (wanted: Channel[], fromS: number, toS: number, width: number) => Promise<LogColumns>
  row: (atS: number, step?: number) => Promise<LogRow>
}
export type LogRoom = { at: 'none' } | { at: 'opening' } | { at: 'refused'; because: string } | { at: 'open'; log: OpenLog }
const SLICES = 720

/** Opens one log after another; the newest asked for is the one that stands. */
export function useLogRoom({ worker = useLogWorker() } = {}) {
  const builds = useBuild()
  const room = shallowRef<LogRoom>({ at: 'none' })
  let newest: string | null = null

  async function open(logId: string | null): Promise<void> {
    newest = logId
    if (!logId) {
      room.value = { at: 'none' }
      return
    }
    room.value = { at: 'opening' }
    try {
      const { channels } = await api(`/logs/${logId}`, LogAnswer)
      const inCar = tuneInCar(builds.current!)
      const tune = inCar ? await api(`/builds/${builds.current!.id}/tunes/${inCar.id}`, TuneAnswer) : null
      const setup: LearnSetup = learnSetupOf(builds.context!, tune?.document ?? null, logId)
      const { durationS, rows, ends } = await worker.tasks().open(logId, channels)
      const whole = await worker.tasks().strip(logId, channels, 'rpm', SLICES, setup)
      if (whole && 'refused' in whole) throw new Error(whole.refused.message)
      const marks = channels.includes('marker') ? await worker.tasks().marks(logId, channels) : []
      if (newest !== logId) return
      room.value = {
        at: 'open',
        log: {
          id: logId,
          durationS,
          rows,
          ends,
          whole,
          marks: marks.map((m) => m.atS),
          columns: (wanted, fromS, toS, width) => worker.tasks().window(logId, channels, wanted, fromS, toS, width, setup),
          row: (atS, step = 0) => worker.tasks().row(logId, channels, atS, step, setup),
        },
      }
    } catch (e) {
      if (newest === logId) room.value = { at: 'refused', because: (e as Error).message }
    }
  }
  return { room, open }
}
