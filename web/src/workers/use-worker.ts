import * as Comlink from 'comlink'
import { onBeforeUnmount } from 'vue'

/**
 * One thread for what a screen asks of it, started when it is first needed. Cancelling ends it, whatever it is doing; the next call starts a new
 * one. It ends with its screen.
 * @param start makes the worker: its address must stand where the builder sees it
 */
export function useWorker<T>(start: () => Worker): { tasks: () => Comlink.Remote<T>; cancel: () => void } {
  let worker: Worker | null = null
  let remote: Comlink.Remote<T> | null = null
  function tasks(): Comlink.Remote<T> {
    if (!remote) {
      worker = start()
      remote = Comlink.wrap<T>(worker)
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
