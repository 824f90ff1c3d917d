import { Random } from '../kernel/random.ts'
import type { LogData } from '../logfile/read.ts'
import type { Axes } from '../tune/axes.ts'

export const axes: Axes = { rpm: [600, 1000, 1500, 2000, 2600, 3200, 4000], mapKpa: [25, 35, 45, 55, 65, 75, 85, 97] }

/** A drive over the grid in steady holds, made by the definition of total error: measured lambda = target (1 + need) / (1 + trim), one delay later. */
export function drive(options: {
  seed: number
  needPct: (rpm: number, map: number) => number
  noise?: number
  loop?: boolean
  delay?: { lagS: number; pipe: number }
  holdS?: number
  hertz?: number
  /** how long fuel is cut off at each change to less of everything */
  cutS?: number
  channels?: (log: LogData) => void
  high?: boolean
  /** under this speed the loop is open, and what it had goes within a second */
  floorRpm?: number
}): LogData {
  const { seed, needPct, noise = 0.006, loop = true, delay = { lagS: 0.1, pipe: 7000 }, holdS = 7, hertz = 20, cutS = 0.3 } = options
  const random = new Random(seed)
  const dt = 1 / hertz
  const points: [number, number][] = []
  for (let k = 0; k < 160; k++) points.push([700 + random.next() * 3100, 28 + random.next() * (options.high ? 68 : 55)])
  const perHold = Math.round(holdS * hertz)
  const ramp = Math.round(1.5 * hertz)
  const n = points.length * (perHold + ramp)
  const column = () => new Float32Array(n)
  const log: LogData = {
    rows: n,
    timeS: new Float64Array(n),
    rejected: [],
    channels: {
      rpm: column(),
      mapKpa: column(),
      lambda: column(),
      lambdaTarget: column(),
      correctionPct: column(),
      coolantC: column(),
      fuelCut: column(),
      throttlePct: column(),
    },
  }
  const c = log.channels
  const trim = new Float64Array(n)
  const phi = new Float64Array(n)
  let i = 0
  let [rpm, map] = points[0]
  let loopPct = 0
  for (const [nextRpm, nextMap] of points) {
    const [fromRpm, fromMap] = [rpm, map]
    for (let k = 0; k < ramp + perHold; k++, i++) {
      const t = Math.min(1, (k + 1) / ramp)
      rpm = fromRpm + (nextRpm - fromRpm) * t
      map = fromMap + (nextMap - fromMap) * t
      log.timeS[i] = i * dt
      c.rpm![i] = rpm + 6 * random.normal()
      c.mapKpa![i] = map + 0.3 * random.normal()
      c.coolantC![i] = 85
      // the foot is off where it idles
      c.throttlePct![i] = rpm < 1100 ? 0 : 20
      c.lambdaTarget![i] = map > 80 ? 0.88 : 1
      const cut = k < cutS * hertz && nextRpm < fromRpm && nextMap < fromMap ? 1 : 0
      c.fuelCut![i] = cut
      phi[i] = cut ? 0.4 : (1 + loopPct / 100) / (c.lambdaTarget![i] * (1 + needPct(rpm, map) / 100))
      const back = Math.max(0, i - Math.round((delay.lagS + 120 / rpm + delay.pipe / (rpm * map)) / dt))
      c.lambda![i] = Math.min(2.2, 1 / phi[back]) * (1 + noise * random.normal())
      trim[i] = loopPct
      c.correctionPct![i] = loopPct
      if (rpm < (options.floorRpm ?? 0)) loopPct *= 1 - 3 * dt
      else if (loop && !cut && map < 85) loopPct = Math.max(-25, Math.min(25, loopPct + (c.lambda![i] / c.lambdaTarget![i] - 1) * 60 * dt))
    }
  }
  options.channels?.(log)
  return log
}
