import { wiringNetwork } from '../electrics/index.ts'
import { type BuildData, type EntryTable, Random, readingsOf, seedOf } from '../kernel/index.ts'
import { placeIds } from '../wiring/index.ts'
import type { Condition } from './condition.ts'
import { conditionOf } from './faults.ts'
import { overUsualOhm } from './wires.ts'

/** Wires of the old loom that somebody might take the keyed supply from. */
export const keyedCandidates = {
  switch: 'white, at the ignition switch',
  accessory: 'green, at the radio',
  coil: 'at the coil’s plus',
  lamps: 'brown, at the lamp switch',
} as const
export type KeyedCandidate = keyof typeof keyedCandidates
/** Points of the bench car that a meter or a lamp can be held at. */
export const meterPoints = {
  plus: 'battery plus',
  minus: 'battery minus',
  engine: 'engine block',
  body: 'body',
  'unit-supply': 'unit, supply pin',
  'unit-ground': 'unit, ground pin',
  'pump-plus': 'pump, plus',
  'pump-minus': 'pump, minus',
  'coil-plus': 'coil, plus',
  'sensor-ground': 'sensor ground',
  candidate: 'candidate wire',
} as const
export type MeterPoint = keyof typeof meterPoints
export const keyStates = ['off', 'accessory', 'on', 'cranking', 'running'] as const
export type KeyState = (typeof keyStates)[number]

/** Battery, starter and straps of the bench car; what is joined to them. Its own figures: no rule works with them. */
const CAR = { emfV: 12.66, batteryOhm: 0.0115, starterOhm: 0.062, chargedV: 14.1, chargingOhm: 0.02, bodyOhm: 0.0018 } as const
const WIRE = { feed: 0.022, ground: 0.006, pump: 0.05, pumpGround: 0.012, coil: 0.04, sensorGround: 0.09, keyed: 0.08 } as const
const LOAD_OHM = { unit: 5.5, pump: 2.2, coil: 6, lamp: 12.8 ** 2 / 21, lights: 1.1 } as const
const METER_OHM = 10e6
/** joints alone, where the copper is short and thick */
const LEAST_OHM = 0.002
const WEAK_BATTERY_OHM = 0.004

interface Setting {
  state: KeyState
  candidate?: KeyedCandidate
  /** a 21 W lamp between the candidate and battery minus */
  lamp?: boolean
}

/** Whether the old loom feeds a wire in a state of its switch, and through what, ohm; null: it does not. */
function fedThrough(wire: KeyedCandidate, state: KeyState, condition: Condition, ballast: boolean): number | null {
  const ignition = state === 'on' || state === 'cranking' || state === 'running'
  if (wire === 'lamps') return WIRE.keyed
  if (wire === 'accessory') return state === 'off' || state === 'cranking' ? null : WIRE.keyed
  if (wire === 'coil') return ignition ? WIRE.keyed + (ballast ? 1.5 : 0) : null
  if (!ignition || (state === 'cranking' && !condition.keyedWhileCranking)) return null
  return WIRE.keyed + condition.keyedOhm
}

/** Volts of every point over battery minus. */
function solved(build: BuildData, { state, candidate = 'switch', lamp = false }: Setting): Record<MeterPoint, number> {
  const condition = conditionOf(build.choices.bench)
  const ballast = build.facts.ignition?.ballastResistor === true
  const on = state === 'on' || state === 'cranking' || state === 'running'
  const weak = build.facts.electrics?.crankingV !== undefined && build.facts.electrics.crankingV < 9 ? WEAK_BATTERY_OHM : 0
  const elements: { id: string; from: string; to: string; ohm: number; volt?: number }[] = [
    {
      id: 'battery',
      from: 'minus',
      to: 'plus',
      volt: condition.crankingV !== null && state === 'cranking' ? condition.crankingV + 2 : CAR.emfV,
      ohm: CAR.batteryOhm + weak,
    },
    { id: 'engine strap', from: 'engine', to: 'minus', ohm: condition.engineStrapOhm },
    { id: 'body strap', from: 'body', to: 'minus', ohm: CAR.bodyOhm },
    {
      id: 'unit feed',
      from: 'plus',
      to: 'unit-supply',
      ohm: WIRE.feed + condition.feedOhm + overUsualOhm(build, 'main-feed', 'unit-feed'),
    },
    {
      id: 'unit ground',
      from: 'unit-ground',
      to: 'minus',
      ohm: Math.max(LEAST_OHM, WIRE.ground + condition.groundOhm + overUsualOhm(build, 'unit-ground')),
    },
    {
      id: 'pump feed',
      from: 'unit-supply',
      to: 'pump-plus',
      ohm: Math.max(LEAST_OHM, WIRE.pump + condition.pumpWireOhm + overUsualOhm(build, 'pump')),
    },
    { id: 'pump ground', from: 'pump-minus', to: 'body', ohm: WIRE.pumpGround },
    { id: 'coil feed', from: 'plus', to: 'coil-plus', ohm: WIRE.coil + (ballast ? 1.5 : 0) + overUsualOhm(build, 'coil-feed') },
    { id: 'sensor ground', from: 'sensor-ground', to: 'unit-ground', ohm: WIRE.sensorGround },
    { id: 'meter', from: 'candidate', to: 'minus', ohm: METER_OHM },
  ]
  const load = (id: string, from: string, to: string, ohm: number, runs: boolean): void =>
    void elements.push({ id, from, to, ohm: runs ? ohm : METER_OHM })
  load('starter', 'plus', 'engine', CAR.starterOhm, state === 'cranking')
  load('lights', 'plus', 'body', LOAD_OHM.lights, state === 'running')
  load('unit', 'unit-supply', 'unit-ground', LOAD_OHM.unit, on)
  load('pump', 'pump-plus', 'pump-minus', LOAD_OHM.pump, condition.pumpRuns && (state === 'cranking' || state === 'running'))
  load('coil', 'coil-plus', 'engine', LOAD_OHM.coil, on)
  if (state === 'running') elements.push({ id: 'alternator', from: 'engine', to: 'plus', volt: CAR.chargedV, ohm: CAR.chargingOhm })
  const fed = fedThrough(candidate, state, condition, ballast)
  if (fed !== null) elements.push({ id: 'candidate', from: 'plus', to: 'candidate', ohm: fed })
  if (lamp) elements.push({ id: 'lamp', from: 'candidate', to: 'minus', ohm: LOAD_OHM.lamp })
  return wiringNetwork.run({ groundNode: 'minus', elements }).nodes as Record<MeterPoint, number>
}

const SPREAD_V = 0.008
const to = (value: number, step: number): number => Math.round(Math.round(value / step) * step * 1e6) / 1e6

/** What a meter shows between two points of the bench car, V. */
export function benchMeterV(build: BuildData, red: MeterPoint, black: MeterPoint, setting: Setting): number {
  const volts = solved(build, setting)
  const random = new Random(seedOf(`${build.id} ${red} ${black} ${JSON.stringify(setting)}`))
  return to(volts[red] - volts[black] + SPREAD_V * random.normal(), 0.001)
}

/** Where a meter is held for an entry of Wiring. */
export interface WiringHeldAt {
  candidate?: KeyedCandidate
  ground?: 'unit' | 'engine' | 'body' | 'sensor'
  place?: string
}
const pointOf = { unit: 'unit-ground', engine: 'engine', body: 'body', sensor: 'sensor-ground' } as const
const SOUND_OHM = 2_400_000
const SOUND_DRAW_A = 0.018
const CHAFED = 'pump'

type Value<K extends keyof EntryTable> = EntryTable[K]
/** Instruments for station Wiring, by the kind of reading they give. */
export const wiringInstruments = {
  'wiring.keyed': {
    title: 'Meter and 21 W lamp',
    read: (b: BuildData, _: Random, { candidate = 'switch' }: WiringHeldAt): Value<'wiring.keyed'> => {
      const volt = (state: KeyState, lamp = false, red: MeterPoint = 'candidate') =>
        Math.max(0, to(benchMeterV(b, red, 'minus', { state, candidate, lamp }), 0.01))
      return {
        wire: keyedCandidates[candidate],
        batteryV: volt('off', false, 'plus'),
        offV: volt('off'),
        onV: volt('on'),
        lampV: volt('on', true),
        accessoryV: volt('accessory'),
        crankingV: volt('cranking', true),
        batteryCrankingV: volt('cranking', true, 'plus'),
      }
    },
  },
  'wiring.ground-drop': {
    title: 'Multimeter',
    read: (b: BuildData, _: Random, { ground = 'unit' }: WiringHeldAt): Value<'wiring.ground-drop'> => {
      const state = ground === 'engine' ? 'cranking' : 'running'
      const black = ground === 'sensor' ? 'unit-ground' : 'minus'
      return {
        which: ground,
        state: state === 'running' ? 'loads-on' : 'cranking',
        dropV: Math.abs(benchMeterV(b, pointOf[ground], black, { state })),
      }
    },
  },
  'wiring.crank-volts': {
    title: 'Multimeter, lowest kept',
    read: (b: BuildData): Value<'wiring.crank-volts'> => ({
      atUnitV: to(benchMeterV(b, 'unit-supply', 'unit-ground', { state: 'cranking' }), 0.01),
      batteryV: to(benchMeterV(b, 'plus', 'minus', { state: 'cranking' }), 0.01),
    }),
  },
  'wiring.parked-draw': {
    title: 'Meter in series',
    read: (b: BuildData, random: Random): Value<'wiring.parked-draw'> => ({
      drawA: to(SOUND_DRAW_A + conditionOf(b.choices.bench).parkedDrawA + 0.001 * Math.abs(random.normal()), 0.001),
    }),
  },
  'wiring.insulation': {
    title: 'Ohmmeter',
    read: (b: BuildData, random: Random): Value<'wiring.insulation'> => {
      const { chafedOhm } = conditionOf(b.choices.bench)
      return chafedOhm === null
        ? { leastOhm: to(SOUND_OHM * (1 + 0.1 * random.normal()), 1000) }
        : { leastOhm: to(chafedOhm * (1 + 0.02 * random.normal()), 0.1), circuit: CHAFED }
    },
  },
  'wiring.connector': {
    title: 'Eye and hand',
    read: (b: BuildData, _: Random, { place = placeIds[0] }: WiringHeldAt): Value<'wiring.connector'> => {
      const sound = !(place === 'unit' && conditionOf(b.choices.bench).looseUnitPlug)
      return { place, seated: true, latched: sound, tugged: sound }
    },
  },
  'wiring.bus': {
    title: 'Ohmmeter',
    read: (b: BuildData, random: Random): Value<'wiring.bus'> => {
      const { busEnds } = conditionOf(b.choices.bench)
      return { ohm: busEnds === 0 ? 40_000 : to((120 / busEnds) * (1 + 0.005 * random.normal()), 0.1) }
    },
  },
} as const
export type WiringInstrument = keyof typeof wiringInstruments
export const isWiringInstrument = (kind: string): kind is WiringInstrument => kind in wiringInstruments

export function readWiring(build: BuildData, kind: WiringInstrument, at: WiringHeldAt = {}): { value: object; instrument: string } {
  const { title, read } = wiringInstruments[kind]
  const random = new Random(seedOf(`${build.id} ${kind} ${readingsOf(build.readings, kind).length} ${JSON.stringify(at)}`))
  return { value: read(build, random, at), instrument: title }
}
