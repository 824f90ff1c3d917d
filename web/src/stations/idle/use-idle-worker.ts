import type { IdleTasks } from '../../workers/idle-worker.ts'
import { useWorker } from '../../workers/use-worker.ts'

/** The thread that judges an idle's trace. */
export const useIdleWorker = () =>
  useWorker<IdleTasks>(() => new Worker(new URL('../../workers/idle-worker.ts', import.meta.url), { type: 'module' }))
