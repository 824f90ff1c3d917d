import * as Comlink from 'comlink'
import { onBeforeUnmount } from 'vue'
import type { IdleTasks } from '../../workers/idle-worker.ts'

/** One thread for what an idle's trace is judged by. Cancelling ends it, whatever it is doing; the next call starts a new one. */
export function useIdleWorker() {
  let worker: Worker | null = null
  let remote: Comlink.Remote<IdleTasks> | null = null
  function tasks(): Comlink.Remote<IdleTasks> {
    if (!remote) {
      worker = new Worker(new URL('../../workers/idle-worker.ts', import.meta.url), { type: 'module' })
      remote = Comlink.wrap<IdleTasks>(worker)
    }
    return remote
  }
  function cancel(): void {
    worker?.terminate()
    worker = null
    remote = null
  }
  onBeforeUnmount(cancel)
  return { tasks, cancel }
}
