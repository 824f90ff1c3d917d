import { framesToLog, type Frame } from '../start/index.ts'
import { defaultLimits, judgeSamples, type SampleLimits } from '../samples/index.ts'
import { runnerShare } from '../tune/index.ts'
import type { LoadScale } from './load.ts'
import { shareOut } from './use.ts'

/** Frames are judged once so much has come after them, s, with so much before them: smoothing looks ahead, delay and steady time look back. */
const AFTER_S = 0.5
const BEFORE_S = 4
const EVERY_S = 0.5

/** How long each cell has been driven steadily so far, from the frames of a drive under way: the rules of the log's solve, run as it goes. */
export class Coverage {
  /** used seconds of each cell */
  readonly seconds: number[]
  private readonly frames: Frame[] = []
  private readonly limits: SampleLimits
  private judgedTo = -Infinity
  /** what the newest judged frame was: counting, or why not */
  counting = false

  constructor(
    private readonly scale: Pick<LoadScale, 'rpm' | 'axis' | 'runner'>,
    limits: Pick<SampleLimits, 'coolantMinC'>,
  ) {
    this.seconds = new Array<number>(scale.rpm.length * scale.axis.length).fill(0)
    this.limits = { ...defaultLimits, ...limits }
  }

  /** Takes the next frame, in the order of time; an earlier time begins anew. */
  add(frame: Frame): void {
    const { frames } = this
    const last = frames.at(-1)
    if (last && frame.timeS <= last.timeS) {
      frames.length = 0
      this.judgedTo = -Infinity
    }
    if (frame.state !== 'running' || frame.mapKpa === null || frame.lambda === null) {
      this.counting = false
      return
    }
    frames.push(frame)
    if (this.judgedTo === -Infinity) this.judgedTo = frame.timeS
    if (frame.timeS - AFTER_S - this.judgedTo >= EVERY_S) this.judge(frame.timeS - AFTER_S)
  }

  private judge(toS: number): void {
    const { frames, scale } = this
    const [{ timeS: startS }] = frames
    // a frame without a target of its own is no reason to count nothing: whether it is steady does not hang on it
    const { fate, causeRpm, causeMapKpa, causeThrottlePct, stepS } = judgeSamples(framesToLog(frames), this.limits, () => 1)
    for (let i = 0; i < frames.length; i++) {
      const { timeS } = frames[i]
      if (timeS <= this.judgedTo || timeS > toS) continue
      this.counting = fate[i] === 0
      if (!this.counting) continue
      const throttlePct = causeThrottlePct?.[i] ?? NaN
      const [load, share] = scale.runner ? [throttlePct, runnerShare(scale.runner, throttlePct)] : [causeMapKpa[i], 1]
      if (share > 0) shareOut(scale, causeRpm[i], load, share * stepS[i], (cell, s) => (this.seconds[cell] += s))
    }
    this.judgedTo = toS
    const keepFrom = toS - BEFORE_S
    const first = frames.findIndex((f) => f.timeS >= keepFrom)
    if (first > 0 && startS < keepFrom) frames.splice(0, first)
  }
}
