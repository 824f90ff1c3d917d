import { carInstruments, type CarInstrumentId, coolPorts, CoreError, type DeskCommand, type EntryKind } from '@vectum/core'

/** Kinds that instruments at the bench car give, as it stands or runs. */
export const liveReadingKinds = [
  'fuel.pressure',
  'fuel.leak-check',
  'fuel.recheck',
  'start.crank-light',
  'start.idle-valve',
  'start.cylinders',
  'spark.timing-light',
] as const
type LiveReadingKind = (typeof liveReadingKinds)[number]

/** The bench car as instruments meet it. */
interface AtTheCar {
  ask: (order: DeskCommand) => Promise<unknown>
  running: boolean
  /** what the unit is told of its pick-up; null where it does not time the spark */
  setting: { referenceDeg: number; delayUs: number } | null
}

/**
 * Reads an instrument at the bench car.
 * @returns the value of an entry of that kind, and what the instrument is called
 * @throws CoreError NOT_ALLOWED when the car is not in a state for it
 */
export async function readInstrument(kind: EntryKind, car: AtTheCar): Promise<{ value: object; instrument: string }> {
  const instrument = async (id: CarInstrumentId) => ({
    title: carInstruments[id].title,
    values: ((await car.ask({ command: 'instrument', instrument: id })) as { values: Record<string, number | string | null> }).values,
  })
  const light = async (flashes: number) =>
    (await car.ask({ command: 'light', flashes })) as { rpm: number; observedDeg: number; commandedDeg: number }
  switch (kind as LiveReadingKind) {
    case 'fuel.pressure': {
      const { title, values } = await instrument('fuel-gauge')
      return { instrument: title, value: { pressureKpa: values.pressureKpa, engineRunning: car.running } }
    }
    case 'fuel.leak-check':
    case 'fuel.recheck': {
      const { title, values } = await instrument('leak-inspection')
      const dry = values.where === null
      return {
        instrument: title,
        value: { ...(kind === 'fuel.recheck' ? { when: 'hot' } : {}), dry, ...(dry ? {} : { where: values.where }) },
      }
    }
    case 'start.crank-light': {
      const { observedDeg, commandedDeg } = await light(10)
      return { instrument: 'Timing light', value: { observedDeg, commandedDeg } }
    }
    case 'start.idle-valve': {
      const { moves } = (await car.ask({ command: 'listen' })) as { moves: boolean }
      return { instrument: 'Ear at the idle valve', value: { moves } }
    }
    case 'start.cylinders': {
      const { title, values } = await instrument('infrared-thermometer')
      return { instrument: title, value: { how: 'ports', cool: coolPorts(values) } }
    }
    case 'spark.timing-light': {
      if (!car.setting) throw new CoreError('NOT_ALLOWED', 'timing light', 'the unit does not time the spark: there is nothing to fit')
      return { instrument: 'Timing light', value: { ...(await light(1)), ...car.setting } }
    }
  }
}
