import type { SensorKind, SparkChoices, TriggerWay } from './choices.ts'

export interface WayTraits {
  title: string
  text: string
  /** the unit times the spark */
  controls: boolean
  /** the spark goes through rotor and cap while its timing is swept, so phase matters */
  distributor: boolean
  /** kind of sensor it has unless another is chosen; null where there is none to set up */
  sensor: SensorKind | null
}

/** The six ways of triggering (handbook 03), in the order of the work they take. */
export const triggerWays: Record<TriggerWay, WayTraits> = {
  'speed-signal': {
    title: 'Speed signal only',
    text: 'The old advance stays; the unit only counts. From coil negative, or the tach output of a capacitive box.',
    controls: false,
    distributor: false,
    sensor: null,
  },
  'own-curve': {
    title: 'Distributor with its own curve',
    text: 'A programmable distributor times the spark; the unit takes a speed signal. Its curve is planned and checked here.',
    controls: false,
    distributor: true,
    sensor: null,
  },
  'locked-magnetic': {
    title: 'Locked magnetic distributor',
    text: 'Weights and vacuum plate fixed so that nothing moves; the unit times one coil.',
    controls: true,
    distributor: true,
    sensor: 'magnetic',
  },
  hall: {
    title: 'Hall or optical distributor',
    text: 'Made for timing control; one coil, a clean edge at any speed.',
    controls: true,
    distributor: true,
    sensor: 'hall',
  },
  'crank-cam': {
    title: 'Crank trigger, a pulse for each firing',
    text: 'With cam sync a coil for each cylinder; without it paired coils. The most exact.',
    controls: true,
    distributor: false,
    sensor: 'magnetic',
  },
  'toothed-wheel': {
    title: 'Toothed wheel with missing teeth',
    text: 'Factory or added. With a cam signal a coil for each cylinder; without it paired coils only.',
    controls: true,
    distributor: false,
    sensor: 'magnetic',
  },
}

type WithSpark = { readonly spark: SparkChoices }
export const wayOf = ({ spark }: WithSpark): WayTraits | null => (spark.trigger ? triggerWays[spark.trigger] : null)
export const hasDistributor = (c: WithSpark): boolean => wayOf(c)?.distributor ?? false
export const controlsTiming = (c: WithSpark): boolean => wayOf(c)?.controls ?? false
export const sensorOf = (c: WithSpark): SensorKind | null => {
  const usual = wayOf(c)?.sensor ?? null
  return usual === null ? null : (c.spark.sensor ?? usual)
}
/** A sensor that turns with the distributor runs at half crank speed: its degrees count twice at the crank. */
export const sensorDegToCrank = (c: WithSpark): number => (hasDistributor(c) ? 2 : 1)

/** A cam signal is there: a wheel or a distributor with two signals says so; a crank trigger has one unless it was left out for paired coils. */
export const hasCamSignal = ({ spark }: WithSpark): boolean =>
  spark.trigger === 'crank-cam'
    ? spark.camSignal !== false
    : spark.trigger === 'toothed-wheel' || spark.trigger === 'hall'
      ? spark.camSignal === true
      : false

export type CoilLayout = 'single' | 'paired' | 'per-cylinder'
/** One coil through a rotor, else as chosen; without a choice what the signals allow. */
export function coilsOf(c: WithSpark): CoilLayout {
  if (!wayOf(c) || hasDistributor(c) || c.spark.trigger === 'speed-signal') return 'single'
  return c.spark.coils ?? (hasCamSignal(c) ? 'per-cylinder' : 'paired')
}
/** How many coils a layout takes. */
export const coilCount = (layout: CoilLayout, cylinders: number): number =>
  ({ single: 1, paired: cylinders / 2, 'per-cylinder': cylinders })[layout]
/** Sparks of one coil for each crank turn. */
export const sparksPerRevOf = (c: WithSpark, cylinders: number): number =>
  ({ single: cylinders / 2, paired: 1, 'per-cylinder': 0.5 })[coilsOf(c)]
