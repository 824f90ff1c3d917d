import { Random } from '../../kernel/random.ts'
import type { Trace } from './trace.ts'

/** A wheel, a distributor's star or its vanes as they turn past a sensor; drawn from its geometry, by none of the rules that judge it. */
export interface DrawnTrain {
  /** places in one turn of the shaft, those left out in a row, and crank turns in that turn */
  places: number
  missing: number
  crankTurns: number
  sensor: 'magnetic' | 'square'
  /** width of a target over the distance between two: of a magnetic one that of its bell of flux, one sigma */
  width: number
  /** crank speed at a moment, rpm */
  rpmAt: (timeS: number) => number
  seconds: number
  samples: number
  /** wires changed over, or output turned round */
  reversed?: boolean
  /** places from the start of the record at which nothing passes, and at which something passes though no target is there */
  gone?: readonly number[]
  more?: readonly number[]
  /** scatter of single targets, crank degrees rms */
  jitterDeg?: number
  /** share of the peak, rms */
  noiseShare?: number
  /** place under the sensor as the record begins */
  startPlace?: number
  seed?: number
}

const REACH = 3
/** what passes though no target is there is narrow: a burr, a nick, a spike */
const BURR_WIDTH = 0.1

/**
 * The signal as volts. Magnetic: each target carries a bell of flux, and the voltage is its slope times the speed, so that it falls through zero
 * under the middle of the target. Square: low while a target is under the sensor.
 * @returns the trace, and for each target the moment at which its middle passes, s
 * @source Faraday's law of induction
 */
export function drawTrain(d: DrawnTrain): { trace: Trace; middlesS: number[] } {
  const random = new Random(d.seed ?? 1)
  const stepS = d.seconds / (d.samples - 1)
  const degPerPlace = (360 * d.crankTurns) / d.places
  const start = d.startPlace ?? 0.4
  // where the wheel stands at each sample, in places
  const at = new Float64Array(d.samples)
  at[0] = start
  for (let i = 1; i < d.samples; i++) at[i] = at[i - 1] + (6 * d.rpmAt((i - 0.5) * stepS) * stepS) / degPerPlace
  const targets: number[] = []
  for (let place = Math.floor(start) - REACH; place < at[d.samples - 1] + REACH; place++) {
    const onWheel = ((place % d.places) + d.places) % d.places
    const there = onWheel < d.places - d.missing && !d.gone?.includes(place)
    if (there) targets.push(place + ((d.jitterDeg ?? 0) * random.normal()) / degPerPlace)
  }
  const burrs = new Set(d.more ?? [])
  targets.push(...burrs)
  targets.sort((a, b) => a - b)
  const samples = new Float32Array(d.samples)
  const middlesS: number[] = []
  let first = 0
  for (let i = 0; i < d.samples; i++) {
    const x = at[i]
    while (first < targets.length && targets[first] < x - REACH) first++
    let slope = 0
    let under = false
    for (let k = first; k < targets.length && targets[k] < x + REACH; k++) {
      const u = (x - targets[k]) / (burrs.has(targets[k]) ? Math.min(d.width, BURR_WIDTH) : d.width)
      if (Math.abs(u) < 0.5) under = true
      slope -= u * Math.exp((-u * u) / 2)
      if (i > 0 && at[i - 1] < targets[k] && x >= targets[k]) middlesS.push(i * stepS)
    }
    samples[i] = d.sensor === 'magnetic' ? ((d.reversed ? -1 : 1) * slope * d.rpmAt(i * stepS)) / 100 : under === !d.reversed ? 0.2 : 5
  }
  const peak = samples.reduce((most, v) => Math.max(most, Math.abs(v)), 0)
  for (let i = 0; i < d.samples; i++) samples[i] += (d.noiseShare ?? 0) * peak * random.normal()
  return { trace: { id: 'crank', unit: 'V', startS: 0, stepS, samples }, middlesS }
}
