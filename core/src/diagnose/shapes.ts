import type { Block } from './blocks.ts'
import { alongCurve } from '../kernel/index.ts'
import type { DiagnosedCar } from './car.ts'
import { airGroup, type Cause, constantGroup } from './causes.ts'
import type { Shape } from './field.ts'

/** What of a moment a mark may hang on: a block's means, or one row. */
export type Moment = Pick<
  Block,
  'rpm' | 'mapKpa' | 'target' | 'tipCold' | 'pulseMs' | 'intakeAirC' | 'coolantC' | 'batteryV' | 'needPct' | 'timeS'
>

/** A cause whose mark on the need is known but for its size. */
export interface ShapeOfCause {
  cause: Cause
  group?: readonly Cause[]
  at: (m: Moment) => number
  /** how large its size may be beforehand, one sigma */
  sigma: number
  sign: -1 | 0 | 1
  /** a sound car shows so much of it between the places it was driven at, % */
  soundPct: number
  /** no car is off by more */
  most?: number
  /** what the size means: "+12.3 ± 0.8" and then these words */
  unit: string
}

/** rpm x kPa at 3,000 rpm and an open throttle */
const FULL_FLOW = 3e5
/** flows at which a joint draws in half of what it does at rest, as shares of it: by the size and place of the leak */
const LEAK_HALF_FLOWS = [0.03, 0.08, 0.2]
const LEAK_SHARES = [0, 0.4]
/** a table leans so much over so much speed and pressure, one sigma: as much as it is rough, for what is smoothed once is so on the whole too */
const TREND = { pct: 4, leastPct: 1.2, rpm: 1500, kpa: 25, lowKpa: 30, midKpa: 60 }
const USUAL_DEAD_MS = 0.9
const USUAL_V = 13.8
const LEAST_OPEN_MS = 0.4
const DISCREPANCY = 0.5
const ofTime: ReadonlySet<Cause> = new Set(['sensor-drift', 'sensor-cold', 'heat-soak', 'fuel-blend'])
const FIRST_DISCREPANCY = 2
const WARM_K = 300
const ISENTROPIC = 1.4
/** air sensor so much over the coolest it has been in this log is called soaked, K */
const SOAKED_K = 12

const mean = (blocks: readonly Block[], of: (b: Block) => number): number => blocks.reduce((sum, b) => sum + of(b), 0) / blocks.length
const known = (blocks: readonly Block[], of: keyof Block): boolean => blocks.every((b) => Number.isFinite(b[of]))
const spread = (blocks: readonly Block[], of: 'intakeAirC' | 'coolantC' | 'timeS'): number => {
  const values = blocks.map((b) => b[of])
  return Math.max(...values) - Math.min(...values)
}
const flow = (m: Moment): number => (m.rpm * m.mapKpa) / FULL_FLOW
/** What a sound car may show of a mark, as a size of it: by how far the mark goes over the places that were driven. */
export function allowedSize(blocks: readonly Block[], { at, soundPct }: Pick<ShapeOfCause, 'at' | 'soundPct'>): number {
  const values = blocks.map(at).sort((a, b) => a - b)
  const range = values[Math.floor(0.98 * (values.length - 1))] - values[Math.floor(0.02 * (values.length - 1))]
  return range > 0 ? soundPct / range : 0
}
/** A cause's mark on the blocks of a log. */
export const onBlocks = (blocks: readonly Block[], { at, sigma }: Pick<ShapeOfCause, 'at' | 'sigma'>): Shape => ({
  values: Float64Array.from(blocks, (b) => at(b)),
  sigma,
})

/**
 * What passes a hole from the outside at a manifold pressure, as a share of the choked flow.
 * @source flow through a sharp orifice of a perfect gas: Heywood, appendix C
 */
function throughHole(pressureRatio: number): number {
  const k = ISENTROPIC
  const critical = (2 / (k + 1)) ** (k / (k - 1))
  const r = Math.min(1, Math.max(critical, pressureRatio))
  const passes = (x: number) => Math.sqrt(((2 * k) / (k - 1)) * (x ** (2 / k) - x ** ((k + 1) / k)))
  return passes(r) / passes(critical)
}

/**
 * What a sound table shows besides bending: it leans one way, with speed, with load, one against the other, or at little load; and a little of the
 * mark of every cause. Only where the table may be off, and by as much as it may.
 * @param most what the table may be off by at each block, %; @param tablePct and where nothing is known of it
 */
export function soundShapes(
  blocks: readonly Block[],
  most: Float64Array,
  tablePct: number,
  causes: readonly ShapeOfCause[],
  known: boolean,
): Shape[] {
  const sigma = Math.min(TREND.pct, Math.max(TREND.leastPct, tablePct))
  const middle = { rpm: mean(blocks, (b) => b.rpm), mapKpa: mean(blocks, (b) => b.mapKpa) }
  const x = (b: Moment) => (b.rpm - middle.rpm) / TREND.rpm
  const y = (b: Moment) => (b.mapKpa - middle.mapKpa) / TREND.kpa
  const thin = mean(blocks, (b) => 1 / b.mapKpa)
  const lowLoad = (b: Moment) => (1 / b.mapKpa - thin) / (1 / TREND.lowKpa - 1 / TREND.midKpa)
  const leans = [x, y, (b: Moment) => x(b) * y(b), lowLoad].map((at) => onBlocks(blocks, { at, sigma }))
  const alike = new Map(causes.filter((c) => c.soundPct > 0).map((c) => [c.cause, c]))
  const marks = [...alike.values()].flatMap((c) => {
    const size = (known ? DISCREPANCY : FIRST_DISCREPANCY) * allowedSize(blocks, c)
    // between its places: what a mark has in common there is a constant, which no sound table of known places has
    const middle = mean(blocks, c.at)
    return size > 0 ? [{ ofTime: ofTime.has(c.cause), ...onBlocks(blocks, { at: (b) => c.at(b) - middle, sigma: size }) }] : []
  })
  const ofTable = (shape: Shape, share = 1): Shape => ({
    values: shape.values.map((v, i) => (v * most[i]) / tablePct),
    sigma: share * shape.sigma,
  })
  const share = Math.min(1, tablePct / TREND.pct)
  // what goes with time is no table's: it is there however well that is known
  return [...leans.map((s) => ofTable(s)), ...marks.map((m) => (m.ofTime && known ? m : ofTable(m, share)))]
}

/** Marks of constants and curves: what a first drive may well be off by. They stand beside every other cause. */
export function mendableShapes(
  blocks: readonly Block[],
  { deadTimeMs, known: before }: Pick<DiagnosedCar, 'deadTimeMs' | 'known'> = {},
): ShapeOfCause[] {
  const shapes: ShapeOfCause[] = [
    { cause: 'injector-flow', group: constantGroup, at: () => 1, sigma: 15, sign: 0, soundPct: 0, unit: '% at every place alike' },
  ]
  if (known(blocks, 'pulseMs'))
    shapes.push({
      cause: 'dead-time',
      // what was injected is what was asked for less the delay, so that the error goes with what is needed over what was asked for
      at: (m) => {
        const deadMs = deadTimeMs ? alongCurve(deadTimeMs, m.batteryV > 0 ? m.batteryV : USUAL_V) : USUAL_DEAD_MS
        return (100 + m.needPct) / Math.max(LEAST_OPEN_MS, m.pulseMs - deadMs)
      },
      sigma: 0.25,
      sign: 0,
      soundPct: 0,
      unit: 'ms that the injectors open later',
    })
  const air = known(blocks, 'intakeAirC')
  if (air && spread(blocks, 'intakeAirC') > 4) {
    const middle = mean(blocks, (b) => b.intakeAirC)
    shapes.push({
      cause: 'air-temperature',
      group: airGroup,
      at: (m) => (100 * (m.intakeAirC - middle)) / WARM_K,
      sigma: 0.5,
      sign: 0,
      soundPct: 2.5,
      unit: '% for each per cent of absolute air temperature',
    })
  }
  if (air && known(blocks, 'coolantC') && spread(blocks, 'coolantC') > 6) {
    // of a table that was right once the whole of it is new
    const middle = before ? 0 : mean(blocks, (b) => b.coolantC - b.intakeAirC)
    shapes.push({
      cause: 'charge-model',
      at: (m) => (100 * (m.coolantC - m.intakeAirC - middle)) / WARM_K,
      sigma: 0.25,
      sign: 0,
      soundPct: 4,
      most: 0.45,
      unit: 'of the way from air to coolant',
    })
  }
  return shapes
}

/** Marks of what is no property of the engine. */
export function unsoundShapes(
  blocks: readonly Block[],
  { barometerKpa, known: before }: Pick<DiagnosedCar, 'barometerKpa' | 'known'>,
): ShapeOfCause[] {
  const idle = Math.min(...blocks.map(flow))
  const most = Math.max(...blocks.map((b) => flow(b) / b.target))
  const shapes: ShapeOfCause[] = [
    // outside air thins the gas: what a small leak adds is in proportion, a large one's rises faster
    ...LEAK_HALF_FLOWS.flatMap((half) => LEAK_SHARES.map((share) => ({ half, share }))).map(({ half, share }): ShapeOfCause => ({
      cause: 'exhaust-leak',
      at: (m) => (1 - share) / (1 + flow(m) / half - share),
      sigma: 25,
      sign: 1,
      soundPct: 6,
      unit: '% lean where the flow is nothing, falling as it rises',
    })),
    {
      cause: 'false-air',
      at: (m) => (throughHole(m.mapKpa / barometerKpa) * idle) / Math.max(idle / 2, flow(m)),
      sigma: 20,
      sign: 1,
      soundPct: 6,
      unit: '% lean at the least flow, less with more of it, and none at an open throttle',
    },
    {
      cause: 'sensor-cold',
      at: (m) => m.tipCold,
      sigma: 25,
      sign: 1,
      soundPct: 4,
      unit: '% lean after long idling, fading as the gas gets hot',
    },
    {
      cause: 'map-hose',
      at: (m) => (100 * (barometerKpa - m.mapKpa)) / m.mapKpa,
      sigma: 0.15,
      sign: -1,
      soundPct: 25,
      unit: 'of the way to the air outside: too much fuel, the more the deeper the vacuum',
    },
    {
      cause: 'fuel-pressure',
      at: (m) => (flow(m) / m.target / most) ** 2,
      sigma: 15,
      sign: 1,
      soundPct: 6,
      unit: '% lean at the most fuel, and none at idle',
    },
  ]
  if (spread(blocks, 'timeS') > 240) {
    // of a table that was right once, it was right at the start
    const middle = before ? blocks[0].timeS : mean(blocks, (b) => b.timeS)
    shapes.push({ cause: 'sensor-drift', at: (m) => (m.timeS - middle) / 60, sigma: 0.6, sign: 0, soundPct: 3, unit: '% a minute' })
  }
  if (known(blocks, 'intakeAirC')) {
    const coolest = blocks.map((b) => b.intakeAirC).sort((a, b) => a - b)[Math.floor(blocks.length / 10)]
    const at = (m: Moment) => Math.max(0, m.intakeAirC - coolest - SOAKED_K)
    if (blocks.some((b) => at(b) > 3))
      shapes.push({ cause: 'heat-soak', at, sigma: 0.3, sign: 1, soundPct: 1.5, unit: '% lean for each K that the air sensor is soaked' })
  }
  return shapes
}

/** A step at a moment: what was filled in then burns otherwise. */
export const stepAt = (blocks: readonly Block[], atS: number): ShapeOfCause => {
  const after = blocks.filter((b) => b.timeS > atS).length / blocks.length
  return {
    cause: 'fuel-blend',
    at: (m) => (m.timeS > atS ? 1 : 0) - after,
    sigma: 8,
    sign: 0,
    soundPct: 2,
    unit: `% from ${(atS / 60).toFixed(0)} min on`,
  }
}
/** How much vapour from outside shows at a place: most where little else flows. */
export const vapourShare = (m: Moment): number => 1 / (1 + flow(m) / 0.15)
