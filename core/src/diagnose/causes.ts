import { z } from 'zod'

/** Everything a log can be wrong by, before anything is learned from it. */
const causeIds = [
  'sound',
  'sensor-stuck',
  'sensor-slow',
  'sensor-drift',
  'sensor-offset',
  'sensor-cold',
  'exhaust-leak',
  'false-air',
  'misfire',
  'injector-flow',
  'fuel-pressure',
  'dead-time',
  'air-temperature',
  'coolant-temperature',
  'map-hose',
  'fuel-blend',
  'trim-pegged',
  'heat-soak',
  'charge-model',
  'purge',
  'learned-apart',
  'no-trim-column',
  'other-tune',
  'other-car',
] as const
export const Cause = z.enum(causeIds)
export type Cause = z.infer<typeof Cause>

interface CauseSpec {
  /** what is the matter, in a few words */
  is: string
  /** the test that settles it; its reading goes on record */
  test: string
  /** a constant or a curve, which is mended as such: the log is sound with it taken out */
  mends?: true
  /** how usual it is beside the others: natural log of its share */
  prior: number
}

/** What each cause is and what settles it (handbook 07, 09 and 10). */
export const causes: Readonly<Record<Cause, CauseSpec>> = {
  sound: { is: 'nothing but the table', test: 'None wanted: accept the correction and drive it again.', prior: 0 },
  'sensor-stuck': {
    is: 'the mixture sensor stands still',
    test: 'Hold the sensor in free air, then watch a fuel cut: it must leave the scale within a second. Else renew it, or its wire.',
    prior: -1,
  },
  'sensor-slow': {
    is: 'the mixture sensor is slow',
    test: 'Time its fall at the end of a fuel cut: over 0.3 s beyond the pipe is a tired tip. Hold a second meter beside it.',
    prior: -1,
  },
  'sensor-drift': {
    is: 'the mixture sensor drifts, or the pressure does',
    test: 'Read the fuel pressure now and after half an hour; hold a second mixture meter beside the sensor both times.',
    prior: -1,
  },
  'sensor-offset': {
    is: 'the mixture sensor reads beside the truth',
    test: 'Hold a second mixture meter at the tail pipe, or the sensor in free air.',
    mends: true,
    prior: -1.5,
  },
  'sensor-cold': {
    is: 'the mixture sensor is not hot: its heater does not work',
    test: 'Measure the heater: its current with the key on, then its resistance. Let it learn nothing until it glows.',
    prior: -1.5,
  },
  'exhaust-leak': {
    is: 'outside air gets into the exhaust before the sensor',
    test: 'Smoke the exhaust cold and listen for ticks; correction frozen, 8 % more fuel, valve held: an engine that slows was not lean.',
    prior: -0.5,
  },
  'false-air': {
    is: 'air gets in behind a port that manifold pressure does not tell of',
    test: 'Smoke the inlet at the flanges; read the plugs: one cylinder is pale. Clamp hoses one at a time.',
    prior: -1,
  },
  misfire: {
    is: 'a cylinder does not burn, or not each time: its oxygen reads as lean',
    test: 'Feel or read each exhaust port; take one lead or injector off at a time: the one that changes nothing does not work.',
    prior: -0.5,
  },
  'injector-flow': {
    is: 'all places want the same per cent: injector flow, pressure, fuel or the sensor',
    test: 'Read the fuel pressure at idle with the gauge, then hold a second mixture meter in the tail pipe; what is left is flow.',
    mends: true,
    prior: 0,
  },
  'fuel-pressure': {
    is: 'the fuel pressure is not what the tune counts on',
    test: 'Gauge on the rail, at idle and held at full flow: within 4 % of what is set both times. Then both sides of the filter.',
    prior: -0.5,
  },
  'dead-time': {
    is: 'the error grows as the pulse gets shorter: injector dead time',
    test: 'At a steady idle give the other injectors half the pulse twice as often, or compare the sheet of the injectors at 12 and 14 V.',
    mends: true,
    prior: -1,
  },
  'air-temperature': {
    is: 'the error goes with intake air temperature: its sensor or curve',
    test: 'Cold, key on: air and coolant sensor agree with a thermometer within 3 K. Then the sensor in warm water.',
    mends: true,
    prior: -1,
  },
  'coolant-temperature': {
    is: 'the coolant sensor does not tell the truth',
    test: 'Cold, key on: within 3 K of a thermometer and of the air. Hot: infrared on the thermostat housing.',
    prior: -1,
  },
  'map-hose': {
    is: 'manifold pressure does not reach its sensor as it is: hose pinched, leaking, or on the wrong port',
    test: 'Hand pump on the sensor, 50 kPa, 30 s: it must hold within 2 kPa. Then its own port behind the plates, and a straight hose.',
    prior: -1,
  },
  'fuel-blend': {
    is: 'another blend of fuel from one moment on',
    test: 'Shake 100 ml with 10 ml of water in a glass: what the water takes on is alcohol.',
    prior: -1.5,
  },
  'trim-pegged': {
    is: 'the closed loop stands at its limit: it wants more than it is allowed',
    test: 'Find what it makes up for: pressure, flow, a cylinder, a leak. Only then widen its authority.',
    prior: -1,
  },
  'heat-soak': {
    is: 'the air sensor stands in the heat after a stop: its error fades as the car drives on',
    test: 'Log a start after 20 minutes of standing hot: the sensor must be within 15 K of the air a minute after driving off. Else move it.',
    prior: -1.5,
  },
  'charge-model': {
    is: 'the error goes with how warm the engine makes its charge',
    test: 'Hold one place cold-warm (75 °C) and hot-soaked: what changes there belongs to the share of coolant heat, not to the table.',
    mends: true,
    prior: -1,
  },
  purge: {
    is: 'the same places want another mixture now and then: vapour from the canister, breather or booster',
    test: 'Clamp the purge line, the breather and the booster one at a time on the same road: the one that ends it is it.',
    prior: -1,
  },
  'learned-apart': {
    is: 'the unit holds learned values that neither the tune nor this log tells of',
    test: 'Bring the unit’s learned table, or log its learned column; or clear what was learned and drive again.',
    prior: -1,
  },
  'no-trim-column': {
    is: 'the closed loop was at work, and its correction is not in the log',
    test: 'Log the correction too; or drive with the loop open, and say so at the import.',
    prior: 0,
  },
  'other-tune': {
    is: 'the log was driven on another tune than the one it is held against',
    test: 'Say which version it was driven on, or read the unit back and compare.',
    prior: -1,
  },
  'other-car': {
    is: 'the log shows what this car cannot do',
    test: 'Look at the file’s name and date; say that it is this car’s, or bring the right one.',
    prior: -2,
  },
}

/** Causes that a log alone cannot part, each with what it looks like: the test of the first parts them. */
export const constantGroup: readonly Cause[] = ['injector-flow', 'fuel-pressure', 'fuel-blend', 'sensor-offset']
export const airGroup: readonly Cause[] = ['air-temperature', 'charge-model']
