import type { FastifyReply } from 'fastify'
import { Piscina } from 'piscina'
import {
  CoreError,
  type CoreErrorCode,
  type DrivePlan,
  type DynoRow,
  type IdleVerdict,
  type LearnResult,
  type LogData,
  type LogPart,
  type SpeedSpike,
  type Trace,
} from '@vectum/core'
import { Problem } from '../http/problem.ts'
import { buffersOf } from './tasks.ts'
import type {
  DriveResult,
  DriveTask,
  DynoTask,
  TrialHoldResult,
  TrialHoldTask,
  HeavyTask,
  IdleTask,
  ImportFile,
  ImportResult,
  JoinTask,
  LearnTask,
  Looked,
  LookTask,
  PackTask,
  ParseTask,
  PlanDriveTask,
  ScopeTask,
  SpikesTask,
  UnpackTask,
  UnsureImport,
} from './tasks.ts'

/** Seconds a task may take, waiting for a thread included: several times what the largest that is allowed takes. */
const LIMITS_S: Readonly<Record<HeavyTask['kind'], number>> = {
  look: 30,
  parse: 120,
  join: 120,
  learn: 60,
  'plan-drive': 60,
  idle: 60,
  spikes: 60,
  drive: 120,
  dyno: 120,
  'trial-hold': 60,
  scope: 60,
  unpack: 60,
  pack: 60,
}
const RETRY_AFTER_S = 5

/** Whoever asked has gone: what is worked out for them alone need not be finished. */
export function gone(reply: FastifyReply): AbortSignal {
  const controller = new AbortController()
  reply.raw.once('close', () => {
    if (!reply.raw.writableFinished) controller.abort()
  })
  return controller.signal
}

/** The worker pool of one server. */
export class HeavyPool {
  private readonly pool: Piscina
  constructor(
    workerFile: string,
    private readonly limits: { threads: number; queue: number; seconds?: number } = { threads: 2, queue: 32 },
  ) {
    // all of them always: a log is read by as many at once, and when the last were ended with its task nobody would take what waits
    this.pool = new Piscina({ filename: workerFile, minThreads: limits.threads, maxThreads: limits.threads })
  }

  run(task: LookTask, gone?: AbortSignal): Promise<Looked>
  run(task: ParseTask, gone?: AbortSignal): Promise<LogPart>
  run(task: JoinTask, gone?: AbortSignal): Promise<ImportResult | UnsureImport>
  run(task: LearnTask, gone?: AbortSignal): Promise<LearnResult>
  run(task: PlanDriveTask, gone?: AbortSignal): Promise<DrivePlan>
  run(task: IdleTask, gone?: AbortSignal): Promise<IdleVerdict>
  run(task: SpikesTask, gone?: AbortSignal): Promise<SpeedSpike[]>
  run(task: DriveTask, gone?: AbortSignal): Promise<DriveResult>
  run(task: DynoTask, gone?: AbortSignal): Promise<DynoRow[]>
  run(task: TrialHoldTask, gone?: AbortSignal): Promise<TrialHoldResult>
  run(task: ScopeTask, gone?: AbortSignal): Promise<Trace>
  run(task: UnpackTask, gone?: AbortSignal): Promise<Pick<LogData, 'timeS' | 'channels'>>
  run(task: PackTask, gone?: AbortSignal): Promise<ImportResult['columns']>
  /** @throws Problem TOO_MANY_REQUESTS with a full queue, TOOK_TOO_LONG past the limit, CANCELLED when `gone` tells so; the thread is free again */
  async run(task: HeavyTask, gone?: AbortSignal): Promise<unknown> {
    const { queue, seconds = LIMITS_S[task.kind] } = this.limits
    if (this.pool.queueSize >= queue)
      throw new Problem(429, 'TOO_MANY_REQUESTS', `${queue} pieces of heavy work wait already. Try again in ${RETRY_AFTER_S} s.`, {
        retryAfterS: RETRY_AFTER_S,
      })
    const late = AbortSignal.timeout(seconds * 1000)
    const signal = gone ? AbortSignal.any([gone, late]) : late
    const transferList = task.kind === 'join' ? task.parts.flatMap(buffersOf) : []
    const answer = (await this.pool.run(task, { signal, transferList }).catch((error: unknown) => {
      if (gone?.aborted) throw new Problem(499, 'CANCELLED', 'Whoever asked for this has gone; it was not finished and nothing was stored.')
      if (late.aborted)
        throw new Problem(
          504,
          'TOOK_TOO_LONG',
          `This took longer than ${seconds} s and was stopped; nothing was stored. Send less at once, or try again when less is going on.`,
        )
      throw error
    })) as { result?: unknown; error?: { code: CoreErrorCode; field: string; message: string } }
    if (answer.error) throw revive(answer.error)
    return answer.result
  }

  /** Reads a log of a file, a large one in parts side by side; or says what has to be asked first. @throws Problem and CoreError as `run` */
  async importLog(
    { path, mapping: given, remembered, barometerKpa }: ImportFile,
    gone?: AbortSignal,
  ): Promise<ImportResult | UnsureImport> {
    const { dialect, mapping: proposed, unsure, fingerprint, stretches } = await this.run({ kind: 'look', path, barometerKpa }, gone)
    const told = given ?? remembered[fingerprint]
    const mapping = told ?? proposed
    const read = (list: Looked['stretches']) =>
      Promise.all(list.map((stretch) => this.run({ kind: 'parse', path, dialect, mapping, ...stretch }, gone)))
    const whole = [{ from: 0, to: stretches.at(-1)!.to }]
    // an error of a later part counts its lines from its own beginning: the whole is read again for the right words
    const parts = await read(stretches).catch((error: unknown) => {
      if (error instanceof CoreError && stretches.length > 1) return read(whole)
      throw error
    })
    return this.run({ kind: 'join', parts, dialect, mapping, told: told !== undefined, unsure, fingerprint }, gone)
  }

  close(): Promise<void> {
    return this.pool.destroy()
  }
}

function revive({ code, field, message }: { code: CoreErrorCode; field: string; message: string }): CoreError {
  const error = new CoreError(code, field)
  error.message = message
  return error
}
