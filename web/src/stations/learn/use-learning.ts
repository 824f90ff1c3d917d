import { v4 as uuid } from 'uuid'
import * as Comlink from 'comlink'
import { computed, ref, shallowRef } from 'vue'
import {
  BenchDriveAnswer,
  drivenWith,
  ImportedLog,
  latest,
  LogAnswer,
  type CellChange,
  type CellReadings,
  type StretchFate,
  type LearnResult,
  logDoubtsSaid,
  learnSetupOf,
  logsTogether,
  type Moment,
  type Scatter,
  type ScatterOver,
  LOOKED_INTO,
  type LogMapping,
  type LogPreview,
  PIECE_BYTES,
  type StepsJudged,
  type WarmUpJudged,
  suspectOf,
  type Tune,
  TuneAnswer,
} from '@vectum/core'
import { api, ApiError, upload } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'
import type { Refusal } from '../../workers/log-worker.ts'
import { useLogWorker } from './use-log-worker.ts'

export const MAX_LOG_MB = 160
const HEAD_BYTES = 1 << 18

/** What a log has taught, with the tune that it was solved against; null while none is in the car. */
export interface Solved {
  logId: string
  /** earlier logs of the same tune that were solved with it */
  with: number
  result: LearnResult
  tune: Tune | null
  strip: { durationS: number; columns: Float32Array; fates: (StretchFate | null)[] } | null
  /** moments marked while it was taken, s from its beginning */
  marks: { atS: number; moment: Moment }[]
  /** what each used row wanted over one of its readings */
  scatter: (over: ScatterOver) => Promise<Scatter | null>
  channels: readonly string[]
  /** what the fuel for an opening throttle does */
  steps: () => Promise<StepsJudged>
  /** what the fuel for a cold engine does, over the logs solved together; null: no tune to hold it against */
  warmUp: () => Promise<WarmUpJudged | Refusal | null>
  /** the readings that a cell was solved from, of the log that was asked about */
  readings: (at: { i: number; j: number; by: 'pressure' | 'throttle' }) => Promise<CellReadings | null>
}
interface ProposedTune {
  changes: CellChange[]
  document: Tune['document']
}
/** Where learning stands: one thing at a time. */
export type Learning =
  | { at: 'waiting' }
  | { at: 'mapping'; file: File; preview: LogPreview; sentShare: number | null }
  | { at: 'driving' }
  | { at: 'solving'; share: number }
  | { at: 'solved'; solved: Solved; proposed: ProposedTune | null; accepting: boolean }

/** From a file or a drive of the bench to a new version of the tune. What goes wrong is said in `problem`, and the state goes back to where one can go on. */
export function useLearning({ worker = useLogWorker(), send = upload } = {}) {
  const builds = useBuild()
  const state = shallowRef<Learning>({ at: 'waiting' })
  const problem = ref<string | null>(null)
  const chosen = ref<string | null>(builds.current?.logs.at(-1)?.id ?? null)
  const imported = shallowRef<ImportedLog | null>(null)
  let sender: AbortController | null = null
  // one id for one file, so that a second try after a lost answer brings no second log
  let uploadId = uuid()

  const inCar = computed(() => builds.current?.tunes.find((t) => t.status === 'in-car'))
  const log = computed(() => builds.current?.logs.find((l) => l.id === chosen.value))
  /** An older log was driven with another table: its errors are not this table's. */
  const fits = computed(() => log.value !== undefined && drivenWith(log.value, inCar.value))

  /** The log that is meant when a file is stored already; null for any other failure. */
  const twinIn = (e: unknown): string | null => (e instanceof ApiError && e.code === 'ALREADY_STORED' ? (e.body.logId as string) : null)

  /** Does work that may fail: what is wrong is said, and learning stands where `otherwise` puts it. */
  async function trying(work: () => Promise<void>, otherwise: () => Learning = () => ({ at: 'waiting' })): Promise<void> {
    problem.value = null
    try {
      await work()
    } catch (e) {
      if ((e as Error).name !== 'AbortError') problem.value = (e as Error).message
      state.value = otherwise()
    }
  }

  async function take(file: File | null | undefined): Promise<void> {
    state.value = { at: 'waiting' }
    if (!file) return
    await trying(async () => {
      if (file.size > MAX_LOG_MB * 1024 * 1024)
        throw new Error(
          `"${file.name}" is ${(file.size / 1024 / 1024).toFixed(0)} MB; the largest a log may be is ${MAX_LOG_MB} MB. Cut it into pieces, or export fewer channels.`,
        )
      const head = await file.slice(0, HEAD_BYTES).arrayBuffer()
      // a log begins cold and at idle: its units show where it is driven
      const later = file.size > 2 * HEAD_BYTES ? LOOKED_INTO.map((share) => Math.floor(share * file.size)) : []
      const pieces = await Promise.all(later.map((at) => file.slice(at, at + PIECE_BYTES).arrayBuffer()))
      const preview = await worker.tasks().preview(head, pieces, { barometerKpa: builds.context!.resolved.barometerKpa })
      if ('refused' in preview) throw new Error(`"${file.name}": ${preview.refused.message}`)
      state.value = { at: 'mapping', file, preview, sentShare: null }
    })
  }

  async function confirm(mapping: LogMapping, drivenOn: string | null): Promise<void> {
    const { value: standing } = state
    if (standing.at !== 'mapping') return
    const { signal } = (sender = new AbortController())
    let logId: string | null = null
    await trying(
      async () => {
        const form = new FormData()
        form.append('id', uploadId)
        form.append('mapping', JSON.stringify(mapping))
        if (drivenOn) form.append('tuneId', drivenOn)
        form.append('file', standing.file)
        state.value = { ...standing, sentShare: 0 }
        const path = `/builds/${builds.current!.id}/logs`
        try {
          imported.value = await send(path, ImportedLog, form, (sentShare) => (state.value = { ...standing, sentShare }), signal)
          logId = imported.value.id
        } catch (e) {
          logId = twinIn(e)
          throw e
        } finally {
          if (logId) uploadId = uuid()
        }
      },
      () => (signal.aborted ? { at: 'waiting' } : { ...standing, sentShare: null }),
    )
    const said = problem.value
    if (!logId) return
    await builds.reload()
    chosen.value = logId
    await solve()
    problem.value ??= said
  }

  async function driveBench(
    body: { minutes: number } | { steps: number; fromC?: number } | { fromC: number } | { byPlan: true },
  ): Promise<void> {
    state.value = { at: 'driving' }
    await trying(async () => {
      const driven = await api(`/builds/${builds.current!.id}/bench/drive`, BenchDriveAnswer, { method: 'POST', body })
      await builds.reload()
      chosen.value = driven.id
      state.value = { at: 'waiting' }
    })
    if (!problem.value) await solve()
  }

  async function solve(): Promise<void> {
    const { value: logId } = chosen
    if (!logId) return
    state.value = { at: 'solving', share: 0 }
    await trying(async () => {
      const together = logsTogether(builds.context!, logId)
      const logs = await Promise.all(together.map(async (id) => ({ id, channels: (await api(`/logs/${id}`, LogAnswer)).channels })))
      const { channels } = logs.at(-1)!
      const build = builds.current!
      const tune = inCar.value ? await api(`/builds/${build.id}/tunes/${inCar.value.id}`, TuneAnswer) : null
      const onProgress = Comlink.proxy((share: number) => {
        if (state.value.at === 'solving') state.value = { at: 'solving', share }
      })
      const setup = learnSetupOf(builds.context!, tune?.document ?? null, logId)
      const result = await worker.tasks().solve(logs, setup, onProgress)
      if ('refused' in result) throw new Error(result.refused.message)
      const strip = await worker.tasks().strip(logId, channels, 'rpm', 720, setup)
      if (strip && 'refused' in strip) throw new Error(strip.refused.message)
      const marks = channels.includes('marker') ? await worker.tasks().marks(logId, channels) : []
      const readings: Solved['readings'] = async (at) => {
        const read = await worker.tasks().cell(logId, channels, setup, at)
        return read && 'refused' in read ? null : read
      }
      const scatter: Solved['scatter'] = async (over) => {
        const read = await worker.tasks().scatter(logId, channels, setup, over)
        return read && 'refused' in read ? null : read
      }
      // cancelled, or another log chosen, while this one was being solved
      if (state.value.at !== 'solving' || chosen.value !== logId) return
      state.value = {
        at: 'solved',
        solved: {
          logId,
          with: together.length - 1,
          result,
          tune,
          strip,
          marks,
          readings,
          scatter,
          channels,
          steps: () => worker.tasks().steps(logId, channels, setup, tune?.document.parameters.accelDecayS ?? null),
          warmUp: async () => (tune ? worker.tasks().warmUp(logs, setup, tune.document) : null),
        },
        proposed: null,
        accepting: false,
      }
      record(logId, result, tune)
    })
  }
  let askedFor = ''
  /** The verdict goes on record once for a log and the tune it was driven on. */
  function record(logId: string, result: LearnResult, tune: Tune | null): void {
    const last = latest(builds.context!.readings, 'learn.result')?.value
    const suspect = suspectOf(result)
    const known = last?.logId === logId && last.tuneId === (tune?.id ?? null) && last.suspect === suspect
    const doubted = log.value && logDoubtsSaid(builds.context!, log.value).length > 0
    const once = `${logId} ${tune?.id} ${suspect ?? ''}`
    if (result.totals.used === 0 || known || doubted || !fits.value || askedFor === once) return
    askedFor = once
    builds.ask('learn.result', { logId })
  }

  function cancel(): void {
    sender?.abort()
    worker.cancel()
    state.value = { at: 'waiting' }
  }

  async function propose(): Promise<void> {
    const { value: standing } = state
    if (standing.at !== 'solved' || !standing.solved.tune || !standing.solved.result.sound) return
    const { tune, result } = standing.solved
    await trying(
      async () => {
        const from = `learned from ${log.value?.name ?? 'a log'} over version ${tune.number}`
        const made = await worker.tasks().correct(tune.document, result, from)
        if ('refused' in made) throw new Error(made.refused.message)
        state.value = { ...standing, proposed: { changes: made.changes, document: made.tune } }
      },
      () => standing,
    )
  }
  function dismiss(): void {
    if (state.value.at === 'solved') state.value = { ...state.value, proposed: null }
  }
  /** Stores the proposed tune; answers the new version's number, or null when it was not stored. */
  async function accept(): Promise<number | null> {
    const { value: standing } = state
    if (standing.at !== 'solved' || !standing.proposed || !standing.solved.tune) return null
    const { proposed, solved } = standing
    state.value = { ...standing, accepting: true }
    let number: number | null = null
    await trying(
      async () => {
        const made = await api(`/builds/${builds.current!.id}/tunes`, TuneAnswer, {
          method: 'POST',
          body: {
            id: uuid(),
            document: proposed.document,
            origin: 'learned',
            parentId: solved.tune!.id,
            logId: solved.logId,
          },
        })
        await builds.reload()
        number = made.number
        state.value = { ...standing, proposed: null, accepting: false }
      },
      () => standing,
    )
    return number
  }

  return { state, problem, chosen, imported, inCar, fits, take, confirm, driveBench, solve, cancel, propose, dismiss, accept }
}
