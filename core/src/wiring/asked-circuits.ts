import { pumpOf, statesCurrent, withUsualCurrent } from '../fuel/index.ts'
import { type JudgedContext, latest } from '../kernel/index.ts'
import { injectorsFor } from '../plan/index.ts'
import { boxOf, coilCount, coilsOf, controlsTiming, dwellOf, hasCamSignal, hasDistributor, sensorOf } from '../spark/index.ts'
import { wiringOf } from './car-plan.ts'
import { type CarState, type Circuit, type Draft, RELAY_COIL_A, RUNNING } from './circuit.ts'
import { DROP_V } from './limits.ts'

const STARTED: readonly CarState[] = ['idle', 'cruise']
const MOTOR_SURGE = 5
const HEATER_COLD = 2.5
/** Own figures for usual parts, A; a clamp reading or a sheet replaces each by an edit. */
const USUAL = {
  unit: 1.5,
  keyed: 0.3,
  pump: 6,
  heater: 1.2,
  fan: 12,
  idleValve: 0.5,
  display: 0.4,
  throttleMotor: 2,
  gearbox: 4,
  box: 5,
  gauge: 0.1,
  coilPeak: 6,
  dutyPct: 65,
  sensor: 0.02,
}
const CHARGING_V = 13.8
const USUAL_INJECTOR_OHM = 14
const INJECTOR_DUTY = 0.8
const PUMP_AT_KPA = 300

const feed = (d: Omit<Draft, 'kind'>): Draft => ({ kind: 'feed', feed: 'battery', fused: true, ...d })
const signal = (id: string, name: string, from: string, why: string, more: Partial<Circuit> = {}): Draft => ({
  id,
  name,
  kind: 'signal',
  from,
  to: 'unit',
  why,
  continuousA: USUAL.sensor,
  ...more,
})
const output = (id: string, name: string, to: string, amps: number, why: string, more: Partial<Circuit> = {}): Draft => ({
  id,
  name,
  kind: 'output',
  from: 'unit',
  to,
  feed: 'unit',
  lowSide: true,
  continuousA: amps,
  why,
  states: RUNNING,
  ...more,
})

function supply(c: JudgedContext): Draft[] {
  const casting = wiringOf(c).unitGround === 'casting'
  return [
    feed({
      id: 'main-feed',
      name: 'Main feed',
      from: 'battery',
      to: 'fuses',
      why: 'everything new hangs on it, past a fuse of its own',
      states: RUNNING,
      dropLimitV: DROP_V.unit / 2,
    }),
    feed({
      id: 'unit-feed',
      name: 'Unit, battery',
      from: 'fuses',
      to: 'unit',
      why: 'keeps what it learned, and feeds its outputs',
      continuousA: USUAL.unit,
      states: RUNNING,
      dropLimitV: DROP_V.unit,
    }),
    {
      id: 'keyed',
      name: 'Keyed supply',
      kind: 'feed',
      feed: 'keyed',
      fused: true,
      from: 'switch',
      to: 'unit',
      why: 'wakes the unit; live while cranking',
      continuousA: USUAL.keyed,
      states: RUNNING,
      dropLimitV: DROP_V.unit,
    },
    {
      id: 'unit-ground',
      name: 'Unit ground',
      kind: 'ground',
      from: 'unit',
      to: casting ? 'body' : 'battery',
      why: casting ? 'through its casting: only with a measured drop' : 'to the battery’s post, nothing else on it',
      states: RUNNING,
      dropLimitV: DROP_V.ground,
    },
    {
      id: 'sensor-ground',
      name: 'Sensor ground',
      kind: 'ground',
      from: 'coolant',
      to: 'unit',
      why: 'carries no load: a lift of it reads as warmth or load',
      continuousA: 0.05,
      dropLimitV: DROP_V.sensorGround,
    },
    signal('sensor-5v', 'Sensor supply', 'throttle', '5 V for throttle and pressure'),
  ]
}
function pumps(c: JudgedContext): Draft[] {
  const { pump, regulator, liftPump } = c.fuel
  const clamp = latest(c.readings, 'fuel.pump-draw')
  const drawn = pump
    ? pumpOf(withUsualCurrent(pump, clamp?.value)).currentA(regulator?.setKpa ?? c.plan.fuelPressureKpa ?? PUMP_AT_KPA)
    : null
  const amps = drawn === null ? USUAL.pump : Math.round(10 * drawn) / 10
  const told = clamp !== null || (pump !== undefined && statesCurrent(pump))
  const one = (id: string, name: string, to: string, currentA: number, told: boolean): Draft[] => [
    feed({
      id,
      name,
      from: 'fuses',
      to,
      relay: true,
      relayWhy: 'a pump does not hang on a control unit’s pin',
      continuousA: currentA,
      surgeA: MOTOR_SURGE * currentA,
      states: RUNNING,
      dropLimitV: DROP_V.pump,
      why: 'constant while the engine turns',
      assumed: told ? [] : [`${name.toLowerCase()} draws ${currentA} A, usual`],
    }),
    {
      id: `${id}-ground`,
      name: `${name}, ground`,
      kind: 'ground',
      from: to,
      to: 'body-rear',
      why: 'short, to clean metal',
      continuousA: currentA,
      states: RUNNING,
      dropLimitV: DROP_V.ground,
    },
    output(`${id}-relay`, `${name}, relay`, 'fuses', RELAY_COIL_A, 'the unit switches the relay’s ground'),
  ]
  return [
    ...one('pump', 'Fuel pump', 'pump', amps, told),
    ...(liftPump?.kind === 'electric' ? one('lift-pump', 'Lift pump', 'lift-pump', USUAL.pump / 2, false) : []),
  ]
}
function injectors(c: JudgedContext): Draft[] {
  const { plan, resolved } = c
  const count = plan.injectors ?? injectorsFor(plan.route ?? 'throttle-body', resolved.cylinders)
  const ohm = wiringOf(c).injectorOhm ?? USUAL_INJECTOR_OHM
  const each = CHARGING_V / ohm
  const assumed = wiringOf(c).injectorOhm === undefined ? [`injectors of ${USUAL_INJECTOR_OHM} ohm, usual; measure one`] : []
  return [
    feed({
      id: 'injector-feed',
      name: 'Injectors, feed',
      from: 'fuses',
      to: 'injectors',
      continuousA: count * each * INJECTOR_DUTY,
      surgeA: count * each,
      relay: true,
      relayWhy: 'on only while the engine turns',
      states: RUNNING,
      why: `${count} at ${(100 * INJECTOR_DUTY).toFixed(0)} % duty`,
      dropLimitV: DROP_V.load,
      assumed,
    }),
    ...Array.from({ length: count }, (_, i) =>
      output(`injector-${i + 1}`, `Injector ${i + 1}`, 'injectors', each, 'opened by its ground side'),
    ),
  ]
}
function ignition(c: JudgedContext): Draft[] {
  if (!controlsTiming(c))
    return [signal('speed-signal', 'Speed signal', hasDistributor(c) ? 'coil' : 'crank', 'from the coil or the tachometer', { weak: true })]
  const coils = coilsOf(c)
  const count = coilCount(coils, c.resolved.cylinders ?? 4)
  const to = coils === 'single' ? 'coil' : 'coils'
  const peakA = c.spark.targetA ?? USUAL.coilPeak
  // current rises over the dwell about as a straight line: half its peak, for the share of time that it flows
  const duty = Math.min(1, (dwellOf(c)?.output.dutyPct ?? USUAL.dutyPct) / 100)
  const each = (peakA * duty) / 2
  const box = boxOf(c)
  const pickUp = sensorOf(c)
  const at = hasDistributor(c) ? 'distributor' : 'crank'
  return [
    feed({
      id: 'coil-feed',
      name: coils === 'single' ? 'Coil, feed' : 'Coils, feed',
      from: 'fuses',
      to,
      relay: true,
      relayWhy: 'off with the key, full volts while cranking',
      continuousA: count * each,
      surgeA: peakA * Math.min(2, count),
      states: RUNNING,
      dropLimitV: DROP_V.coil,
      why: 'no ballast in it',
    }),
    ...(box
      ? [
          feed({
            id: 'box-feed',
            name: 'Ignition box, feed',
            from: 'battery',
            to: 'box',
            continuousA: USUAL.box,
            surgeA: 2 * USUAL.box,
            states: RUNNING,
            dropLimitV: DROP_V.load,
            why: 'straight from the battery, by its sheet',
          }),
        ]
      : []),
    ...Array.from({ length: count }, (_, i) =>
      output(
        `coil-${i + 1}`,
        count > 1 ? `Coil ${i + 1}` : box ? 'Ignition box, trigger' : 'Coil, switched side',
        box ? 'box' : to,
        box ? USUAL.sensor : each,
        'timed by the unit',
        { lowSide: !box },
      ),
    ),
    signal('trigger', 'Trigger signal', at, pickUp === 'magnetic' ? 'a few tenths of a volt while cranking' : 'square, from the sensor', {
      weak: true,
    }),
    signal(
      'trigger-ground',
      'Trigger, other lead',
      at,
      pickUp === 'magnetic' ? 'twisted with it; its shield at the unit only' : 'its own ground, to the unit',
      { weak: true },
    ),
    ...(pickUp !== 'magnetic'
      ? [output('trigger-supply', 'Trigger, supply', at, USUAL.sensor, 'of a Hall sensor', { lowSide: false })]
      : []),
    ...(hasCamSignal(c) && !hasDistributor(c) ? [signal('cam', 'Cam signal', 'cam', 'which turn of the two', { weak: true })] : []),
  ]
}
const sensors = (): Draft[] => [
  signal('throttle-sensor', 'Throttle sensor', 'throttle', 'load and idle are read from it'),
  signal('coolant-sensor', 'Coolant sensor', 'coolant', 'cold mixture, fan'),
  signal('air-sensor', 'Air sensor', 'air', 'density'),
  signal('map-sensor', 'Pressure sensor', 'map', 'load'),
  signal('lambda-sensor', 'Exhaust sensor, signal', 'lambda', 'mixture', { weak: true }),
  feed({
    id: 'lambda-heater',
    name: 'Exhaust sensor, heater',
    from: 'fuses',
    to: 'lambda',
    continuousA: USUAL.heater,
    surgeA: HEATER_COLD * USUAL.heater,
    states: STARTED,
    dropLimitV: DROP_V.load,
    why: 'hot before it is believed; more while cold',
  }),
]
function aids(c: JudgedContext): Draft[] {
  const { plan, facts } = c
  const list: Draft[] = []
  if (facts.electrics?.fan === 'electric')
    list.push(
      feed({
        id: 'fan',
        name: 'Fan',
        from: 'fuses',
        to: 'fan',
        relay: true,
        relayWhy: 'far over what an output switches',
        continuousA: USUAL.fan,
        surgeA: 4 * USUAL.fan,
        states: STARTED,
        dropLimitV: DROP_V.fan,
        why: 'switched by coolant',
        assumed: [`fan draws ${USUAL.fan} A, usual`],
      }),
      {
        id: 'fan-ground',
        name: 'Fan, ground',
        kind: 'ground',
        from: 'fan',
        to: 'body-front',
        continuousA: USUAL.fan,
        states: STARTED,
        why: 'to the body',
        dropLimitV: DROP_V.ground,
      },
      output('fan-relay', 'Fan, relay', 'fuses', RELAY_COIL_A, 'low-side output: it switches the relay’s ground'),
    )
  list.push(
    output(
      'idle-valve',
      'Idle valve',
      plan.electronicThrottle ? 'throttle' : 'idle-valve',
      plan.electronicThrottle ? USUAL.throttleMotor : USUAL.idleValve,
      plan.electronicThrottle ? 'the plate’s motor holds the idle' : 'air past the plate',
      { lowSide: false, name: plan.electronicThrottle ? 'Throttle motor' : 'Idle valve' },
    ),
  )
  if (plan.electronicThrottle)
    for (const track of ['one', 'two'])
      list.push(
        signal(`pedal-${track}`, `Pedal, track ${track}`, 'pedal', 'each track with supply and ground of its own'),
        signal(`plate-${track}`, `Plate, track ${track}`, 'throttle', 'each track with supply and ground of its own'),
      )
  if (c.tach.source === 'unit-output')
    list.push(output('tach', 'Tachometer', 'tach', USUAL.sensor, 'from the unit’s own output', { lowSide: false }))
  if (facts.gearing?.kickDown === 'electric')
    list.push(
      feed({
        id: 'gearbox',
        name: 'Gearbox controller',
        from: 'fuses',
        to: 'gearbox',
        continuousA: USUAL.gearbox,
        states: RUNNING,
        dropLimitV: DROP_V.load,
        why: 'a controller of its own, with throttle and speed',
      }),
    )
  const { bus, inputs, outputs, gauges } = wiringOf(c)
  if (bus)
    list.push(
      { id: 'bus-high', name: 'Bus, high', kind: 'bus', from: 'unit', to: 'display', why: 'display and gauges', weak: true },
      { id: 'bus-low', name: 'Bus, low', kind: 'bus', from: 'unit', to: 'display', why: 'twisted with it', weak: true },
      feed({
        id: 'display-feed',
        name: 'Display, feed',
        from: 'fuses',
        to: 'display',
        continuousA: USUAL.display,
        states: RUNNING,
        why: 'keyed with the unit',
      }),
    )
  for (const [id, { name }] of Object.entries(gauges ?? {}))
    list.push({
      id: `gauge-${id}`,
      name: `${name}, sender`,
      kind: 'signal',
      from: 'block',
      to: 'display',
      why: 'its gauge is driven by it',
      continuousA: USUAL.sensor,
    })
  if (Object.keys(gauges ?? {}).length)
    list.push(
      feed({
        id: 'gauges-feed',
        name: 'Gauges, feed',
        from: 'fuses',
        to: 'display',
        feed: 'keyed',
        continuousA: USUAL.gauge * Object.keys(gauges ?? {}).length,
        states: RUNNING,
        why: 'keyed, so that they fall with the engine',
      }),
    )
  for (const [id, { name }] of Object.entries(inputs ?? {})) list.push(signal(`input-${id}`, name, 'switch', 'a switched input'))
  for (const [id, { name, relay }] of Object.entries(outputs ?? {}))
    list.push(
      output(`output-${id}`, name, 'fuses', RELAY_COIL_A, 'on by its condition', {
        relay: relay === true,
        relayWhy: relay ? 'asked for' : null,
      }),
    )
  return list
}

/** All that survey, plan, fuel, spark, tachometer and what more hangs on it ask for. */
export const askedCircuits = (c: JudgedContext): Draft[] => [
  ...supply(c),
  ...pumps(c),
  ...injectors(c),
  ...ignition(c),
  ...sensors(),
  ...aids(c),
]
