import { at, type Context, type Dimension, type Where } from '../kernel/index.ts'
import { fuels } from '../injection/index.ts'
import { boostKpaOf } from '../survey/index.ts'
import { controlsTiming, dwellOf, hasCamSignal, sensorOf } from '../spark/index.ts'
import { type FigureKey, parameterSpecs, type TuneFigures } from '../tune/index.ts'

/** What a question's answer is worked out from. */
interface AnswerFrom {
  c: Context
  figures: TuneFigures
  /** version of the tune the figures are of */
  version: number
}
/** An answer in metric, or as the id of an option, with where it came from and is changed; `missing` names what must be told first. */
type Worked = { value: number | string; from: string; toldAt?: Where } | { missing: string }
/** Toward which a number is rounded: the side on which an engine is safe. */
export type SafeSide = 'down' | 'up' | 'nearest'

interface Asked {
  id: string
  group: QuestionGroup
  words: string
  /** the answer for this car; null: it does not arise here */
  work: (a: AnswerFrom) => Worked | null
  /** what a wrong answer does to the car, too high and too low; of a choice, either way */
  ifHigh: string
  ifLow: string
  /** it burns, breaks or kicks when it is wrong */
  dangerous?: boolean
}
export interface NumberQuestion extends Asked {
  dimension: Dimension
  /** in the metric unit */
  step: number
  side: SafeSide
  /** why that side is the safe one */
  because: string
  /** delivered fuel goes with this power of the answer, so that the harm can be told in per cent */
  fuelPower?: number
}
interface ChoiceQuestion extends Asked {
  /** none: it is typed as the firing order is */
  options: Readonly<Record<string, string>>
}
export type Question = NumberQuestion | ChoiceQuestion
export const isNumber = (q: Question): q is NumberQuestion => 'dimension' in q

export const questionGroups = {
  engine: 'Engine',
  fuel: 'Fuel',
  spark: 'Trigger and spark',
  mixture: 'Mixture',
  idle: 'Idle',
  starting: 'Cold and starting',
  limits: 'Limits and outputs',
  loop: 'Closed loop and learning',
} as const
export type QuestionGroup = keyof typeof questionGroups

const yesNo = { yes: 'yes', no: 'no' }
const told = (value: number | string | undefined | null, from: string, missing: string, toldAt?: Where): Worked =>
  value === undefined || value === null ? { missing } : { value, from, toldAt }
const figure =
  (key: FigureKey, what = parameterSpecs[key as keyof typeof parameterSpecs]?.label.toLowerCase()) =>
  ({ figures, version }: AnswerFrom): Worked | null =>
    figures[key] === undefined
      ? null
      : {
          value: figures[key],
          from: `tune ${version}, ${what}`,
          ...(key in parameterSpecs ? { toldAt: at('tune', 'parameters', key) } : {}),
        }
const whenTimed =
  (work: (a: AnswerFrom) => Worked | null) =>
  (a: AnswerFrom): Worked | null =>
    controlsTiming(a.c) ? work(a) : null

/** Flow of one injector; where the unit makes its base itself, as a log has shown that it must be told. */
function flowTold(a: AnswerFrom): Worked | null {
  const { injectorCcMin, toldFlowPct = 100 } = a.figures
  const mended = a.c.build.choices.unit?.setBy === 'questions' && toldFlowPct !== 100
  if (!mended || injectorCcMin === undefined) return figure('injectorCcMin', 'flow at the fuel pressure told below')(a)
  return {
    value: (injectorCcMin * toldFlowPct) / 100,
    from: `tune ${a.version}, ${toldFlowPct} % of the injectors’ own: with it the unit’s own base delivers what the log of a drive asked for`,
    toldAt: at('tune', 'parameters', 'toldFlowPct'),
  }
}

const RICH = 'told low the unit opens longer: richer, which an engine bears'
const LATE = 'a late spark costs power, an early one pistons'
const fuelHigh = 'lean at every point'
const fuelLow = 'rich at every point'
const early = 'the spark comes early: knock, and a kick at the starter'
const late = 'the spark comes late: heat in the exhaust, little power'
const edges = { rising: 'rising', falling: 'falling' }
const sparkSide = { side: 'down', because: LATE, ifHigh: early, ifLow: late } as const
const richSide = { side: 'down', because: 'richer is the safe side of a mixture' } as const

/** The questions that units ask, in the order in which a person goes through them: the general list of handbook 10. */
export const questions: readonly Question[] = [
  {
    id: 'cylinders',
    group: 'engine',
    words: 'Cylinders',
    dimension: 'count',
    step: 1,
    side: 'nearest',
    because: 'it is a count',
    work: ({ c }) => told(c.resolved.cylinders, 'survey', 'number of cylinders', at('survey', undefined, 'facts.engine.cylinders')),
    ifHigh: 'speed reads low, fuel and spark are shared over cylinders that are not there',
    ifLow: 'speed reads high, fuel and spark come too seldom',
    dangerous: true,
  },
  {
    id: 'displacement',
    group: 'engine',
    words: 'Displacement',
    dimension: 'displacement',
    step: 10,
    side: 'up',
    because: 'told large the unit meters for more air: richer, which an engine bears',
    fuelPower: 1,
    work: ({ c }) => told(c.resolved.displacementCc, 'survey', 'displacement', at('survey', undefined, 'facts.engine.displacementCc')),
    ifHigh: fuelLow,
    ifLow: fuelHigh,
    dangerous: true,
  },
  {
    id: 'firing-order',
    group: 'engine',
    words: 'Firing order',
    options: {},
    work: ({ c }) =>
      c.plan.phased || hasCamSignal(c)
        ? told(c.facts.engine?.firingOrder?.join('-'), 'survey', 'firing order', at('survey', undefined, 'facts.engine.firingOrder'))
        : null,
    ifHigh: 'sparks go to cylinders that are not at the top: it backfires',
    ifLow: '',
    dangerous: true,
  },
  {
    id: 'cam',
    group: 'engine',
    words: 'Cam',
    options: { stock: 'stock', mild: 'mild', hot: 'hot', wild: 'wild' },
    work: ({ c }) => ({ value: c.resolved.camClass, from: 'survey', toldAt: at('survey', undefined, 'facts.cam.class') }),
    ifHigh: 'its idle mixture, spark and closed loop are for another engine',
    ifLow: '',
  },
  {
    id: 'load',
    group: 'engine',
    words: 'Load from',
    options: { map: 'manifold pressure', throttle: 'throttle position', blend: 'throttle, blended with manifold pressure' },
    work: ({ c, version }) => ({
      value: c.plan.route === 'individual-runner' ? 'blend' : 'map',
      from: c.plan.route ? 'plan' : `tune ${version}`,
    }),
    ifHigh: 'fuel follows a signal that says little about the air',
    ifLow: '',
  },
  {
    id: 'route',
    group: 'fuel',
    words: 'Injectors sit',
    options: { 'throttle-body': 'at the throttle body', 'multi-port': 'at the ports', 'individual-runner': 'in each runner' },
    work: ({ c }) => told(c.plan.route, 'plan', 'route of the injection', at('plan', 'route', 'choices.plan.route')),
    ifHigh: 'wall film and manifold pressure at the injector are taken wrong: it stumbles',
    ifLow: '',
  },
  {
    id: 'fuel',
    group: 'fuel',
    words: 'Fuel',
    options: Object.fromEntries(Object.entries(fuels).map(([id, f]) => [id, f.label])),
    work: ({ c }) => ({ value: c.resolved.fuelKind, from: 'survey', toldAt: at('survey', undefined, 'facts.fuel.kind') }),
    ifHigh: 'fuel is metered for another one: as much as half too much or too little',
    ifLow: '',
    dangerous: true,
  },
  {
    id: 'injectors',
    group: 'fuel',
    words: 'Injectors',
    dimension: 'count',
    step: 1,
    side: 'nearest',
    because: 'it is a count',
    fuelPower: -1,
    work: figure('injectors'),
    ifHigh: fuelHigh,
    ifLow: fuelLow,
    dangerous: true,
  },
  {
    id: 'injector-flow',
    group: 'fuel',
    words: 'Flow of one injector',
    dimension: 'injectorFlow',
    step: 1,
    side: 'down',
    because: RICH,
    fuelPower: -1,
    work: flowTold,
    ifHigh: fuelHigh,
    ifLow: fuelLow,
    dangerous: true,
  },
  {
    id: 'fuel-pressure',
    group: 'fuel',
    words: 'Fuel pressure of that flow',
    dimension: 'pressure',
    step: 1,
    side: 'down',
    because: RICH,
    fuelPower: -0.5,
    work: figure('fuelPressureKpa'),
    ifHigh: fuelHigh,
    ifLow: fuelLow,
    dangerous: true,
  },
  {
    id: 'regulator-port',
    group: 'fuel',
    words: 'Regulator referenced to',
    options: { open: 'open air', manifold: 'the manifold' },
    work: ({ c }) =>
      told(c.fuel.regulator?.reference, 'fuel', 'port of the regulator', at('fuel', 'circuit', 'choices.fuel.regulator.reference')),
    ifHigh: 'fuel is wrong with manifold pressure: lean or rich at idle, right at full load, or the other way',
    ifLow: '',
  },
  {
    id: 'dead-time',
    group: 'fuel',
    words: 'Dead time at 14 V',
    dimension: 'timeMs',
    step: 0.01,
    side: 'up',
    because: 'told long it opens longer: richer at short pulses',
    work: figure('deadTime14Ms', 'dead time'),
    ifHigh: 'rich at idle and light load',
    ifLow: 'lean at idle and light load',
  },
  {
    id: 'prime-time',
    group: 'fuel',
    words: 'Pump primes for',
    dimension: 'timeS',
    step: 0.5,
    side: 'up',
    because: 'a longer prime costs nothing, a short one leaves the rail empty',
    work: figure('primeS'),
    ifHigh: 'the pump runs longer at key-on',
    ifLow: 'it starts late, on an empty rail',
  },
  {
    id: 'timing-control',
    group: 'spark',
    words: 'Unit controls the timing',
    options: yesNo,
    work: ({ c }) => ({ value: controlsTiming(c) ? 'yes' : 'no', from: 'plan and spark' }),
    ifHigh: 'two hands on one spark: the angle is nobody’s',
    ifLow: '',
    dangerous: true,
  },
  {
    id: 'trigger',
    group: 'spark',
    words: 'Trigger',
    options: {
      'speed-signal': 'coil or tach signal',
      'locked-magnetic': 'magnetic distributor, locked',
      hall: 'Hall or optical distributor',
      'crank-cam': 'crank pulses, one a firing',
      'own-curve': 'speed signal of a distributor with its own curve',
      'toothed-wheel': 'toothed wheel',
    },
    work: ({ c }) => told(c.spark.trigger, 'spark', 'how the unit sees the crank', at('spark', 'trigger', 'choices.spark.trigger')),
    ifHigh: 'no speed, or a wrong one',
    ifLow: '',
    dangerous: true,
  },
  {
    id: 'edge',
    group: 'spark',
    words: 'Edge of the signal',
    options: edges,
    work: whenTimed(({ c }) =>
      sensorOf(c) === 'magnetic' || sensorOf(c) === null
        ? null
        : told(c.spark.edge, 'spark', 'edge the unit is told to take', at('spark', 'trigger', 'choices.spark.edge')),
    ),
    ifHigh: 'every spark is off by the width of the target',
    ifLow: '',
    dangerous: true,
  },
  {
    id: 'reference-angle',
    group: 'spark',
    words: 'Reference angle, BTDC',
    dimension: 'angle',
    step: 0.5,
    side: 'nearest',
    because: 'no side is safe: the light proves it',
    work: whenTimed(({ c }) =>
      told(c.spark.referenceDeg, 'spark', 'reference angle', at('spark', 'trigger', 'choices.spark.referenceDeg')),
    ),
    ifHigh: late,
    ifLow: early,
    dangerous: true,
  },
  {
    id: 'delay',
    group: 'spark',
    words: 'Signal delay',
    dimension: 'timeUs',
    step: 10,
    side: 'nearest',
    because: 'no side is safe: the light over speed proves it',
    work: whenTimed(({ c }) => told(c.spark.delayUs ?? 0, 'spark', 'signal delay', at('spark', 'trigger', 'choices.spark.delayUs'))),
    ifHigh: 'the spark runs early as speed rises',
    ifLow: 'the spark falls late as speed rises',
  },
  {
    id: 'dwell',
    group: 'spark',
    words: 'Coil dwell at 14 V',
    dimension: 'timeMs',
    step: 0.1,
    side: 'down',
    because: 'a short dwell costs energy, a long one the coil',
    work: whenTimed(({ c }) => {
      const ms = dwellOf(c)?.output.dwellMs
      return ms == null ? null : { value: ms, from: 'coil, to the current wanted' }
    }),
    ifHigh: 'coil and driver cook',
    ifLow: 'weak spark, misfire under load',
    dangerous: true,
  },
  {
    id: 'advance-cranking',
    group: 'spark',
    words: 'Advance while cranking',
    dimension: 'angle',
    step: 1,
    ...sparkSide,
    work: whenTimed(figure('crankingAdvanceDeg')),
    dangerous: true,
  },
  {
    id: 'advance-idle',
    group: 'spark',
    words: 'Advance at idle',
    dimension: 'angle',
    step: 1,
    ...sparkSide,
    work: whenTimed(figure('advanceIdleDeg', 'spark table at the warm idle')),
  },
  {
    id: 'advance-cruise',
    group: 'spark',
    words: 'Advance in cruise',
    dimension: 'angle',
    step: 1,
    ...sparkSide,
    work: whenTimed(figure('advanceCruiseDeg', 'spark table in cruise')),
  },
  {
    id: 'advance-full',
    group: 'spark',
    words: 'Advance at full load',
    dimension: 'angle',
    step: 1,
    ...sparkSide,
    work: whenTimed(figure('advanceFullDeg', 'spark table at full load')),
    dangerous: true,
  },
  {
    id: 'advance-boost',
    group: 'spark',
    words: 'Advance in full boost',
    dimension: 'angle',
    step: 1,
    ...sparkSide,
    work: whenTimed(figure('advanceBoostDeg', 'spark table at the boost')),
    dangerous: true,
  },
  {
    id: 'target-idle',
    group: 'mixture',
    words: 'Target mixture at idle',
    dimension: 'lambda',
    step: 0.01,
    ...richSide,
    work: figure('lambdaIdle', 'target lambda at the warm idle'),
    ifHigh: 'lean idle: it hunts and stalls',
    ifLow: 'rich idle: it smells and fouls plugs',
  },
  {
    id: 'target-cruise',
    group: 'mixture',
    words: 'Target mixture in cruise',
    dimension: 'lambda',
    step: 0.01,
    ...richSide,
    work: figure('lambdaCruise', 'target lambda in cruise'),
    ifHigh: 'surges at light load',
    ifLow: 'uses more than it needs',
  },
  {
    id: 'target-power',
    group: 'mixture',
    words: 'Target mixture at full load',
    dimension: 'lambda',
    step: 0.01,
    ...richSide,
    work: figure('lambdaFull', 'target lambda at full load'),
    ifHigh: 'lean under load: hot pistons, knock',
    ifLow: 'some power lost',
    dangerous: true,
  },
  {
    id: 'idle-hot',
    group: 'idle',
    words: 'Idle speed, hot',
    dimension: 'rpm',
    step: 10,
    side: 'up',
    because: 'a little fast runs, a little slow stalls',
    work: figure('idleHotRpm', 'idle target, warm'),
    ifHigh: 'creeps and runs on',
    ifLow: 'stalls, little oil pressure',
  },
  {
    id: 'idle-cold',
    group: 'idle',
    words: 'Idle speed at 0 °C',
    dimension: 'rpm',
    step: 10,
    side: 'up',
    because: 'a little fast runs, a little slow stalls',
    work: figure('idleColdRpm', 'idle target, cold'),
    ifHigh: 'races when cold',
    ifLow: 'stalls when cold',
  },
  {
    id: 'idle-gear',
    group: 'idle',
    words: 'Idle speed added in gear',
    dimension: 'rpm',
    step: 10,
    side: 'nearest',
    because: 'by the box',
    work: (a) => (a.c.resolved.automatic ? figure('idleInGearRpm')(a) : null),
    ifHigh: 'pulls at the brake',
    ifLow: 'stalls as a gear goes in',
  },
  {
    id: 'throttle-zero',
    group: 'idle',
    words: 'Throttle shut and open learned, key on',
    options: yesNo,
    work: () => ({ value: 'yes', from: 'procedure: after each turn of the throttle screw' }),
    ifHigh: 'no idle control and no fuel cut: the unit thinks a foot is on the pedal',
    ifLow: '',
  },
  {
    id: 'cranking-fuel',
    group: 'starting',
    words: 'Cranking fuel at 20 °C',
    dimension: 'percent',
    step: 5,
    side: 'nearest',
    because: 'too little does not fire, too much wets the plugs',
    work: figure('cranking20Pct', 'cranking fuel, % of stoichiometric'),
    ifHigh: 'floods',
    ifLow: 'cranks long',
  },
  {
    id: 'cranking-fuel-cold',
    group: 'starting',
    words: 'Cranking fuel at −10 °C',
    dimension: 'percent',
    step: 5,
    side: 'nearest',
    because: 'too little does not fire, too much wets the plugs',
    work: figure('crankingMinus10Pct', 'cranking fuel, % of stoichiometric'),
    ifHigh: 'floods',
    ifLow: 'cranks long in frost',
  },
  {
    id: 'after-start',
    group: 'starting',
    words: 'Extra fuel after start at 20 °C',
    dimension: 'percent',
    step: 1,
    side: 'up',
    because: 'a little rich runs on',
    work: figure('afterStart20Pct', 'after start'),
    ifHigh: 'sooty after start',
    ifLow: 'fires and dies',
  },
  {
    id: 'warm-up',
    group: 'starting',
    words: 'Extra fuel in warm-up at 20 °C',
    dimension: 'percent',
    step: 1,
    side: 'up',
    because: 'a little rich runs on',
    work: figure('warmup20Pct', 'warm-up'),
    ifHigh: 'sooty while cold',
    ifLow: 'stumbles while cold',
  },
  {
    id: 'acceleration',
    group: 'starting',
    words: 'Acceleration, % for 100 %/s of throttle',
    dimension: 'percent',
    step: 1,
    side: 'up',
    because: 'a rich moment is smoke, a lean one a bang',
    work: figure('accelPctPer100'),
    ifHigh: 'bogs and smokes as the throttle opens',
    ifLow: 'stumbles or bangs as the throttle opens',
  },
  {
    id: 'rev-limit',
    group: 'limits',
    words: 'Rev limit',
    dimension: 'rpm',
    step: 50,
    side: 'down',
    because: 'a low limit costs nothing but speed',
    work: figure('revLimitRpm'),
    ifHigh: 'nothing stops it from being over-revved',
    ifLow: 'it cuts before the engine is done',
    dangerous: true,
  },
  {
    id: 'boost-limit',
    group: 'limits',
    words: 'Fuel cut over manifold pressure',
    dimension: 'pressure',
    step: 1,
    side: 'down',
    because: 'a low limit costs nothing but boost',
    work: (a) => (boostKpaOf(a.c.facts) > 0 ? figure('overboostKpa')(a) : null),
    ifHigh: 'nothing stops a stuck wastegate',
    ifLow: 'it cuts in ordinary boost',
    dangerous: true,
  },
  {
    id: 'fuel-cut',
    group: 'limits',
    words: 'Fuel cut on overrun above',
    dimension: 'rpm',
    step: 50,
    side: 'up',
    because: 'cut late it never stalls',
    work: figure('cutAboveRpm'),
    ifHigh: 'seldom cuts: pops and uses fuel',
    ifLow: 'cuts near idle: stalls when coming to rest',
  },
  {
    id: 'fuel-back',
    group: 'limits',
    words: 'Fuel back below',
    dimension: 'rpm',
    step: 50,
    side: 'up',
    because: 'back early it never stalls',
    work: figure('cutReturnRpm'),
    ifHigh: 'cuts for a short while only',
    ifLow: 'stalls when coming to rest',
  },
  {
    id: 'fan-on',
    group: 'limits',
    words: 'Fan on at',
    dimension: 'temperature',
    step: 1,
    side: 'down',
    because: 'cool early is no harm',
    work: figure('fanOnC'),
    ifHigh: 'it boils in traffic',
    ifLow: 'the fan never stops',
  },
  {
    id: 'fan-off',
    group: 'limits',
    words: 'Fan off at',
    dimension: 'temperature',
    step: 1,
    side: 'down',
    because: 'it must stay under the temperature at which it comes on',
    work: figure('fanOffC'),
    ifHigh: 'the fan chatters',
    ifLow: 'the fan never stops',
  },
  {
    id: 'tach-output',
    group: 'limits',
    words: 'Tachometer output, pulses a turn',
    dimension: 'number',
    step: 0.5,
    side: 'nearest',
    because: 'it is a count',
    work: (a) => (a.c.tach.source === undefined || a.c.tach.source === 'unit-output' ? figure('tachPulsesPerRev')(a) : null),
    ifHigh: 'the tachometer reads too much',
    ifLow: 'the tachometer reads too little: the engine turns faster than it shows',
  },
  {
    id: 'closed-loop',
    group: 'loop',
    words: 'Closed loop',
    options: { on: 'on', off: 'off' },
    work: ({ figures, version }) =>
      figures.loopAuthorityPct === undefined
        ? null
        : { value: figures.loopAuthorityPct > 0 ? 'on' : 'off', from: `tune ${version}, authority of the closed loop` },
    ifHigh: 'it corrects from a sensor that cannot be believed, or nothing corrects what is off',
    ifLow: '',
  },
  {
    id: 'loop-authority',
    group: 'loop',
    words: 'Closed loop corrects up to',
    dimension: 'percent',
    step: 1,
    side: 'down',
    because: 'a narrow loop cannot run away with a bad sensor',
    work: (a) => (a.figures.loopAuthorityPct ? figure('loopAuthorityPct')(a) : null),
    ifHigh: 'a bad sensor can lean it far',
    ifLow: 'it cannot reach what is off',
  },
  {
    id: 'loop-from',
    group: 'loop',
    words: 'Closed loop from coolant',
    dimension: 'temperature',
    step: 1,
    side: 'up',
    because: 'a cold engine burns otherwise than its sensor says',
    work: (a) => (a.figures.loopAuthorityPct ? figure('loopMinCoolantC')(a) : null),
    ifHigh: 'open loop for longer',
    ifLow: 'it leans a cold engine',
  },
  {
    id: 'learning',
    group: 'loop',
    words: 'Learning',
    options: { on: 'on', off: 'off' },
    work: ({ c }) => {
      const { learns, whyLearns } = c.build.choices.unit ?? {}
      return learns === undefined
        ? { missing: 'who learns' }
        : { value: learns === 'itself' ? 'on' : 'off', from: `the unit${whyLearns ? `: ${whyLearns}` : ''}` }
    },
    ifHigh: 'it learns while nobody watches what, or never corrects itself',
    ifLow: '',
  },
  {
    id: 'learn-limit',
    group: 'loop',
    words: 'Learns up to',
    dimension: 'percent',
    step: 1,
    side: 'down',
    because: 'what is learned wrong stays small',
    work: ({ c, figures, version }) => {
      const { learns, learnLimitPct } = c.build.choices.unit ?? {}
      if (learns !== 'itself') return null
      if (learnLimitPct !== undefined) return { value: learnLimitPct, from: 'the unit' }
      return figures.learnAuthorityPct
        ? { value: figures.learnAuthorityPct, from: `tune ${version}, what the unit learns by itself` }
        : { missing: 'how far the unit may learn' }
    },
    ifHigh: 'a bad sensor or a leak is learned far',
    ifLow: 'it stops learning before it is right',
  },
]
