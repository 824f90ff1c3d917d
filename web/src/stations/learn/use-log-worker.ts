import type { LogTasks } from '../../workers/log-worker.ts'
import { useWorker } from '../../workers/use-worker.ts'

/** The thread that works on logs. */
export const useLogWorker = () =>
  useWorker<LogTasks>(() => new Worker(new URL('../../workers/log-worker.ts', import.meta.url), { type: 'module' }))
