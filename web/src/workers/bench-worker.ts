import * as Comlink from 'comlink'
import { type BuildData, CoreError, type OutputCondition, type TriedOutput, tryOutput, type TuneDocument } from '@vectum/core'

/** Drives of the bench car that a screen asks for. */
const tasks = {
  output(
    build: BuildData,
    tune: TuneDocument,
    when: OutputCondition,
    onProgress: (share: number) => void,
  ): TriedOutput | { refused: string } {
    try {
      return tryOutput(build, tune, when, onProgress)
    } catch (e) {
      if (e instanceof CoreError) return { refused: e.message }
      throw e
    }
  },
}
export type BenchTasks = typeof tasks
Comlink.expose(tasks)
