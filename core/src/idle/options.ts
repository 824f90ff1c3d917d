import { type BuildData, tuneInCar, type TuneSummary } from '../kernel/index.ts'
import { alongCurve } from '../kernel/index.ts'
import type { TuneDocument, TuneParameters } from '../tune/index.ts'
import { VALVE_BAND_PCT } from './limits.ts'
import type { IdleController } from './loop.ts'
import type { IdleOptions } from './answer.ts'

/** coolant of a warm idle, degC */
const WARM_IDLE_C = 85

type Figures = Readonly<Record<string, number | undefined>>
const number = (figures: Figures, key: keyof TuneParameters | 'idleHotRpm' | 'idleValveHotPct'): number | undefined => figures[key]

/** Against what an idle of a tune is judged, from its figures: its target with what is added, its correction, and how far it may move the valve. */
export function idleOptions(figures: Figures): IdleOptions {
  const targetRpm = number(figures, 'idleHotRpm')
  const authorityPct = number(figures, 'loopAuthorityPct')
  const startPct = number(figures, 'idleValveHotPct')
  const mostPct = number(figures, 'idleAdaptMostPct')
  return {
    ...(targetRpm === undefined ? {} : { targetRpm }),
    offsetsRpm: [number(figures, 'idleFanRpm') ?? 0, number(figures, 'idleInGearRpm') ?? 0],
    ...(authorityPct ? { authorityPct } : {}),
    ...(startPct === undefined || mostPct === undefined ? {} : { reach: { startPct, mostPct } }),
  }
}
/** The same of a tune as a document. */
export const tuneIdleOptions = ({ parameters: p }: Pick<TuneDocument, 'parameters'>): IdleOptions =>
  idleOptions({
    ...(p as unknown as Record<string, number>),
    idleHotRpm: alongCurve(p.idleTargetRpm, WARM_IDLE_C),
    idleValveHotPct: alongCurve(p.idleValvePct, WARM_IDLE_C),
  })

/** The options of the car as it is: of the tune in it, with what was said of the unit's own idle learning. */
export function carIdleOptions(build: Pick<BuildData, 'tunes' | 'choices'>, tune: TuneSummary | null = tuneInCar(build)): IdleOptions {
  const options = idleOptions(tune?.figures ?? {})
  const mostPct = build.choices.unit?.idleLearnLimitPct
  return mostPct === undefined || !options.reach
    ? options
    : { ...options, reach: { ...options.reach, mostPct: Math.min(mostPct, options.reach.mostPct) } }
}

/** Where a warm valve belongs: about where the tune starts it, so that it has little to learn; else the usual band. */
export function valveBandPct({ reach }: IdleOptions): readonly [number, number] {
  if (!reach) return VALVE_BAND_PCT
  const half = (VALVE_BAND_PCT[1] - VALVE_BAND_PCT[0]) / 2
  const low = Math.max(VALVE_BAND_PCT[0], reach.startPct - half)
  return [low, low + 2 * half]
}
/** What moves the valve, by the figures of a tune; null: an old version does not tell. */
export function controllerOf(figures: Figures): IdleController | null {
  const [idleGainPct, idleIntegralPctS, idleDampingPct] = (['idleGainPct', 'idleIntegralPctS', 'idleDampingPct'] as const).map((k) =>
    number(figures, k),
  )
  return idleGainPct === undefined || idleIntegralPctS === undefined || idleDampingPct === undefined
    ? null
    : { idleGainPct, idleIntegralPctS, idleDampingPct }
}

/** What of a tune an idle stands on: a version that changes none of it leaves the idle judged. */
const IDLE_RESTS_ON = [
  'idleHotRpm',
  'idleValveHotPct',
  'idleGainPct',
  'idleIntegralPctS',
  'idleDampingPct',
  'idleSparkDegPer100',
  'idleSparkMostDeg',
  'idleAdaptMostPct',
  'advanceIdleDeg',
  'lambdaIdle',
  'veIdlePct',
  'injectorCcMin',
  'toldFlowPct',
  'fuelPressureKpa',
] as const
/** figures this near are the same to an idle, as a share */
const SAME_SHARE = 0.03
/** What differs between two versions as far as an idle goes; empty: nothing. A figure that an old version does not tell is left out. */
export const idleChanges = (then: TuneSummary, now: TuneSummary): string[] =>
  then.id === now.id
    ? []
    : IDLE_RESTS_ON.filter((key) => {
        const [a, b] = [then.figures?.[key], now.figures?.[key]]
        return a !== undefined && b !== undefined && Math.abs(a - b) > SAME_SHARE * Math.max(Math.abs(a), Math.abs(b), 1e-6)
      })
