import { at, type Context, finding, latest, mm, type Rule, say } from '../kernel/index.ts'
import { firesCapacitive } from '../plan/index.ts'
import { camSyncPosition } from './cam-sync-position.ts'
import type { SensorKind, SparkChoices } from './choices.ts'
import { firingIntervalDeg } from './firing-interval.ts'
import { withinCycle } from './geometry.ts'
import { WORN_SLACK_DEG } from './limits.ts'
import { coilsOf, controlsTiming, hasCamSignal, hasDistributor, sensorOf, wayOf } from './ways.ts'

/** Usual air gap by kind of sensor, mm; the sensor's own sheet goes before it (handbook 03). */
export const airGapMm = (sensor: SensorKind, inDistributor: boolean): [number, number] =>
  sensor === 'magnetic' ? (inDistributor ? [0.2, 0.5] : [0.5, 1.2]) : [0.8, 1.5]

/** Which drive gear a cam bears: the wrong pair wears through in hours (handbook 03). */
const gearFits: Record<
  NonNullable<NonNullable<Context['facts']['cam']>['material']>,
  { fits: NonNullable<SparkChoices['gear']>[]; want: string }
> = {
  'cast-iron': { fits: ['cast-iron', 'composite', 'bronze'], want: 'a cast-iron gear' },
  'roller-steel': { fits: ['melonised-steel', 'composite', 'bronze'], want: 'a melonised or steel gear' },
  billet: { fits: ['bronze', 'composite'], want: 'a bronze gear, or what the cam’s maker says' },
}

/** The gear that must be bought because the one chosen does not suit the cam; null while it suits, or nothing is known. */
export function gearWanted(c: Context): string | null {
  const { material } = c.facts.cam ?? {}
  if (!hasDistributor(c) || !c.spark.gear || !material) return null
  const { fits, want } = gearFits[material]
  return fits.includes(c.spark.gear) ? null : want
}

/**
 * Reference angle of a toothed wheel, crank degrees BTDC.
 * @param toothAtTdc tooth under the sensor at number one's top centre, counted from the reference tooth in the order they pass
 * @param remainderDeg what the wheel must still turn from that tooth's edge to top centre
 * @source geometry: teeth stand 360/n apart, missing ones counted
 */
export const wheelReferenceDeg = (teeth: number, toothAtTdc: number, referenceTooth: number, remainderDeg: number): number =>
  ((toothAtTdc - referenceTooth) * 360) / teeth + remainderDeg

/** The reference the counted wheel gives, crank degrees BTDC; null until all of it is counted. */
export function wheelReferenceOf({ wheel }: SparkChoices): number | null {
  if (!wheel?.teeth || wheel.toothAtTdc === undefined || wheel.referenceTooth === undefined) return null
  const deg = wheelReferenceDeg(wheel.teeth, wheel.toothAtTdc, wheel.referenceTooth, wheel.remainderDeg ?? 0)
  return ((deg % 360) + 360) % 360
}

/** Degrees between pulses in step with the sync that are taken up by slack and jitter before margins are counted. */
const SYNC_JITTER_DEG = 2
/** Cam pulse, its margin after slack and jitter, and where the lamp was seen to change; null where there is no cam signal to place. */
export function camSyncOf(c: Context) {
  if (!hasCamSignal(c) || c.spark.trigger === 'toothed-wheel' || c.spark.referenceDeg === undefined || c.resolved.cylinders === null)
    return null
  const input = { referenceDeg: c.spark.referenceDeg, cylinders: c.resolved.cylinders, windows: c.spark.camSyncWindows ?? 0.5 }
  const output = camSyncPosition.run(input)
  const slackDeg = latest(c.readings, 'spark.slack')?.value.crankDeg ?? 0
  const seen = latest(c.readings, 'spark.cam-lamp')?.value.crankDegBtdc ?? null
  const offDeg = seen === null ? 0 : withinCycle(seen - output.positionDegBtdc)
  return { input, output, slackDeg, seen, offDeg, leftDeg: output.marginDeg - Math.abs(offDeg) - slackDeg - SYNC_JITTER_DEG }
}

const CAPACITIVE_COIL_V = 300
const CYCLE_DEG = 720
const SUM_WITHIN_DEG = 1

/** Crank degrees of each firing after number one's, of an engine that fires unevenly; null while order or intervals are not known. */
export function oddAngles({ facts, resolved }: Pick<Context, 'facts' | 'resolved'>): { cylinder: number; deg: number }[] | null {
  const { firingOrder, firingIntervalsDeg: intervals } = facts.engine ?? {}
  if (!firingOrder || !intervals || intervals.length !== firingOrder.length || firingOrder.length !== resolved.cylinders) return null
  let deg = 0
  return firingOrder.map((cylinder, i) => {
    const here = deg
    deg += intervals[i]
    return { cylinder, deg: here }
  })
}

export const fittingRules: Rule[] = [
  {
    id: 'spark.odd-fire',
    where: at('survey', undefined, 'facts.engine.oddFire'),
    check: (c) => {
      const { engine } = c.facts
      if (!engine?.oddFire) return null
      const angles = oddAngles(c)
      const where = angles
        ? ` ${angles.map(({ cylinder, deg }) => `number ${cylinder} at ${deg.toFixed(0)}°`).join(', ')} of the two turns.`
        : ''
      // where the unit only listens, an uneven pulse is a rough number and no wrong spark
      return controlsTiming(c)
        ? finding(
            'stop',
            'An odd-fire engine is not timed from here',
            `Its firings do not follow each other at ${c.resolved.cylinders ? `${firingIntervalDeg(c.resolved.cylinders).toFixed(0)}°` : 'even intervals'}: reference window, rotor phase and cam sync would all be wrong for half the cylinders.${where}`,
            angles
              ? 'Leave timing to the old ignition, or to a unit that takes each cylinder’s own angle: give it these.'
              : 'Leave timing to the old ignition, or take each cylinder’s angle from its maker’s sheet and write down the intervals.',
            angles ? undefined : at('survey', undefined, 'facts.engine.firingIntervalsDeg'),
          )
        : finding(
            'warn',
            'The speed signal comes unevenly',
            `The firings are not evenly apart: speed counted from one pulse to the next jumps.${where}`,
            'Have the unit count speed over two whole turns, or filter it; the old ignition keeps its own timing.',
          )
    },
  },
  {
    id: 'spark.odd-intervals',
    where: at('survey', undefined, 'facts.engine.firingIntervalsDeg'),
    check: ({ facts, resolved }) => {
      const intervals = facts.engine?.firingIntervalsDeg
      if (!intervals) return null
      const sum = intervals.reduce((all, v) => all + v, 0)
      const cylinders = resolved.cylinders ?? intervals.length
      if (intervals.length === cylinders && Math.abs(sum - CYCLE_DEG) <= SUM_WITHIN_DEG) return null
      return finding(
        'warn',
        'The firing intervals do not make two turns',
        intervals.length === cylinders
          ? `They add up to ${sum.toFixed(0)}°; two turns are ${CYCLE_DEG}°.`
          : `There are ${intervals.length} of them on ${cylinders} cylinders.`,
        'One for each cylinder, from its firing to the next in the order.',
      )
    },
  },
  {
    id: 'spark.signal-source',
    where: at('spark', 'trigger', 'choices.spark.signalFrom'),
    check: ({ spark, facts }) => {
      if (spark.trigger !== 'speed-signal' && spark.trigger !== 'own-curve') return null
      const capacitive = facts.ignition?.kind === 'capacitive' || spark.coilDrive === 'capacitive'
      if (capacitive && spark.signalFrom === 'coil-negative')
        return finding(
          'stop',
          'The coil of a capacitive box is no speed signal',
          `Its primary carries ${CAPACITIVE_COIL_V} V and more; the input of the unit bears battery voltage.`,
          'Take the signal from the tach output of the box.',
        )
      return spark.signalFrom
        ? null
        : finding(
            'warn',
            'Where the speed signal comes from is not chosen',
            capacitive ? 'A capacitive box gives it at its tach output only.' : 'Coil negative, or a tach output.',
            'Choose it at Trigger.',
          )
    },
  },
  {
    id: 'spark.air-gap',
    where: at('spark', 'steps', 'gap'),
    check: (c) => {
      const sensor = sensorOf(c)
      const gap = latest(c.readings, 'spark.air-gap')
      if (!sensor || !gap) return null
      const [low, high] = airGapMm(sensor, hasDistributor(c))
      const { leastMm, mostMm } = gap.value
      if (leastMm >= low && mostMm <= high && mostMm - leastMm <= high - low) return null
      return finding(
        'warn',
        mostMm - leastMm > high - low
          ? 'The wheel runs out of true'
          : leastMm < low
            ? 'The air gap is too small'
            : 'The air gap is too large',
        say`${mm(leastMm, 2)} to ${mm(mostMm, 2)} in a turn; ${mm(low, 2)} to ${mm(high, 2)} is usual for this sensor.`,
        'Set it to the sensor’s own sheet, turn the wheel by hand all the way round, and measure again.',
      )
    },
  },
  {
    id: 'spark.mark',
    where: at('spark', 'trigger'),
    check: (c) => {
      const mark = c.facts.engine?.damperMark
      if (mark === undefined || mark === 'clear' || !c.spark.trigger) return null
      return finding(
        'warn',
        mark === 'none' ? 'The damper has no mark for the light' : 'The mark on the damper is not to be trusted',
        mark === 'none'
          ? 'Neither light nor eye can tell where the crank stands.'
          : 'Its ring may have moved on the rubber: every reading by it is off by the same unseen amount.',
        'Find true top centre by the piston stop, mark it, and lay a tape printed to the damper’s diameter.',
      )
    },
  },
  {
    id: 'spark.ballast',
    where: at('survey', undefined, 'facts.ignition.ballastResistor'),
    check: (c) =>
      c.facts.ignition?.ballastResistor === true && controlsTiming(c) && !firesCapacitive(c)
        ? finding(
            'warn',
            'A ballast resistor stands in the coil’s feed',
            'A unit that times the charging wants the whole battery: through a ballast the coil never comes to its current.',
            'Bypass it, with a coil made for that; the resistor wire of some looms hides in the feed.',
          )
        : null,
  },
  {
    id: 'spark.gear',
    where: at('spark', 'trigger', 'choices.spark.gear'),
    check: (c) => {
      const material = c.facts.cam?.material
      if (!hasDistributor(c) || !c.spark.gear) return null
      if (!material)
        return finding(
          'warn',
          'Cam material is not known',
          'The drive gear must suit it.',
          'Find it out; with an unknown cam take bronze or the maker’s word.',
        )
      const { fits, want } = gearFits[material]
      return fits.includes(c.spark.gear)
        ? null
        : finding(
            'stop',
            'Drive gear and cam eat each other',
            `A ${c.spark.gear.replace('-', ' ')} gear on a ${material.replace('-', ' ')} cam.`,
            `Fit ${want}, lubricated, collar fully down.`,
          )
    },
  },
  {
    id: 'spark.wheel',
    where: at('spark', 'trigger'),
    check: ({ spark }) => {
      if (spark.trigger !== 'toothed-wheel') return null
      if (!spark.wheel?.teeth || spark.wheel.missing === undefined)
        return finding(
          'warn',
          'The wheel is not counted',
          'Teeth and missing teeth tell the unit where it is.',
          'Count the places round the wheel, missing ones too.',
        )
      const counted = wheelReferenceOf(spark)
      if (counted === null || spark.referenceDeg === undefined) return null
      // within half a tooth the light knows better than the count
      return Math.abs(counted - spark.referenceDeg) > 180 / spark.wheel.teeth
        ? finding(
            'stop',
            'The reference in the unit is not the one counted on the wheel',
            `Counted ${counted.toFixed(1)}°, set ${spark.referenceDeg.toFixed(1)}°.`,
            `Set ${counted.toFixed(1)}°, or count again with the piston at top centre.`,
          )
        : null
    },
  },
  {
    id: 'spark.paired-only',
    where: at('spark', 'trigger', 'choices.spark.coils'),
    check: (c) => {
      if (!wayOf(c) || !controlsTiming(c)) return null
      if (coilsOf(c) === 'per-cylinder' && !hasCamSignal(c))
        return finding(
          'stop',
          'A coil for each cylinder needs a cam signal',
          'The crank alone does not tell compression from exhaust.',
          'Add a cam signal, or pair the coils.',
        )
      if (coilsOf(c) === 'paired' && c.resolved.cylinders !== null && c.resolved.cylinders % 2 === 1)
        return finding(
          'stop',
          'An odd number of cylinders cannot be paired',
          `${c.resolved.cylinders} cylinders.`,
          'Add a cam signal and a coil for each.',
        )
      return !hasCamSignal(c) && c.plan.phased
        ? finding(
            'stop',
            'Phased injection needs a cam signal',
            'The plan times the injectors to each inlet stroke.',
            'Add a cam signal, or inject in pairs (Plan).',
          )
        : null
    },
  },
  {
    id: 'spark.cam-margin',
    where: at('spark', 'trigger'),
    check: (c) => {
      const sync = camSyncOf(c)
      if (!sync || sync.leftDeg > 0.25 * sync.output.marginDeg) return null
      return finding(
        sync.leftDeg <= 0 ? 'stop' : 'warn',
        'The cam pulse comes close to a crank pulse',
        `Wanted ${sync.output.positionDegBtdc.toFixed(0)}°${sync.seen === null ? '' : `, lamp changes at ${sync.seen.toFixed(0)}°`}; slack ${sync.slackDeg.toFixed(0)}°: ${sync.leftDeg.toFixed(0)}° of ${sync.output.marginDeg.toFixed(0)}° are left.`,
        'Turn the cam sensor until the lamp changes at the wanted angle, coming against the rotation so that slack is taken up.',
      )
    },
  },
  {
    id: 'spark.slack',
    where: at('spark', 'phase'),
    check: (c) => {
      const slack = latest(c.readings, 'spark.slack')?.value.crankDeg
      return slack !== undefined && slack > WORN_SLACK_DEG
        ? finding(
            'warn',
            'Worn chain, gear or bush',
            `${slack.toFixed(0)}° of crank before the rotor follows; ${WORN_SLACK_DEG}° is much.`,
            'Timing will scatter by it at a steady speed: renew the drive, or trigger from the crank.',
          )
        : null
    },
  },
  {
    id: 'spark.knock-place',
    where: at('spark', 'trigger'),
    check: ({ spark }) =>
      spark.knock?.place && spark.knock.place !== 'block-middle'
        ? finding(
            'warn',
            'The knock sensor hears little there',
            `It sits on the ${spark.knock.place === 'block-end' ? 'end of the block' : spark.knock.place}.`,
            'Bolt it straight to the block between the middle cylinders, no washer, torque by its sheet.',
          )
        : null,
  },
]
