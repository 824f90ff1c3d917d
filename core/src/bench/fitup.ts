import type { boxIds, jointIds } from '../fitup/index.ts'
import { judgeTracks, tracksEntry, type TrackSweep } from '../fitup/index.ts'
import { type BuildData, type EntryTable, Random, readingsOf, seedOf } from '../kernel/index.ts'
import { conditionOf } from './faults.ts'
import { openPortsM2 } from './ports.ts'

type Value<K extends keyof EntryTable> = EntryTable[K]
/** Where an instrument is held at Fit-up, and what was turned before it was read. */
export interface FitupHeldAt {
  joint?: (typeof jointIds)[number]
  /** what the wrench was set to, Nm */
  setNm?: number
  box?: (typeof boxIds)[number]
  tracks?: 'pedal' | 'plate'
  balanceAt?: 'idle' | 'part'
  turned?: number[]
}
const to = (value: number, step: number): number => Math.round(Math.round(value / step) * step * 1e6) / 1e6

/** Bench figures of its own: no rule works with them. */
const FULL_DEG = 88
const CLAY_MM = 26
const SENSOR_UP_DEG = 16
const WRENCH_SHARE = 0.015
const MEAN_KGH = { idle: 5.4, part: 14 } as const
const UNEVEN = 0.18
const GAUGE_SHARE = 0.012
const SCREW = { own: 0.42, ownSpread: 0.08, beside: 0.09, all: -0.025 } as const

const HZ = 100
/** where a stuck plate stands */
export const STUCK_SHARE = 0.34
const SWEEP_S = 14
const NOISE_V = 0.0035
/** low and high end of each track, V; the second runs on half the first's span, so that a short between them shows */
const TRACK_V = { pedal: { one: [0.78, 3.92], two: [0.39, 1.96] }, plate: { one: [0.62, 4.4], two: [4.38, 0.6] } } as const

/**
 * What a recorder sees on both tracks while the pedal, or the plate, is moved slowly from end to end and back, with a hold at either end.
 * A noisy track scratches over a worn stretch while it moves, a stuck plate stays where it is, a lost supply takes the second track away.
 */
export function benchSweep(build: BuildData, which: 'pedal' | 'plate'): TrackSweep {
  const condition = conditionOf(build.choices.bench)
  const random = new Random(seedOf(`${build.id} sweep ${which}`))
  const n = SWEEP_S * HZ
  const { one, two } = TRACK_V[which]
  const out = { timeS: [] as number[], oneV: [] as number[], twoV: [] as number[] }
  const stuck = which === 'plate' && condition.plateStuck
  const bow = (share: number): number => (which === 'pedal' ? (4 * condition.tracksApartPct * share * (1 - share)) / 100 : 0)
  for (let i = 0; i < n; i++) {
    const phase = i / n
    const share = stuck ? STUCK_SHARE : Math.min(1, Math.max(0, phase < 0.5 ? (phase - 0.1) / 0.36 : (0.9 - phase) / 0.36))
    const moves = share > 0 && share < 1
    const worn = which === 'pedal' && moves && share > 0.2 && share < 0.45 ? condition.pedalNoiseV : 0
    const spike = worn > 0 && random.next() < 0.02 ? -6 * worn * random.next() : 0
    const at = (ends: readonly [number, number], noisy: number): number =>
      ends[0] + (ends[1] - ends[0]) * share + (NOISE_V + noisy) * random.normal()
    out.timeS.push(i / HZ)
    out.oneV.push(to(at(one, worn) + spike, 0.001))
    out.twoV.push(
      to(
        condition.trackSupplyLost && which === 'pedal' ? 0.02 + 0.002 * random.normal() : at(two, 0) + (two[1] - two[0]) * bow(share),
        0.001,
      ),
    )
  }
  return out
}

/** Air through every throttle of the bench car with all screws where they were turned to so far, kg/h. */
export function benchAirKgH(build: BuildData, at: 'idle' | 'part', turned: readonly number[]): number[] {
  const n = build.facts.engine?.cylinders ?? 4
  const random = new Random(seedOf(`${build.id} throttles`))
  const start = Array.from({ length: n }, () => 1 + UNEVEN * (2 * random.next() - 1))
  const screws = Array.from({ length: n }, () => SCREW.own + SCREW.ownSpread * (2 * random.next() - 1))
  const looks = readingsOf(build.readings, 'fitup.balance').map((r) => r.value.turned)
  const turns = start.map((_, i) => [...looks, turned].reduce((sum, t) => sum + (t[i] ?? 0), 0))
  const all = turns.reduce((sum, t) => sum + t, 0)
  // screws work at idle; at part throttle the plates do, and the bypass is a small part of it
  const works = at === 'idle' ? 1 : 0.35
  const gauge = new Random(seedOf(`${build.id} gauge ${at} ${looks.length} ${turned.join(' ')}`))
  return start.map((s, i) => {
    const beside = turns[i % 2 === 0 ? i + 1 : i - 1] ?? 0
    const share = 1 + works * (s - 1) + works * (screws[i] * turns[i] + SCREW.beside * beside + SCREW.all * all)
    return Math.max(0.2, to(MEAN_KGH[at] * share * (1 + GAUGE_SHARE * gauge.normal()), 0.1))
  })
}

/** Instruments for station Fit-up, by the kind of reading they give. */
export const fitupInstruments = {
  'fitup.ports-covered': {
    title: 'Straightedge',
    read: (_: BuildData, random: Random): Value<'fitup.ports-covered'> => ({ covered: true, gapMm: to(0.04 + 0.02 * random.next(), 0.01) }),
  },
  'fitup.torqued': {
    title: 'Torque wrench',
    read: (_: BuildData, random: Random, { joint = 'throttle', setNm = 20 }: FitupHeldAt): Value<'fitup.torqued'> => ({
      joint,
      torqueNm: to(setNm * (1 + WRENCH_SHARE * random.normal()), 0.1),
      passes: 3,
      inOrder: true,
      gasket: 'one-dry',
    }),
  },
  'fitup.ports': {
    title: 'Hand and eye',
    read: (b: BuildData): Value<'fitup.ports'> => {
      const { portOpen, checkValveHolds, hosesSwapped } = conditionOf(b.choices.bench)
      return { asMap: !hosesSwapped, capped: !portOpen && openPortsM2(b.choices) === 0, checkValve: checkValveHolds }
    },
  },
  'fitup.linkage': {
    title: 'Protractor',
    read: (b: BuildData, random: Random): Value<'fitup.linkage'> => {
      const c = conditionOf(b.choices.bench)
      return {
        fullDeg: to(FULL_DEG - c.linkageShortDeg + 0.5 * random.normal(), 1),
        closes: c.plateSticksPct === 0,
        springs: c.springOff ? 1 : 2,
        binds: c.plateSticksPct > 0,
      }
    },
  },
  'fitup.tip-in': {
    title: 'Throttle sensor',
    read: (b: BuildData, random: Random): Value<'fitup.tip-in'> => ({
      jumpPct: to(1.2 + conditionOf(b.choices.bench).plateSticksPct + 0.3 * random.next(), 0.1),
    }),
  },
  'fitup.kick-down': {
    title: 'Hand and eye',
    read: (): Value<'fitup.kick-down'> => ({ fullAtFull: true, noSlack: true, pressureChecked: true }),
  },
  'fitup.shafts': {
    title: 'Protractor',
    read: (_: BuildData, random: Random): Value<'fitup.shafts'> => ({
      shutDeg: to(0.3 * random.next(), 0.1),
      fullDeg: to(0.6 * random.next(), 0.1),
    }),
  },
  'fitup.bonnet': {
    title: 'Clay and rule',
    read: (b: BuildData, random: Random): Value<'fitup.bonnet'> => ({
      gapMm: to(CLAY_MM - conditionOf(b.choices.bench).bonnetLowMm + random.next(), 0.5),
    }),
  },
  'fitup.sensor': {
    title: 'Angle gauge and smoke',
    read: (b: BuildData, random: Random): Value<'fitup.sensor'> => {
      const { sensorDroopDeg, exhaustLeakShare } = conditionOf(b.choices.bench)
      return { upDeg: to(SENSOR_UP_DEG - sensorDroopDeg + random.normal(), 1), tight: exhaustLeakShare === 0, plugged: true }
    },
  },
  'fitup.coolant-sensor': { title: 'Eye', read: (): Value<'fitup.coolant-sensor'> => ({ wet: true, engineSide: true }) },
  'fitup.air-sensor': {
    title: 'Eye',
    read: (b: BuildData): Value<'fitup.air-sensor'> => ({ cool: conditionOf(b.choices.bench).airSoakShare === 0 }),
  },
  'fitup.box': {
    title: 'Hand and thermometer',
    read: (_: BuildData, random: Random, { box = 'unit' }: FitupHeldAt): Value<'fitup.box'> => ({
      box,
      dry: true,
      plugsDown: true,
      rubber: true,
      hottestC: to((box === 'unit' ? 38 : 58) + 4 * random.next(), 1),
    }),
  },
  'fitup.dry-fit': {
    title: 'Feeler gauges',
    read: (_: BuildData, random: Random): Value<'fitup.dry-fit'> => ({
      gapMm: to(0.04 + 0.03 * random.next(), 0.01),
      boltsStart: true,
      railFloatMm: to(0.6 + 0.3 * random.next(), 0.05),
      oRings: true,
    }),
  },
  'fitup.coolant-bled': { title: 'Eye, cold', read: (): Value<'fitup.coolant-bled'> => ({ litres: 6.5, held: true }) },
  'fitup.balance': {
    title: 'Airflow gauge',
    read: (b: BuildData, _: Random, { balanceAt = 'idle', turned = [] }: FitupHeldAt): Value<'fitup.balance'> => ({
      at: balanceAt,
      flowsKgH: benchAirKgH(b, balanceAt, turned),
      turned,
    }),
  },
  'fitup.brake-key': {
    title: 'Second person',
    read: (b: BuildData): Value<'fitup.brake-key'> => {
      const { plateStuck } = conditionOf(b.choices.bench)
      return { keyShuts: !plateStuck, brakeShuts: !plateStuck }
    },
  },
  'fitup.tracks': {
    title: 'Recorder on both tracks',
    read: (b: BuildData, _: Random, { tracks = 'pedal' }: FitupHeldAt): Value<'fitup.tracks'> =>
      tracksEntry(tracks, judgeTracks(benchSweep(b, tracks))),
  },
  'fitup.limp': {
    title: 'Throttle sensor',
    read: (b: BuildData, random: Random): Value<'fitup.limp'> => {
      const { plateStuck } = conditionOf(b.choices.bench)
      return { platePct: to((plateStuck ? 100 * STUCK_SHARE : 7) + random.next(), 1), afterS: to(0.2 + 0.2 * random.next(), 0.1) }
    },
  },
} as const
export type FitupInstrument = keyof typeof fitupInstruments
export const isFitupInstrument = (kind: string): kind is FitupInstrument => kind in fitupInstruments

export function readFitup(build: BuildData, kind: FitupInstrument, at: FitupHeldAt = {}): { value: object; instrument: string } {
  const { title, read } = fitupInstruments[kind]
  const random = new Random(seedOf(`${build.id} ${kind} ${readingsOf(build.readings, kind).length} ${JSON.stringify(at)}`))
  return { value: read(build, random, at), instrument: title }
}
