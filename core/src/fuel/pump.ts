import { z } from 'zod'
import { monotoneCubic } from '../kernel/index.ts'

/** One curve from the pump's sheet: flow over pressure at the voltage it was rated at, from low pressure to high. */
const PumpCurve = z.strictObject({
  voltageV: z.number().min(5).max(16).describe('voltage of the rating at the pump, V'),
  points: z
    .array(
      z.strictObject({
        pressureKpa: z.number().min(0).max(1500).describe('rise across the pump, kPa'),
        flowLph: z.number().min(0).max(1000).describe('L/h'),
        currentA: z.number().min(0).max(40).optional().describe('A'),
      }),
    )
    .min(2, 'must have at least two points')
    .max(12, 'must have at most twelve points')
    .superRefine((points, context) => {
      for (let i = 1; i < points.length; i++) {
        if (points[i].pressureKpa <= points[i - 1].pressureKpa)
          context.addIssue({ code: 'custom', path: [i, 'pressureKpa'], message: 'pressure must rise from point to point, kPa' })
        if (points[i].flowLph > points[i - 1].flowLph)
          context.addIssue({ code: 'custom', path: [i, 'flowLph'], message: 'flow must not rise with pressure, L/h' })
      }
    }),
})
type PumpCurve = z.infer<typeof PumpCurve>

/** Nearer than this two ratings tell nothing of how the flow goes with voltage, V. */
const CURVES_APART_V = 0.5

export const PumpSpec = z.strictObject({
  curves: z
    .array(PumpCurve)
    .min(1)
    .max(2)
    .superRefine((curves, context) => {
      if (curves.length === 2 && Math.abs(curves[0].voltageV - curves[1].voltageV) < CURVES_APART_V)
        context.addIssue({
          code: 'custom',
          path: [1, 'voltageV'],
          message: `must differ from the first curve’s ${curves[0].voltageV} V by ${CURVES_APART_V} V or more; one curve is enough at one voltage`,
        })
    }),
  selfPriming: z.boolean().optional(),
  generic: z.boolean().optional().describe('true while the curve is a stand-in and not from the sheet of the pump in hand'),
})
export type PumpSpec = z.infer<typeof PumpSpec>

/** Voltage at which a pump stops delivering, taken when the sheet gives only one curve (handbook 02). */
const PUMP_V0_V = 4
/** Beyond its last point with flow left, a curve is taken to shut off within this share more pressure: nothing is known there. */
const SHUT_OFF_SHARE = 0.02

export interface Pump {
  /** highest pressure rise the curve answers for, kPa; flow is zero from here */
  stallKpa: number
  /** last pressure that the sheet gives, kPa */
  lastPointKpa: number
  /** flow, L/h, at a pressure rise (kPa) and a voltage at the pump (V): falls with pressure, rises with voltage, never below zero */
  flowLph: (riseKpa: number, voltageV: number) => number
  /** current, A, at a pressure rise; null when the sheet gives none */
  currentA: (riseKpa: number) => number | null
}

/**
 * A pump from its sheet. Between points a monotone cubic; between two curves a straight line over voltage; with one curve the flow goes
 * with (V - 4 V).
 * @source Fritsch and Carlson (1980) for the curve; the voltage law is that of a positive displacement pump on a direct-current motor
 */
export function pumpOf(spec: PumpSpec): Pump {
  const known = pumps.get(spec)
  if (known) return known
  const made = makePump(spec)
  pumps.set(spec, made)
  return made
}
/**
 * Draw of a pump whose sheet states none, A: turning it takes 0.285 W for each L/h that it gives freely, and pressing 2.7 times the work on that flow.
 * Fitted to the stand-in classes below, which are made up for planning; a clamp reading takes its place.
 */
const usualCurrentA = (freeLph: number, riseKpa: number, voltageV: number): number =>
  (freeLph * (0.285 + (2.7 * riseKpa) / 3600)) / voltageV
/** Points with a current make a line from two on. */
const CURRENT_POINTS = 2
export const statesCurrent = ({ curves }: PumpSpec): boolean =>
  curves[0].points.filter((p) => p.currentA !== undefined).length >= CURRENT_POINTS
const filled = new WeakMap<PumpSpec, PumpSpec>()
/** The pump with a usual current where its sheet states none, or one through a clamp reading, so that its wiring is not taken to cost nothing. */
export function withUsualCurrent(spec: PumpSpec, clamp?: { currentA: number; pressureKpa: number }): PumpSpec {
  if (statesCurrent(spec)) return spec
  const known = clamp ? undefined : filled.get(spec)
  if (known) return known
  const [first, ...others] = spec.curves
  const usual = (pressureKpa: number) => usualCurrentA(first.points[0].flowLph, pressureKpa, first.voltageV)
  const times = clamp ? clamp.currentA / usual(clamp.pressureKpa) : 1
  const points = first.points.map((point) => ({ ...point, currentA: times * usual(point.pressureKpa) }))
  const made = { ...spec, curves: [{ ...first, points }, ...others] }
  if (!clamp) filled.set(spec, made)
  return made
}

/** Specs are data that nobody changes in place, so a pump is made once from each. */
const pumps = new WeakMap<PumpSpec, Pump>()

function makePump(spec: PumpSpec): Pump {
  // two ratings at one voltage, stored before they were refused, are one
  const rated = spec.curves.filter((curve, i) => i === 0 || Math.abs(curve.voltageV - spec.curves[0].voltageV) >= CURVES_APART_V)
  const curves = rated.sort((a, b) => a.voltageV - b.voltageV).map(({ voltageV, points }) => ({ voltageV, ...curveOf(points) }))
  const first = curves[0]
  const last = curves[curves.length - 1]
  const currents = spec.curves[0].points.filter((p) => p.currentA !== undefined)
  const current =
    currents.length >= 2
      ? monotoneCubic(
          currents.map((p) => p.pressureKpa),
          currents.map((p) => p.currentA!),
        )
      : null
  return {
    stallKpa: Math.max(...curves.map((c) => c.stallKpa)),
    lastPointKpa: Math.max(...curves.map((c) => c.lastPointKpa)),
    flowLph: (riseKpa, voltageV) => {
      const at = Math.max(0, riseKpa)
      if (curves.length === 1) return Math.max(0, (first.flow(at) * (voltageV - PUMP_V0_V)) / (first.voltageV - PUMP_V0_V))
      const share = (voltageV - first.voltageV) / (last.voltageV - first.voltageV)
      return Math.max(0, first.flow(at) + share * (last.flow(at) - first.flow(at)))
    },
    currentA: (riseKpa) => (current ? current(Math.max(0, riseKpa)) : null),
  }
}

function curveOf(points: PumpCurve['points']): { flow: (kpa: number) => number; stallKpa: number; lastPointKpa: number } {
  const last = points[points.length - 1]
  const xs = points.map((p) => p.pressureKpa)
  const ys = points.map((p) => p.flowLph)
  const inside = monotoneCubic(xs, ys)
  if (last.flowLph === 0) return { flow: inside, stallKpa: last.pressureKpa, lastPointKpa: last.pressureKpa }
  const stallKpa = last.pressureKpa * (1 + SHUT_OFF_SHARE) + 0.1
  return {
    flow: (kpa) =>
      kpa <= last.pressureKpa ? inside(kpa) : kpa >= stallKpa ? 0 : (last.flowLph * (stallKpa - kpa)) / (stallKpa - last.pressureKpa),
    stallKpa,
    lastPointKpa: last.pressureKpa,
  }
}

/** Stand-ins until the sheet of the pump in hand is typed in: plain roller-cell classes by flow at 300 kPa, made up for planning. */
export const genericPumps: { id: string; label: string; spec: PumpSpec }[] = [
  {
    id: 'small',
    label: 'Small, 95 L/h at 300 kPa',
    spec: {
      generic: true,
      curves: [
        {
          voltageV: 13.5,
          points: [
            { pressureKpa: 0, flowLph: 118, currentA: 2.6 },
            { pressureKpa: 200, flowLph: 104, currentA: 3.9 },
            { pressureKpa: 300, flowLph: 95, currentA: 4.7 },
            { pressureKpa: 450, flowLph: 78, currentA: 5.9 },
            { pressureKpa: 600, flowLph: 0, currentA: 7.2 },
          ],
        },
      ],
    },
  },
  {
    id: 'middle',
    label: 'Middle, 165 L/h at 300 kPa',
    spec: {
      generic: true,
      curves: [
        {
          voltageV: 13.5,
          points: [
            { pressureKpa: 0, flowLph: 200, currentA: 4.2 },
            { pressureKpa: 200, flowLph: 178, currentA: 6.2 },
            { pressureKpa: 300, flowLph: 165, currentA: 7.4 },
            { pressureKpa: 450, flowLph: 142, currentA: 9.3 },
            { pressureKpa: 650, flowLph: 0, currentA: 12 },
          ],
        },
      ],
    },
  },
  {
    id: 'large',
    label: 'Large, 250 L/h at 300 kPa',
    spec: {
      generic: true,
      curves: [
        {
          voltageV: 13.5,
          points: [
            { pressureKpa: 0, flowLph: 300, currentA: 6 },
            { pressureKpa: 200, flowLph: 268, currentA: 8.8 },
            { pressureKpa: 300, flowLph: 250, currentA: 10.6 },
            { pressureKpa: 450, flowLph: 216, currentA: 13.4 },
            { pressureKpa: 700, flowLph: 0, currentA: 17.5 },
          ],
        },
      ],
    },
  },
]
