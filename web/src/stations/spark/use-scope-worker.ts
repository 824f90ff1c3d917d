import type { ScopeTasks } from '../../workers/scope-worker.ts'
import { useWorker } from '../../workers/use-worker.ts'

/** The thread that makes, judges and thins the scope's records. */
export const useScopeWorker = () =>
  useWorker<ScopeTasks>(() => new Worker(new URL('../../workers/scope-worker.ts', import.meta.url), { type: 'module' })).tasks
