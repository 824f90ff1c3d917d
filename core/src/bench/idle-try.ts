import { type BuildData, seedOf } from '../kernel/index.ts'
import { type IdleVerdict, judgeIdle, tuneIdleOptions } from '../idle/index.ts'
import type { LogData } from '../logfile/index.ts'
import { type Frame, framesToLog } from '../start/index.ts'
import type { TuneDocument, TuneParameters } from '../tune/index.ts'
import { benchCarFor } from './car.ts'
import { crankUp } from './crank-up.ts'
import { outfitBench } from './drive.ts'
import { Bench } from './rig.ts'

const WARM_C = 86
const FRAME_S = 0.05
/** the loop of the mixture comes in and the speed settles; then it is looked at for so long, s */
const SETTLES_S = 36
const LOOK_S = 45
/** one that turns no faster at the end has stalled, rpm */
const STALLED_RPM = 200

/** A warm idle of the bench car, and what it is; null: it does not run with that. */
export interface TriedIdle {
  log: Pick<LogData, 'timeS' | 'channels'>
  verdict: IdleVerdict
}
/** Lets the bench car of a build idle warm with a few parameters changed, as a rehearsal before they go into the car. */
export function tryIdle(build: BuildData, tune: TuneDocument, parameters: Partial<TuneParameters> = {}): TriedIdle | null {
  const tried = { ...tune, parameters: { ...tune.parameters, ...parameters } }
  const bench = new Bench(benchCarFor(build.facts, build.choices, seedOf(build.id)), tried, { coolantC: WARM_C })
  outfitBench(bench, build)
  if (crankUp(bench) === null) return null
  bench.run(SETTLES_S)
  const frames: Frame[] = []
  for (let s = 0; s < LOOK_S; s += FRAME_S) {
    bench.run(FRAME_S)
    frames.push(bench.frame())
  }
  if (frames.at(-1)!.rpm < STALLED_RPM) return null
  const log = framesToLog(frames)
  return { log, verdict: judgeIdle(log, tuneIdleOptions(tried)) }
}
