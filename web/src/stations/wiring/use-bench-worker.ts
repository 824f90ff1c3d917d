import type { BenchTasks } from '../../workers/bench-worker.ts'
import { useWorker } from '../../workers/use-worker.ts'

/** The thread in which the bench car is driven. */
export const useBenchWorker = () =>
  useWorker<BenchTasks>(() => new Worker(new URL('../../workers/bench-worker.ts', import.meta.url), { type: 'module' }))
