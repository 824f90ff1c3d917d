import { z } from 'zod'
import { type BuildData, CoreError, type EntryTable, readingsOf, Random, seedOf } from '../kernel/index.ts'
import { boxIds, jointIds } from '../fitup/index.ts'
import { suspectIds, airGapMm, dwellOf, hasDistributor, LOADED_BATTERY_V, sensorOf, sweepOf, withinCycle } from '../spark/index.ts'
import { needleStep, rpmOfFrequency, sourcePulsesPerRev, tachRatio, USUAL_NEEDLE_S } from '../tach/index.ts'
import { type KeyedCandidate, keyedCandidates } from './wiring.ts'
import { benchIgnition, type BenchIgnition, camLampDeg, lightSeenDeg, polarityRight, sparkAtDeg } from './ignition.ts'

type Value<K extends keyof EntryTable> = EntryTable[K]
const to = (value: number, step: number): number => Math.round(Math.round(value / step) * step * 1e6) / 1e6

/** Where and how an instrument is held; each takes what it needs of it. */
export const BenchHeldAt = z.strictObject({
  rpm: z.number().min(50).max(15000).optional().describe('rpm'),
  commandedDeg: z.number().min(-60).max(90).optional().describe('fixed advance commanded for a light, crank degrees BTDC'),
  cylinder: z.int().min(1).max(12).optional(),
  lengthMm: z.number().min(50).max(2500).optional().describe('of a plug lead, mm'),
  suspect: z.enum(suspectIds).optional(),
  fromRpm: z.number().min(0).max(15000).optional(),
  toRpm: z.number().min(0).max(15000).optional(),
  frequencyHz: z.number().min(1).max(3000).optional().describe('of a signal generator, Hz'),
  seconds: z.number().positive().optional().describe('length of the scope’s record, s'),
  trace: z.string().max(40).optional().describe('which of the scope’s traces is judged'),
  candidate: z
    .enum(Object.keys(keyedCandidates) as [KeyedCandidate, ...KeyedCandidate[]])
    .optional()
    .describe('wire tried for the keyed supply'),
  ground: z.enum(['unit', 'engine', 'body', 'sensor']).optional(),
  place: z.string().max(40).optional().describe('connector of the harness'),
  joint: z.enum(jointIds).optional(),
  setNm: z.number().min(1).max(250).optional().describe('what the torque wrench is set to, Nm'),
  box: z.enum(boxIds).optional(),
  balanceAt: z.enum(['idle', 'part']).optional(),
  turned: z.array(z.number().min(-5).max(5)).max(12).optional().describe('turns of each throttle’s screw since the look before'),
  tracks: z.enum(['pedal', 'plate']).optional(),
  live: z.boolean().optional().describe('at the car that stands or runs on the bench now'),
})
export type HeldAt = z.infer<typeof BenchHeldAt>
type Instrument<V> = { title: string; accuracy: string; minutes: number; read: (ignition: BenchIgnition, random: Random, at: HeldAt) => V }
export const notHere = (why: string) => new CoreError('NOT_ALLOWED', 'bench', why)

/** A fixed value in the middle of the swept range: both ends of the damper's marks are in sight. */
export const lightCommandDeg = (c: BenchIgnition['context']): number => {
  const { minAdvanceDeg, maxAdvanceDeg } = sweepOf(c)
  return Math.round((minAdvanceDeg + maxAdvanceDeg) / 2 / 5) * 5
}
const USUAL_IDLE_RPM = 900
const USUAL_FREQUENCY_HZ = 100
/** crank degrees from top centre at which the stop holds the piston */
const STOP_DEG = 24
const OHM_PER_M = 14_000

/** The bench's instruments for station Spark, by the kind of reading they give. Accuracy and minutes are those of careful hands. */
export const ignitionInstruments = {
  'spark.zero-mark': {
    title: 'Piston stop',
    accuracy: '± 0.3° crank',
    minutes: 20,
    read: (g, random): Value<'spark.zero-mark'> => ({
      method: 'piston-stop',
      beforeDeg: to(STOP_DEG - g.zeroOffsetDeg + 0.25 * random.normal(), 0.5),
      afterDeg: to(STOP_DEG + g.zeroOffsetDeg + 0.25 * random.normal(), 0.5),
    }),
  },
  'spark.lock-out': {
    title: 'Hands on the rotor',
    accuracy: 'felt',
    minutes: 2,
    read: (g): Value<'spark.lock-out'> => ({ moves: g.fault('weights-move') !== null }),
  },
  'spark.stroke': {
    title: 'Thumb over plug hole 1',
    accuracy: 'felt',
    minutes: 5,
    read: (g): Value<'spark.stroke'> => ({ method: 'thumb', inStep: g.fault('stroke-out') === null }),
  },
  'spark.order': {
    title: 'Light on each lead in turn',
    accuracy: 'seen',
    minutes: 10,
    read: (g): Value<'spark.order'> => ({ cylinders: g.order }),
  },
  'spark.polarity': {
    title: 'Scope or lamp at the sensor',
    accuracy: 'seen',
    minutes: 5,
    read: (g): Value<'spark.polarity'> => ({ right: polarityRight(g), method: sensorOf(g.context) === 'magnetic' ? 'scope' : 'lamp' }),
  },
  'spark.air-gap': {
    title: 'Feeler blades',
    accuracy: '± 0.05 mm',
    minutes: 6,
    read: (g, random): Value<'spark.air-gap'> => {
      const sensor = sensorOf(g.context)
      if (!sensor) throw notHere('this way has no sensor to set')
      const [low, high] = airGapMm(sensor, hasDistributor(g.context))
      const middle = g.fault('gap-wide') ?? (low + high) / 2
      const swing = g.fault('run-out') ?? 0.2 * (high - low)
      return {
        leastMm: to(Math.max(0.05, middle - swing / 2 + 0.02 * random.normal()), 0.05),
        mostMm: to(middle + swing / 2 + 0.02 * random.normal(), 0.05),
      }
    },
  },
  'spark.signal': {
    title: 'Scope at the sensor, cranking',
    accuracy: '± 5 %',
    minutes: 6,
    read: (g, random): Value<'spark.signal'> => ({
      noiseV: to(g.noiseV * (1 + 0.03 * random.normal()), 0.01),
      crankingV: to((sensorOf(g.context) === 'magnetic' ? g.crankingV : SQUARE_V) * (1 + 0.03 * random.normal()), 0.01),
    }),
  },
  'spark.timing-light': {
    title: 'Timing light',
    accuracy: '± 0.5° crank',
    minutes: 3,
    read: (g, random, at): Value<'spark.timing-light'> => {
      const { referenceDeg, delayUs = 0 } = g.context.spark
      if (g.pulseDeg === null || referenceDeg === undefined) throw notHere('the unit does not time the spark')
      const rpm = at.rpm ?? USUAL_IDLE_RPM
      const commandedDeg = at.commandedDeg ?? lightCommandDeg(g.context)
      const seen = lightSeenDeg(g, sparkAtDeg(g, rpm, g.context.resolved.barometerKpa, commandedDeg), rpm, random)
      return { rpm: to(rpm, 10), observedDeg: to(seen, 0.1), commandedDeg, referenceDeg, delayUs }
    },
  },
  'spark.phase-seen': {
    title: 'Cap with a window, light on lead 1',
    accuracy: '± 0.5° distributor',
    minutes: 8,
    read: (g, random, at): Value<'spark.phase-seen'> => {
      if (g.alignDegBtdc === null) throw notHere('there is no rotor')
      const advanceDeg = at.commandedDeg ?? sweepOf(g.context).minAdvanceDeg
      const trueDeg = sparkAtDeg(g, USUAL_IDLE_RPM, g.context.resolved.idleMapKpa, advanceDeg)
      // the crank mark is read at the same time, so an error of timing does not count
      return {
        advanceDeg: to(trueDeg - g.zeroOffsetDeg, 0.5),
        beforeTerminalDeg: to((trueDeg - g.alignDegBtdc) / 2 + 0.4 * random.normal(), 0.5),
      }
    },
  },
  'spark.slack': {
    title: 'Paper tape, ratchet',
    accuracy: '± 0.5° crank',
    minutes: 4,
    read: (g, random): Value<'spark.slack'> => ({ crankDeg: to(Math.max(0, g.slackDeg + 0.3 * random.normal()), 0.5) }),
  },
  'spark.cam-lamp': {
    title: 'Lamp on the cam sensor',
    accuracy: '± 1° crank',
    minutes: 8,
    read: (g, random): Value<'spark.cam-lamp'> => {
      const seen = camLampDeg(g)
      if (seen === null) throw notHere('choose reference and place of the cam pulse first')
      return { crankDegBtdc: to(withinCycle(seen + 0.5 * random.normal()), 1) }
    },
  },
  'spark.coil-current': {
    title: 'Clamp on the coil feed',
    accuracy: '± 10 %',
    minutes: 5,
    read: (g, random): Value<'spark.coil-current'> => {
      const peakA = coilPeakA(g)
      if (peakA === null) throw notHere('the unit charges no coil here')
      return { batteryV: LOADED_BATTERY_V, peakA: to(peakA * (1 + 0.04 * random.normal()), 0.1) }
    },
  },
  'spark.lead': {
    title: 'Meter from end to end',
    accuracy: '± 1 %',
    minutes: 1,
    read: (g, random, at): Value<'spark.lead'> => {
      const cylinder = at.cylinder ?? 1
      const lengthMm = at.lengthMm ?? 350 + 50 * g.firingOrder.indexOf(cylinder)
      const bad = g.fault('lead-bad') !== null && cylinder === g.firingOrder[Math.floor(g.cylinders / 2)]
      return { cylinder, lengthMm, ohm: to(((OHM_PER_M * lengthMm) / 1000) * (1 + 0.03 * random.normal()) * (bad ? 4 : 1), 10) }
    },
  },
  'tach.driven': {
    title: 'Signal generator at the tachometer',
    accuracy: '± 1 Hz, the needle ± 10 rpm',
    minutes: 10,
    read: (g, random, at): Value<'tach.driven'> => {
      const frequencyHz = at.frequencyHz ?? USUAL_FREQUENCY_HZ
      return { frequencyHz, shownRpm: Math.max(0, to(rpmOfFrequency(frequencyHz, tachSetTo(g)) + 10 * random.normal(), 10)) }
    },
  },
  'tach.reading': {
    title: 'Tachometer against the light',
    accuracy: '± 20 rpm',
    minutes: 2,
    read: (g, random, at): Value<'tach.reading'> => {
      const trueRpm = to(at.rpm ?? USUAL_IDLE_RPM, 10)
      return { trueRpm, shownRpm: to(trueRpm * tachGain(g) + 10 * random.normal(), 10) }
    },
  },
  'tach.step': {
    title: 'Phone camera at the needle',
    accuracy: '± 50 rpm',
    minutes: 5,
    read: (_, random, at): Value<'tach.step'> => {
      const { fromRpm = 900, toRpm = 2800 } = at
      let needle = fromRpm
      const points = [0.1, 0.2, 0.3, 0.5, 0.8].map((timeS, i, all) => {
        needle = needleStep(needle, toRpm, timeS - (all[i - 1] ?? 0), USUAL_NEEDLE_S.rise, USUAL_NEEDLE_S.fall)
        return { timeS, shownRpm: to(needle + 25 * random.normal(), 50) }
      })
      return { fromRpm, toRpm, points }
    },
  },
  'spark.interference': {
    title: 'The proof of the list, done',
    accuracy: 'seen',
    minutes: 10,
    read: (g, _, at): Value<'spark.interference'> => {
      const suspect = at.suspect ?? 'harness-route'
      return { suspect, found: suspect === 'harness-route' && g.fault('interference') !== null }
    },
  },
} as const satisfies Partial<{ [K in keyof EntryTable]: Instrument<Value<K>> }>

export type IgnitionInstrument = keyof typeof ignitionInstruments
const SQUARE_V = 4.6

/** Peak of the coil's current at the dwell the unit was told, A: a ballast left in the feed keeps it down. */
function coilPeakA(g: BenchIgnition): number | null {
  const d = dwellOf(g.context)
  if (!d) return null
  const ohm = d.input.resistanceOhm + (g.fault('ballast') ?? 0)
  const dwellMs = Math.min(d.output.dwellMs ?? d.output.availableMs, d.output.availableMs)
  return (d.input.batteryV / ohm) * (1 - Math.exp((-dwellMs * ohm) / d.input.inductanceMh))
}

function tachGain(g: BenchIgnition): number {
  const { tach } = g.context
  const pulses = sourcePulsesPerRev(tach, g.cylinders) ?? g.cylinders / 2
  return tachRatio(pulses, tachSetTo(g))
}
/** Cylinders that the bench's tachometer really counts for. */
function tachSetTo(g: BenchIgnition): number {
  const { tach } = g.context
  const right = tach.setCylinders ?? 2 * (sourcePulsesPerRev(tach, g.cylinders) ?? g.cylinders / 2)
  return g.fault('tach-setting') === null ? right : right === 8 ? 6 : 8
}

/**
 * One reading by a bench instrument, as its reading kind wants it. The same build, instrument and place in the record give the same reading.
 * @throws CoreError NOT_ALLOWED when the instrument has nothing to read on this ignition
 */
export function readIgnition<K extends IgnitionInstrument>(
  build: BuildData,
  kind: K,
  at: HeldAt = {},
): ReturnType<(typeof ignitionInstruments)[K]['read']> {
  const ignition = benchIgnition(build)
  if (!ignition) throw notHere('cylinders, firing order and way of triggering must be known')
  const random = new Random(seedOf(`${build.id} ${kind} ${readingsOf(build.readings, kind).length} ${JSON.stringify(at)}`))
  const instrument = ignitionInstruments[kind] as unknown as Instrument<ReturnType<(typeof ignitionInstruments)[K]['read']>>
  return instrument.read(ignition, random, at)
}
