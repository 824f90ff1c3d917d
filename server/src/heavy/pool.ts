import { Piscina } from 'piscina'
import {
  CoreError,
  type CoreErrorCode,
  type DynoRow,
  type IdleVerdict,
  type LearnResult,
  type LogData,
  type SpeedSpike,
  type Trace,
} from '@vectum/core'
import type {
  DriveResult,
  DriveTask,
  DynoTask,
  HeavyTask,
  IdleTask,
  ImportResult,
  ImportTask,
  LearnTask,
  ScopeTask,
  SpikesTask,
  UnpackTask,
} from './tasks.ts'

/** The worker pool of one server. */
export class HeavyPool {
  private readonly pool: Piscina
  constructor(workerFile: string) {
    this.pool = new Piscina({ filename: workerFile, minThreads: 0, maxThreads: 2, idleTimeout: 30_000, maxQueue: 32 })
  }

  run(task: ImportTask): Promise<ImportResult>
  run(task: LearnTask): Promise<LearnResult>
  run(task: IdleTask): Promise<IdleVerdict>
  run(task: SpikesTask): Promise<SpeedSpike[]>
  run(task: DriveTask): Promise<DriveResult>
  run(task: DynoTask): Promise<DynoRow[]>
  run(task: ScopeTask): Promise<Trace>
  run(task: UnpackTask): Promise<Pick<LogData, 'timeS' | 'channels'>>
  async run(task: HeavyTask): Promise<unknown> {
    const answer = (await this.pool.run(task)) as { result?: unknown; error?: { code: CoreErrorCode; field: string; message: string } }
    if (answer.error) throw revive(answer.error)
    return answer.result
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
