import { CoreError } from '@vectum/core'
import { move, transferableSymbol, valueSymbol } from 'piscina'
import {
  buffersOf,
  drive,
  dyno,
  idle,
  join,
  learn,
  look,
  packLog,
  parse,
  planNextDrive,
  scope,
  spikes,
  trialHold,
  unpackLog,
  type HeavyTask,
} from './tasks.ts'

/** An answer whose buffers are handed over, not copied. */
const handed = (result: unknown, buffers: ArrayBuffer[]) => move({ [transferableSymbol]: buffers, [valueSymbol]: { result } })

/**
 * Runs in a worker thread. An error of the core crosses the thread as plain data, since classes do not.
 * @returns `{ result }`, or `{ error }` with code, field and message
 */
export default async function run(task: HeavyTask): Promise<unknown> {
  try {
    switch (task.kind) {
      case 'look':
        return { result: await look(task) }
      case 'parse': {
        const part = await parse(task)
        return handed(part, buffersOf(part))
      }
      case 'join':
        return { result: await join(task) }
      case 'learn':
        return { result: await learn(task) }
      case 'plan-drive':
        return { result: await planNextDrive(task) }
      case 'idle':
        return { result: await idle(task) }
      case 'drive':
        return { result: await drive(task) }
      case 'dyno':
        return { result: dyno(task) }
      case 'trial-hold':
        return { result: trialHold(task) }
      case 'unpack':
        return { result: await unpackLog(task) }
      case 'pack':
        return { result: await packLog(task) }
      case 'scope':
        return { result: scope(task) }
      case 'spikes':
        return { result: await spikes(task) }
    }
  } catch (error) {
    if (error instanceof CoreError) return { error: { code: error.code, field: error.field, message: error.message } }
    throw error
  }
}
