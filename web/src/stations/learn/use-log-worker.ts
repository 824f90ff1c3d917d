import * as Comlink from 'comlink'
import { onBeforeUnmount } from 'vue'
import type { LogTasks } from '../../workers/log-worker.ts'

/** One worker for this screen. Cancelling ends the thread, whatever it is doing; the next call starts a new one. */
export function useLogWorker() {
  let worker: Worker | null = null
  let remote: Comlink.Remote<LogTasks> | null = null
  function tasks(): Comlink.Remote<LogTasks> {
    if (!remote) {
      worker = new Worker(new URL('../../workers/log-worker.ts', import.meta.url), { type: 'module' })
      remote = Comlink.wrap<LogTasks>(worker)
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
