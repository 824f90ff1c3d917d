import { fuels, injectorFlowAtPressure, openingsPerCycle } from '../injection/index.ts'
import { alongCurve, type ChoiceTable, degC, kPa, type Said, say, type Severity } from '../kernel/index.ts'
import { boostKpaOf, idleTargetRpm, type Facts, type ResolvedFacts } from '../survey/index.ts'
import type { TuneObjection } from './checks.ts'
import { mapTopKpa, SensorSet } from './sensors.ts'
import type { TuneParameters } from './tune.ts'

/** What a parameter is judged by. */
export interface Around {
  r: ResolvedFacts
  facts: Facts
  choices: ChoiceTable
  p: TuneParameters
}
/** The band in which a parameter of any tune for this car lies, and what it means to be outside. */
interface Usual {
  code: string
  label: Said
  unit: string
  decimals?: number
  of: (at: Around) => number
  /** null: nothing is known to judge it by */
  band: (at: Around) => readonly [number, number] | null
  severity?: Severity
  /** what happens outside */
  why: Said
  remedy: Said
}

const within = (value: number | undefined | null, share: number): readonly [number, number] | null =>
  value === undefined || value === null || value === 0 ? null : [value * (1 - share), value * (1 + share)]
const fixed = (low: number, high: number) => () => [low, high] as const
const plan = ({ choices }: Around) => choices.plan ?? {}
const topKpa = ({ r, facts }: Around): number => r.barometerKpa + boostKpaOf(facts)
const idleRpmOf = ({ r }: Around): number => idleTargetRpm(r)
const FROM_PLAN = 'Take it from the plan, or put the part fitted into the plan.'
const START_AGAIN = 'Set it back to its starting value.'

/** Parameters that say what the car is: they come from survey and plan and are the same there. */
const identity: Usual[] = [
  {
    code: 'stoich-fuel',
    label: 'Stoichiometric ratio',
    unit: 'to 1',
    decimals: 2,
    severity: 'stop',
    of: ({ p }) => p.stoichAfr,
    band: ({ r }) => within(fuels[r.fuelKind].stoichAfr, 0.03),
    why: 'It belongs to the fuel in the tank: with another fuel’s every cell is wrong by their ratio.',
    remedy: 'Set the ratio of the fuel in Survey, or correct the fuel there.',
  },
  {
    code: 'fuel-density',
    label: 'Fuel density',
    unit: 'kg/L',
    decimals: 3,
    of: ({ p }) => p.fuelDensityKgL,
    band: ({ r }) => within(fuels[r.fuelKind].densityKgL, 0.06),
    why: 'Injectors pass volume; density makes it mass.',
    remedy: 'Set the density of the fuel in Survey.',
  },
  {
    code: 'displacement-survey',
    label: 'Displacement',
    unit: 'cm³',
    severity: 'stop',
    of: ({ p }) => p.displacementCc,
    band: ({ r }) => within(r.displacementCc, 0.04),
    why: 'All air is counted from it.',
    remedy: 'Make tune and survey agree.',
  },
  {
    code: 'cylinders-survey',
    label: 'Cylinders',
    unit: '',
    severity: 'stop',
    of: ({ p }) => p.cylinders,
    band: ({ r }) => within(r.cylinders, 0),
    why: 'Firings, openings and the tachometer are counted from them.',
    remedy: 'Make tune and survey agree.',
  },
  {
    code: 'injectors-plan',
    label: 'Injectors',
    unit: '',
    severity: 'stop',
    of: ({ p }) => p.injectors,
    band: (at) => within(plan(at).injectors, 0),
    why: 'Fuel is shared over them: one more or fewer changes every pulse.',
    remedy: FROM_PLAN,
  },
  {
    code: 'injector-flow-plan',
    label: 'Flow of each injector',
    unit: 'cm³/min',
    severity: 'stop',
    of: ({ p }) => p.injectorCcMin,
    band: (at) => {
      const { injectorCcMin, injectorRatedKpa, fuelPressureKpa } = plan(at)
      if (!injectorCcMin || !injectorRatedKpa || !fuelPressureKpa) return null
      const { flowCcMin } = injectorFlowAtPressure.run({
        ratedCcMin: injectorCcMin,
        ratedKpa: injectorRatedKpa,
        actualKpa: fuelPressureKpa,
      })
      // a flow found by learning as one constant for all cells lies within this
      return within(flowCcMin, 0.25)
    },
    why: 'The injectors of the plan, at its pressure, pass something else.',
    remedy: FROM_PLAN,
  },
  {
    code: 'told-flow',
    label: 'Flow told to the unit, of the injectors’ own',
    unit: '%',
    severity: 'warn',
    of: ({ p }) => p.toldFlowPct,
    band: (at) => (at.choices.unit?.setBy === 'questions' ? [60, 160] : within(100, 0)),
    why: 'Only the base that a unit makes itself from answers may be off from the engine, and by no more than that; in tables it is off in every cell.',
    remedy: 'Set it to 100. If the engine wants more, flow, pressure, displacement and fuel are looked at first.',
  },
  {
    code: 'fuel-pressure-plan',
    label: 'Fuel pressure',
    unit: 'kPa',
    of: ({ p }) => p.fuelPressureKpa,
    band: (at) => within(plan(at).fuelPressureKpa, 0.06),
    why: 'The flow was worked out at the pressure of the plan.',
    remedy: FROM_PLAN,
  },
  {
    code: 'openings-route',
    label: 'Openings in a cycle',
    unit: '',
    severity: 'stop',
    of: ({ p }) => p.injectionsPerCycle,
    band: (at) => {
      const { route = 'throttle-body', injectors } = plan(at)
      return at.r.cylinders === null || !injectors ? null : within(openingsPerCycle(route, at.r.cylinders, injectors), 0.01)
    },
    why: 'A body’s injectors open for each firing they share, an own port’s once a cycle.',
    remedy: 'Set what the unit really does; its sheet tells.',
  },
  {
    code: 'barometer-survey',
    severity: 'stop',
    label: 'Barometer of the tune',
    unit: 'kPa',
    decimals: 1,
    of: ({ p }) => p.barometerKpa,
    band: ({ r }) => [r.barometerKpa - 8, r.barometerKpa + 8],
    why: 'Full load, its mixture and its guard are counted from it.',
    remedy: 'Set the pressure of the place: the height in Survey gives it.',
  },
]

/** Parameters that are set by experience: outside these bands no engine of the trade wants them. */
const experience: Usual[] = [
  {
    code: 'dead-time-odd',
    label: 'Injector dead time at 14 V',
    unit: 'ms',
    decimals: 2,
    of: ({ p }) => alongCurve(p.deadTimeMs, 14),
    band: fixed(0.1, 2),
    why: 'High- and low-impedance injectors take 0.4 to 1.5 ms; too much pours fuel in at idle.',
    remedy: 'Take it from the injector’s sheet, or leave the starting values.',
  },
  {
    code: 'dead-time-odd',
    label: 'Dead time at 10 V against 14 V',
    unit: 'times',
    decimals: 2,
    of: ({ p }) => alongCurve(p.deadTimeMs, 10) / Math.max(0.05, alongCurve(p.deadTimeMs, 14)),
    band: fixed(1, 4),
    why: 'Every injector opens more slowly with less voltage.',
    remedy: 'Put the points of the sheet in, voltage first.',
  },
  {
    code: 'charge-heat',
    label: 'Charge heating share',
    unit: '',
    decimals: 2,
    of: ({ p }) => p.chargeHeatShare,
    band: fixed(0.08, 0.6),
    why: 'The charge is neither the intake air nor the coolant: what is wrong here comes back with every change of weather.',
    remedy: START_AGAIN,
  },
  {
    code: 'cranking-advance',
    label: 'Cranking advance',
    unit: '° BTDC',
    severity: 'stop',
    of: ({ p }) => p.crankingAdvanceDeg,
    band: fixed(2, 15),
    why: 'Too early it kicks back and breaks starters; too late it does not catch.',
    remedy: 'Set 8° to 12°.',
  },
  {
    code: 'cranking-fuel',
    label: say`Cranking fuel at ${degC(20)}`,
    unit: '%',
    of: ({ p }) => alongCurve(p.crankingPct, 20),
    band: fixed(120, 400),
    why: 'Too little does not fire, too much floods.',
    remedy: say`About 220 % at ${degC(20)}, 130 % hot.`,
  },
  {
    code: 'cranking-fuel',
    label: 'Cranking fuel hot',
    unit: '%',
    of: ({ p }) => alongCurve(p.crankingPct, 85),
    band: fixed(85, 220),
    why: 'A hot engine floods first.',
    remedy: 'About 130 % hot.',
  },
  {
    code: 'cranking-fuel',
    label: say`Cranking fuel at ${degC(-10)}`,
    unit: '%',
    of: ({ p }) => alongCurve(p.crankingPct, -10),
    band: fixed(180, 650),
    why: 'A cold engine burns only what evaporates.',
    remedy: say`About 350 % at ${degC(-10)}.`,
  },
  {
    code: 'cranking-decay',
    label: 'Cranking fuel decays over',
    unit: 'firings',
    of: ({ p }) => p.crankingDecayFirings,
    band: fixed(30, 800),
    why: 'Too fast starves the start, too slow floods a long one.',
    remedy: 'About 200 firings.',
  },
  {
    code: 'prime-pulse',
    label: 'Prime pulse',
    unit: 'ms',
    decimals: 1,
    of: ({ p }) => p.primeMs,
    band: fixed(0, 25),
    why: 'Each key-on lays it on the plugs.',
    remedy: START_AGAIN,
  },
  {
    code: 'prime-time',
    label: 'Pump primes for',
    unit: 's',
    decimals: 1,
    of: ({ p }) => p.primeS,
    band: fixed(1, 6),
    why: 'Too short leaves no pressure; a pump must not run on with the engine still.',
    remedy: 'Two to three seconds.',
  },
  {
    code: 'flood-clear',
    label: 'Flood clear above',
    unit: '% throttle',
    of: ({ p }) => p.floodClearPct,
    band: fixed(70, 97),
    why: 'Under it every start with some throttle is without fuel; over it nothing clears a flooded engine.',
    remedy: 'About 90 %.',
  },
  {
    code: 'after-start',
    label: say`After-start fuel at ${degC(20)}`,
    unit: '% more',
    of: ({ p }) => alongCurve(p.afterStartPct, 20),
    band: fixed(5, 70),
    why: 'Walls are dry just after the start: without it the engine dies, with too much it fouls plugs.',
    remedy: say`About 26 % at ${degC(20)}.`,
  },
  {
    code: 'after-start',
    label: 'After-start fuel hot',
    unit: '% more',
    of: ({ p }) => alongCurve(p.afterStartPct, 85),
    band: fixed(0, 40),
    why: 'A hot engine needs little of it.',
    remedy: 'About 12 % hot.',
  },
  {
    code: 'after-start',
    label: 'After-start fuel lasts',
    unit: 's',
    of: ({ p }) => p.afterStartS,
    band: fixed(5, 70),
    why: 'Walls are wet after some twenty seconds.',
    remedy: 'About 20 s.',
  },
  {
    code: 'warm-up',
    label: 'Warm-up fuel of a warm engine',
    unit: '% more',
    of: ({ p }) => alongCurve(p.warmupPct, 85),
    band: fixed(0, 4),
    why: 'What stays on when warm is error in every cell.',
    remedy: 'End it at 0 % where the closed loop begins.',
  },
  {
    code: 'warm-up',
    label: say`Warm-up fuel at ${degC(20)}`,
    unit: '% more',
    of: ({ p }) => alongCurve(p.warmupPct, 20),
    band: fixed(6, 60),
    why: 'A part of the fuel stays on cold walls.',
    remedy: say`About 25 % at ${degC(20)}.`,
  },
  {
    code: 'acceleration',
    label: 'Acceleration fuel for 100 %/s',
    unit: '%',
    of: ({ p }) => p.accelPctPer100,
    band: fixed(4, 90),
    why: 'Too little stumbles lean, too much stumbles rich.',
    remedy: 'About 20 %, then a log of the foot.',
  },
  {
    code: 'acceleration',
    label: 'Acceleration fuel decays in',
    unit: 's',
    decimals: 2,
    of: ({ p }) => p.accelDecayS,
    band: fixed(0.08, 1.2),
    why: 'It fills the walls, which takes some tenths of a second.',
    remedy: 'About 0.3 s.',
  },
  {
    code: 'acceleration',
    label: 'Acceleration fuel cold',
    unit: 'times',
    decimals: 1,
    of: ({ p }) => p.accelColdFactor,
    band: fixed(1, 4),
    why: 'Cold walls take about twice as much.',
    remedy: 'About 2.',
  },
  {
    code: 'acceleration',
    label: 'Acceleration fuel by manifold pressure',
    unit: '%',
    of: ({ p }) => p.accelMapPctPer100,
    band: fixed(0, 60),
    why: 'It comes on top of what the throttle gives.',
    remedy: 'About 4 %.',
  },
  {
    code: 'cut-order',
    label: 'Fuel cut begins over its return by',
    unit: 'rpm',
    severity: 'stop',
    of: ({ p }) => p.cutAboveRpm - p.cutReturnRpm,
    band: fixed(100, 3000),
    why: 'A cut that ends above where it begins switches fuel on and off at every step.',
    remedy: 'Begin at about twice the idle, return at 1.6 times.',
  },
  {
    code: 'cut-low',
    label: 'Fuel comes back over the idle by',
    unit: 'rpm',
    of: (at) => at.p.cutReturnRpm - alongCurve(at.p.idleTargetRpm, 85),
    band: fixed(150, 4000),
    why: 'Fuel that comes back near the idle comes too late: it stalls on lifting off.',
    remedy: 'About 1.6 times the idle.',
  },
  {
    code: 'idle-target',
    label: 'Warm idle target',
    unit: 'rpm',
    of: ({ p }) => alongCurve(p.idleTargetRpm, 85),
    band: (at) => [idleRpmOf(at) - 200, idleRpmOf(at) + 350],
    why: 'No cam of this class idles there.',
    remedy: 'Start from the cam’s usual idle.',
  },
  {
    code: 'idle-target',
    label: 'Cold idle over the warm one',
    unit: 'rpm',
    of: ({ p }) => alongCurve(p.idleTargetRpm, -10) - alongCurve(p.idleTargetRpm, 85),
    band: fixed(-20, 800),
    why: 'A cold engine needs more speed, not less, and not a third gear’s.',
    remedy: say`About 400 rpm more at ${degC(-10)}.`,
  },
  {
    code: 'idle-target',
    label: 'Idle in gear, added',
    unit: 'rpm',
    of: ({ p }) => p.idleInGearRpm,
    band: fixed(-150, 100),
    why: 'An automatic creeps with more and stalls with less.',
    remedy: 'About 50 rpm less.',
  },
  {
    code: 'idle-valve',
    label: 'Idle valve starts at, warm',
    unit: '%',
    of: ({ p }) => alongCurve(p.idleValvePct, 85),
    band: fixed(3, 55),
    why: 'It must be able to give and to take.',
    remedy: 'About 18 % warm; the screw sets the rest.',
  },
  {
    code: 'idle-valve',
    label: 'Idle valve starts at, cold',
    unit: '%',
    of: ({ p }) => alongCurve(p.idleValvePct, -10),
    band: fixed(15, 90),
    why: 'A cold engine drags, and wants more air.',
    remedy: say`About 45 % at ${degC(-10)}.`,
  },
  {
    code: 'idle-controller',
    label: 'Idle valve against 100 rpm of error',
    unit: '%',
    of: ({ p }) => p.idleGainPct,
    band: fixed(0.2, 12),
    why: 'Too little lets it sag under a load; too much hunts on any engine.',
    remedy: 'Begin with 1.2 %; Idle works out more from the engine itself.',
  },
  {
    code: 'idle-controller',
    label: 'Idle valve, what is left each second',
    unit: '%/s',
    of: ({ p }) => p.idleIntegralPctS,
    band: fixed(0.1, 12),
    why: 'Without it the speed never comes to its target; too much of it hunts slowly.',
    remedy: 'Begin with 2.4 %/s; Idle works out more from the engine itself.',
  },
  {
    code: 'idle-controller',
    label: 'Idle spark against 100 rpm of error',
    unit: '°',
    of: ({ p }) => p.idleSparkDegPer100,
    band: fixed(0, 8),
    why: 'Spark holds the speed faster than any valve, but so much of it shakes the engine.',
    remedy: 'About 3°.',
  },
  {
    code: 'idle-controller',
    label: 'Idle valve moved from its start by at most',
    unit: '%',
    of: ({ p }) => p.idleAdaptMostPct,
    band: fixed(6, 60),
    why: 'With less reach a cold morning or a load stalls it.',
    remedy: '20 % or more.',
  },
  {
    code: 'loop-speed',
    label: 'Closed loop moves each second for 1 %',
    unit: '%',
    of: ({ p }) => p.loopGainPctS,
    band: fixed(0.1, 1.6),
    why: 'The exhaust comes late to its sensor: a faster loop swings the idle.',
    remedy: 'About 0.6 %.',
  },
  {
    code: 'loop-cold',
    label: 'Closed loop from coolant',
    unit: '°C',
    of: ({ p }) => p.loopMinCoolantC,
    band: fixed(45, 90),
    why: 'Warm-up fuel is taken out again by a loop that begins in it; too hot and it never begins.',
    remedy: 'Begin where warm-up fuel ends.',
  },
  {
    code: 'loop-delay',
    label: 'Closed loop after the start',
    unit: 's',
    of: ({ p }) => p.loopDelayS,
    band: fixed(8, 180),
    why: 'The sensor is not hot before, and after-start fuel is still going.',
    remedy: 'About 30 s.',
  },
  {
    code: 'loop-authority',
    label: 'Closed loop authority',
    unit: '%',
    of: ({ p }) => p.loopAuthorityPct,
    band: fixed(0, 35),
    why: 'So much lets a bad sensor run the engine.',
    remedy: '25 % for the first drives, about 12 % later.',
  },
  {
    code: 'loop-full-load',
    label: 'Closed loop below',
    unit: 'kPa',
    severity: 'stop',
    of: ({ p }) => p.loopMaxMapKpa,
    band: (at) => [0.4 * at.r.barometerKpa, 0.93 * at.r.barometerKpa],
    why: 'Full load is not left to a loop: a sensor that lies would lean it out.',
    remedy: say`End it at ${kPa(85)} or less.`,
  },
  {
    code: 'loop-floor-high',
    label: 'Closed loop from speed',
    unit: 'rpm',
    of: ({ p }) => p.loopFloorRpm,
    band: fixed(0, 2800),
    why: 'Then it never works where the car is driven.',
    remedy: 'None for a quiet cam, 2,200 rpm for a wild one.',
  },
  {
    code: 'learn-authority',
    label: 'The unit learns by itself up to',
    unit: '%',
    of: ({ p }) => p.learnAuthorityPct,
    band: fixed(0, 20),
    why: 'So much hides a fault for good.',
    remedy: '10 % or less.',
  },
  {
    code: 'rev-limit-low',
    label: 'Rev limit',
    unit: 'rpm',
    of: ({ p }) => p.revLimitRpm,
    band: ({ r }) => [Math.min(2500, 0.6 * r.redlineRpm), 20_000],
    why: 'The engine meets it in traffic.',
    remedy: 'The redline, or 3,000 rpm until timing is proved.',
  },
  {
    code: 'rev-soft',
    label: 'Spark drawn back under the limit from',
    unit: 'rpm',
    of: ({ p }) => p.revSoftBelowRpm,
    band: fixed(20, 600),
    why: 'It takes power long before the limit.',
    remedy: 'About 200 rpm.',
  },
  {
    code: 'fan-hot',
    label: 'Fan on',
    unit: '°C',
    severity: 'stop',
    of: ({ p }) => p.fanOnC,
    band: fixed(82, 106),
    why: 'Later the engine boils before it; earlier it never rests.',
    remedy: say`Thermostat opening and ${{ value: 8, dimension: 'temperatureStep' }} to ${{ value: 12, dimension: 'temperatureStep' }}.`,
  },
  {
    code: 'fan-span',
    label: 'Fan goes off under on by',
    unit: 'K',
    of: ({ p }) => p.fanOnC - p.fanOffC,
    band: ({ p }) => (p.fanOffC >= p.fanOnC ? null : [1.5, 14]),
    why: 'Too near it chatters; too far it runs for ever.',
    remedy: say`${{ value: 4, dimension: 'temperatureStep' }} to ${{ value: 5, dimension: 'temperatureStep' }} below on.`,
  },
  {
    code: 'overboost',
    label: 'Fuel cut over manifold pressure',
    unit: 'kPa',
    severity: 'stop',
    of: ({ p }) => p.overboostKpa,
    band: (at) => [topKpa(at) + 5, boostKpaOf(at.facts) > 0 ? topKpa(at) + 60 : 600],
    why: 'It must stand over the highest boost, and near enough to save the engine from a wastegate that stays shut.',
    remedy: say`${kPa(20)} over the highest boost.`,
  },
  {
    code: 'air-retard',
    label: 'Hot air draws spark back from',
    unit: '°C',
    of: ({ p }) => p.airRetardFromC,
    band: fixed(25, 70),
    why: 'It guards against knock under a hot bonnet, not on a summer’s day.',
    remedy: say`From ${degC(40)}.`,
  },
  {
    code: 'air-retard',
    label: 'Hot air draws spark back by',
    unit: '° for each °C',
    decimals: 2,
    of: ({ p }) => p.airRetardDegPerK,
    band: fixed(0.05, 0.8),
    why: 'None leaves the engine without a guard; more takes all spark away.',
    remedy: 'About 0.2.',
  },
  {
    code: 'map-scale',
    label: 'Highest pressure the sensor can tell',
    unit: 'kPa',
    of: ({ p }) => mapTopKpa(p),
    band: (at) => [0, 1.9 * topKpa(at)],
    why: 'A sensor of such a range is rarely fitted here; with the wrong scale all load is wrong.',
    remedy: 'With key on and engine still it must tell the barometer: look before anything else.',
  },
  {
    code: 'map-scale',
    label: 'Manifold pressure at 0 V',
    unit: 'kPa',
    of: ({ p }) => p.mapAtZeroVKpa,
    band: fixed(-40, 40),
    why: 'Sensors begin near no pressure at all.',
    remedy: 'Take both ends of the scale from the sensor’s sheet.',
  },
  {
    code: 'temperature-sensor',
    label: say`Coolant sensor at ${degC(20)}`,
    unit: 'ohm',
    of: ({ p }) => resistanceAt(p, 'coolantSensorOhm'),
    band: fixed(700, 12_000),
    why: 'No usual sensor has that; a cold engine would be taken for a hot one or the other way round.',
    remedy: 'Measure it at two temperatures, or take the sheet.',
  },
  {
    code: 'temperature-sensor',
    label: say`Intake air sensor at ${degC(20)}`,
    unit: 'ohm',
    of: ({ p }) => resistanceAt(p, 'airSensorOhm'),
    band: fixed(700, 12_000),
    why: 'No usual sensor has that, and all air is counted with its temperature.',
    remedy: 'Measure it at two temperatures, or take the sheet.',
  },
  {
    code: 'throttle-voltages',
    label: 'Throttle shut',
    unit: 'V',
    decimals: 2,
    of: ({ p }) => Math.min(p.throttleShutV, p.throttleOpenV),
    band: fixed(0.15, 1.6),
    why: 'A sensor near its rail is taken for a broken wire.',
    remedy: 'Measure both ends at the sensor’s wire.',
  },
  {
    code: 'throttle-voltages',
    label: 'Throttle open',
    unit: 'V',
    decimals: 2,
    of: ({ p }) => Math.max(p.throttleShutV, p.throttleOpenV),
    band: fixed(2.4, 4.9),
    why: 'A sensor near its rail is taken for a broken wire.',
    remedy: 'Measure both ends at the sensor’s wire.',
  },
  {
    code: 'mixture-scale',
    label: 'Mixture meter at half of its range',
    unit: 'lambda',
    decimals: 2,
    of: ({ p }) => p.lambdaAtZeroV + 2.5 * p.lambdaPerV,
    band: fixed(0.85, 2),
    why: 'The loop would steer by a number that is not there.',
    remedy: 'Take both ends of the scale from the meter’s sheet.',
  },
  {
    code: 'mixture-scale',
    label: 'Mixture meter at 0 V',
    unit: 'lambda',
    decimals: 2,
    of: ({ p }) => p.lambdaAtZeroV,
    band: fixed(0.35, 0.85),
    why: 'Meters begin at a rich mixture.',
    remedy: 'Take both ends of the scale from the meter’s sheet.',
  },
  {
    code: 'tach-pulses',
    label: 'Tachometer output',
    unit: 'pulses a turn',
    decimals: 1,
    of: ({ p }) => p.tachPulsesPerRev,
    band: ({ r }) => (r.cylinders === null ? null : [Math.min(1, r.cylinders / 4), r.cylinders]),
    why: 'No tachometer counts that on this engine.',
    remedy: 'One pulse a firing unless the tachometer wants otherwise.',
  },
]

const COLD_C = 20
/** Resistance at 20 degC by the sensor's own curve, ohm. */
function resistanceAt(p: TuneParameters, key: 'coolantSensorOhm' | 'airSensorOhm'): number {
  const sensors = new SensorSet(p)
  return key === 'coolantSensorOhm' ? sensors.coolantOhm(COLD_C) : sensors.airOhm(COLD_C)
}

/** A value with its unit, in the reader's units where there is a choice of them. */
function shown(value: number, unit: string, decimals: number): Said {
  if (unit === 'kPa') return say`${kPa(value)}`
  if (unit === '°C') return say`${degC(value)}`
  const figure = Number.isFinite(value) ? String(Number(value.toFixed(decimals))) : '?'
  return unit === '' ? figure : `${figure}${unit.startsWith('°') ? '' : ' '}${unit}`
}

/** @returns what lies outside its band: first what the car is, then what experience says; each code once */
export function unusual(at: Around): TuneObjection[] {
  const seen = new Set<string>()
  return [...identity, ...experience].flatMap(({ code, label, unit, decimals = 0, of, band, severity = 'warn', why, remedy }) => {
    if (seen.has(code)) return []
    const bounds = band(at)
    const value = of(at)
    if (!bounds || (value >= bounds[0] - 1e-9 && value <= bounds[1] + 1e-9)) return []
    seen.add(code)
    const [low, high] = bounds
    const told =
      low === high
        ? say`${shown(low, unit, decimals)} is what it must be`
        : say`${shown(low, unit, decimals)} to ${shown(high, unit, decimals)} is what it can be here`
    return [
      {
        code,
        severity,
        message: say`${label} is ${value < low ? 'too low' : 'too high'}`,
        because: say`${shown(value, unit, decimals)}; ${told}. ${why}`,
        remedy,
      },
    ]
  })
}
