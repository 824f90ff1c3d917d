import { CoreError } from '@vectum/core'
import { idle, importLog, learn, type HeavyTask } from './tasks.ts'

/** Runs in a worker thread. An error of the core crosses the thread as plain data, since classes do not. */
export default async function run(
  task: HeavyTask,
): Promise<{ result: unknown } | { error: { code: string; field: string; message: string } }> {
  try {
    return { result: task.kind === 'import' ? await importLog(task) : task.kind === 'learn' ? learn(task) : idle(task) }
  } catch (error) {
    if (error instanceof CoreError) return { error: { code: error.code, field: error.field, message: error.message } }
    throw error
  }
}
