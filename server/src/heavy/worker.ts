import { CoreError } from '@vectum/core'
import { drive, dyno, idle, importLog, learn, packLog, scope, spikes, unpackLog, type HeavyTask } from './tasks.ts'

/** Runs in a worker thread. An error of the core crosses the thread as plain data, since classes do not. */
export default async function run(
  task: HeavyTask,
): Promise<{ result: unknown } | { error: { code: string; field: string; message: string } }> {
  try {
    switch (task.kind) {
      case 'import':
        return { result: await importLog(task) }
      case 'learn':
        return { result: learn(task) }
      case 'idle':
        return { result: idle(task) }
      case 'drive':
        return { result: drive(task) }
      case 'dyno':
        return { result: dyno(task) }
      case 'unpack':
        return { result: unpackLog(task) }
      case 'pack':
        return { result: packLog(task) }
      case 'scope':
        return { result: scope(task) }
      case 'spikes':
        return { result: spikes(task) }
    }
  } catch (error) {
    if (error instanceof CoreError) return { error: { code: error.code, field: error.field, message: error.message } }
    throw error
  }
}
