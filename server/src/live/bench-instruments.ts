import { type BenchDesk, carInstruments, type CarInstrumentId, coolPorts, CoreError, type DeskCommand, type EntryKind } from '@vectum/core'

/** Kinds that instruments at the bench car give, as it stands or runs. */
export const liveReadingKinds = [
  'fuel.pressure',
  'fuel.leak-check',
  'fuel.recheck',
  'start.crank-light',
  'start.idle-valve',
  'start.cylinders',
  'spark.timing-light',
  'learn.exhaust',
  'learn.meter',
  'unit.learned',
  'unit.saved',
] as const
type LiveReadingKind = (typeof liveReadingKinds)[number]

/** The bench car as instruments meet it. */
interface AtTheCar {
  ask: (order: DeskCommand) => Promise<unknown>
  running: boolean
  /** what the unit is told of its pick-up; null where it does not time the spark */
  setting: { referenceDeg: number; delayUs: number } | null
  /** what the unit's own sensor reads */
  lambda: number | null
  tuneId: string | null
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
    case 'learn.exhaust': {
      const { title, values } = await instrument('smoke-test')
      const where = String(values.where ?? '')
      const leaks = where.includes('exhaust')
      return { instrument: title, value: { tight: !leaks, ...(leaks ? { where } : {}) } }
    }
    case 'learn.meter': {
      const { title, values } = await instrument('wideband-display')
      if (car.lambda === null) throw new CoreError('NOT_ALLOWED', title, 'the unit’s own sensor reads nothing yet: let it warm up')
      return { instrument: title, value: { unitLambda: Math.round(car.lambda * 100) / 100, meterLambda: values.lambda } }
    }
    case 'unit.learned':
    case 'unit.saved': {
      if (!car.tuneId) throw new CoreError('NOT_ALLOWED', 'unit', 'it holds no tune')
      const { rpm, mapKpa, learnedPct, offS, stillThere } = (await car.ask({ command: 'learned' })) as ReturnType<BenchDesk['readLearned']>
      if (kind === 'unit.learned')
        return {
          instrument: 'export of the unit',
          value: {
            tuneId: car.tuneId,
            rpm: [...rpm],
            mapKpa: [...mapKpa],
            learnedPct: learnedPct.map((v) => Math.round(v * 100) / 100),
            form: 'percent',
            name: 'read from the unit',
          },
        }
      if (stillThere === null) throw new CoreError('NOT_ALLOWED', 'unit', 'its key was not off yet: key off for 10 s, then on, and look')
      return { instrument: 'display of the unit', value: { tuneId: car.tuneId, offS: Math.round(offS), stillThere, then: 'goes-on' } }
    }
    case 'spark.timing-light': {
      if (!car.setting) throw new CoreError('NOT_ALLOWED', 'timing light', 'the unit does not time the spark: there is nothing to fit')
      return { instrument: 'Timing light', value: { ...(await light(1)), ...car.setting } }
    }
  }
}
