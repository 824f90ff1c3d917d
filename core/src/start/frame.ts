import { z } from 'zod'
import { type ChannelId, channelSpecs, type LogData } from '../logfile/index.ts'

export type EngineState = 'off' | 'key-on' | 'cranking' | 'running'

/**
 * One frame of the live stream, whatever the device: the bundled bench, a replayed log, a real logger. Units are in the names; null is what the
 * device does not tell, and lambda also while its sensor is cold.
 */
export interface Frame {
  timeS: number
  state: EngineState
  rpm: number
  mapKpa: number | null
  throttlePct: number | null
  lambda: number | null
  lambdaTarget: number | null
  coolantC: number | null
  intakeAirC: number | null
  batteryV: number | null
  correctionPct: number | null
  /** what the unit has learned for good at this point */
  learnedPct: number | null
  enrichmentPct: number | null
  pulseMs: number | null
  advanceDegBtdc: number | null
  idleValvePct: number | null
  fuelCut: number | null
  pumpOn: boolean | null
  fuelPressureKpa: number | null
  oilPressureKpa: number | null
  faultFlags: string[]
  /** the starter turns it with the injectors unplugged or held shut */
  fuelHeld?: boolean
}

/** Numbers of a frame that are channels of a log too. */
export const frameChannels = [
  'mapKpa',
  'throttlePct',
  'lambda',
  'lambdaTarget',
  'coolantC',
  'intakeAirC',
  'batteryV',
  'correctionPct',
  'learnedPct',
  'enrichmentPct',
  'pulseMs',
  'advanceDegBtdc',
  'idleValvePct',
  'fuelCut',
  'fuelPressureKpa',
] as const satisfies (keyof Frame & ChannelId)[]

const bounded = (id: ChannelId) => z.number().min(channelSpecs[id].min).max(channelSpecs[id].max)
const told = <T extends z.ZodType>(schema: T) => schema.nullable().default(null)
/** A frame as a logger's adapter sends it: time and speed it must know, the rest as far as it does. */
export const FrameLine = z.strictObject({
  timeS: bounded('timeS'),
  rpm: bounded('rpm'),
  state: z.enum(['off', 'key-on', 'cranking', 'running']).optional(),
  mapKpa: told(bounded('mapKpa')),
  throttlePct: told(bounded('throttlePct')),
  lambda: told(bounded('lambda')),
  lambdaTarget: told(bounded('lambdaTarget')),
  coolantC: told(bounded('coolantC')),
  intakeAirC: told(bounded('intakeAirC')),
  batteryV: told(bounded('batteryV')),
  correctionPct: told(bounded('correctionPct')),
  learnedPct: told(bounded('learnedPct')),
  enrichmentPct: told(bounded('enrichmentPct')),
  pulseMs: told(bounded('pulseMs')),
  advanceDegBtdc: told(bounded('advanceDegBtdc')),
  idleValvePct: told(bounded('idleValvePct')),
  fuelCut: told(bounded('fuelCut')),
  pumpOn: told(z.boolean()),
  fuelPressureKpa: told(bounded('fuelPressureKpa')),
  oilPressureKpa: told(z.number().min(0).max(1500)),
  faultFlags: z.array(z.string().trim().min(1).max(40)).max(20).default([]),
  fuelHeld: z.boolean().optional(),
})

const STILL_RPM = 40
const RUNNING_RPM = 380
/** What an engine does, told by its speed alone. */
export const stateOfSpeed = (rpm: number): EngineState => (rpm > RUNNING_RPM ? 'running' : rpm > STILL_RPM ? 'cranking' : 'key-on')

export const frameOfLine = ({ state, ...line }: z.infer<typeof FrameLine>): Frame => ({ ...line, state: state ?? stateOfSpeed(line.rpm) })

/** One row of a log as a frame; what the log has no channel for is null. */
export function frameOfLog(log: Pick<LogData, 'timeS' | 'channels'>, row: number): Frame {
  const at = (id: Exclude<ChannelId, 'timeS'>): number | null => {
    const value = log.channels[id]?.[row]
    return value === undefined || Number.isNaN(value) ? null : value
  }
  const rpm = at('rpm') ?? 0
  return {
    timeS: log.timeS[row],
    rpm,
    state: stateOfSpeed(rpm),
    ...(Object.fromEntries(frameChannels.map((id) => [id, at(id)])) as Pick<Frame, (typeof frameChannels)[number]>),
    pumpOn: null,
    oilPressureKpa: null,
    faultFlags: [],
  }
}

/** What a log of the stream holds of each frame, besides time. */
const streamLogChannels = ['rpm', ...frameChannels] as const satisfies (keyof Frame & ChannelId)[]

/** Frames as the columns of a log, time from the first of them; what a sensor does not tell is not a number. */
export function framesToLog(frames: readonly Frame[]): Pick<LogData, 'timeS' | 'channels'> {
  // plain loops: typed arrays made from another list by a function are ten times slower, and a server waits for this
  const timeS = new Float64Array(frames.length)
  for (let i = 0; i < frames.length; i++) timeS[i] = frames[i].timeS - frames[0].timeS
  const channels: Partial<Record<ChannelId, Float32Array>> = {}
  for (const id of streamLogChannels) {
    const column = (channels[id] = new Float32Array(frames.length))
    for (let i = 0; i < frames.length; i++) column[i] = frames[i][id] ?? NaN
  }
  return { timeS, channels }
}
