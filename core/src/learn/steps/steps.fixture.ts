export interface Made {
  steps?: number
  opensPct?: number
  withinS?: number
  heldS?: number
  /** % of fuel missing at a time after the foot moved, for the step of that number */
  missing?: (sinceS: number, step: number) => number
  throttle?: (t: number, sinceS: number) => number
  /** % for half a second, or by the time after the foot moved, for the step of that number */
  given?: number | null | ((sinceS: number, step: number) => number)
  coolantC?: number
  fuelCut?: (sinceS: number) => number
  correctionPct?: (sinceS: number) => number
  hz?: number
}
/** Twenty rows a second, a step each six seconds from 3 s on, from 15 %. */
export function made({
  steps = 6,
  opensPct = 20,
  withinS = 0.3,
  heldS = 2.5,
  hz = 20,
  missing = () => 0,
  throttle = () => 0,
  ...more
}: Made = {}) {
  const n = (steps * 6 + 4) * hz
  const time = Array.from({ length: n }, (_, i) => i / hz)
  const since = (t: number) => (t < 3 ? t - 3 : ((t - 3) % 6) + 0)
  const number = (t: number) => Math.floor((t - 3) / 6)
  const open = (t: number) => {
    const s = since(t)
    return t < 3 || number(t) >= steps || s > heldS ? 0 : Math.min(1, s / withinS)
  }
  const column = (of: (t: number) => number) => Float32Array.from(time, of)
  const { given = null, coolantC = 85, fuelCut, correctionPct } = more
  const givenAt = typeof given === 'function' ? given : (s: number) => (s < 0.5 ? (given ?? 0) : 0)
  return {
    timeS: Float64Array.from(time),
    channels: {
      throttlePct: column((t) => 15 + opensPct * open(t) + throttle(t, since(t))),
      lambda: column((t) => 1 / (1 - missing(since(t), number(t)) / 100)),
      lambdaTarget: column(() => 1),
      coolantC: column(() => coolantC),
      ...(given === null ? {} : { enrichmentPct: column((t) => (t < 3 ? 0 : givenAt(since(t), number(t)))) }),
      ...(fuelCut ? { fuelCut: column((t) => fuelCut(since(t))) } : {}),
      ...(correctionPct ? { correctionPct: column((t) => correctionPct(since(t))) } : {}),
    },
  }
}
