import * as Comlink from 'comlink'
import {
  type BuildData,
  type Frame,
  framesToLog,
  idleRuns,
  type IdleOptions,
  type IdleVerdict,
  judgeIdle,
  loadDrop,
  type LoadDrop,
  type SpeedSpectrum,
  speedSpectrum,
  type StartScore,
  startScores,
  tryIdle,
  type TuneDocument,
  type TuneParameters,
} from '@vectum/core'

/** What a trace needs to be drawn: the speed over time. */
export interface SpeedTrace {
  timeS: number[]
  rpm: number[]
}
export interface LiveIdle {
  verdict: IdleVerdict
  spectrum: SpeedSpectrum
}
const traceOf = (log: { timeS: Float64Array; channels: { rpm?: Float32Array } }): SpeedTrace => ({
  timeS: Array.from(log.timeS, (t) => t - log.timeS[0]),
  rpm: Array.from(log.channels.rpm ?? []),
})

const tasks = {
  /** What the last of the stream shows. */
  judge(frames: Frame[], options: IdleOptions): LiveIdle {
    const log = framesToLog(frames)
    const runs = idleRuns(log, options.targetRpm).filter((run) => run.warm)
    return { verdict: judgeIdle(log, options), spectrum: speedSpectrum(log, runs) }
  },
  /** Starts in the last of the stream, and what a load did that came on at a time of it. */
  starts: (frames: Frame[]): StartScore[] => startScores(framesToLog(frames)),
  drop: (frames: Frame[], atS: number): LoadDrop => loadDrop(framesToLog(frames), atS - frames[0].timeS),
  /** A warm idle of the bench car with some parameters changed; null: it does not run so. */
  tried(build: BuildData, tune: TuneDocument, parameters: Partial<TuneParameters>): { verdict: IdleVerdict; trace: SpeedTrace } | null {
    const idle = tryIdle(build, tune, parameters)
    return idle && { verdict: idle.verdict, trace: traceOf(idle.log) }
  },
}
export type IdleTasks = typeof tasks
Comlink.expose(tasks)
