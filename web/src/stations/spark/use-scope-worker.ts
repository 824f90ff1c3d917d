import * as Comlink from 'comlink'
import { onBeforeUnmount } from 'vue'
import type { ScopeTasks } from '../../workers/scope-worker.ts'

/** One worker for the scope on this screen, started when it is first needed. */
export function useScopeWorker(): () => Comlink.Remote<ScopeTasks> {
  let worker: Worker | null = null
  let remote: Comlink.Remote<ScopeTasks> | null = null
  onBeforeUnmount(() => worker?.terminate())
  return () => {
    if (!remote) {
      worker = new Worker(new URL('../../workers/scope-worker.ts', import.meta.url), { type: 'module' })
      remote = Comlink.wrap<ScopeTasks>(worker)
    }
    return remote
  }
}
