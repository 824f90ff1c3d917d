import { setImmediate } from 'node:timers/promises'
import { framesToLog, type ChannelId, type Frame, type LogData } from '@vectum/core'

/** Frames turned into columns at a time: a millisecond or two, between which the server goes on. */
const SLICE = 2000

/** Frames as the columns of a log (see framesToLog), made in slices so that a long trace holds nobody up. */
export async function logOfFrames(frames: readonly Frame[]): Promise<Pick<LogData, 'timeS' | 'channels'>> {
  const timeS = new Float64Array(frames.length)
  const channels: Partial<Record<ChannelId, Float32Array>> = {}
  for (let from = 0; from < frames.length; from += SLICE) {
    const part = framesToLog(frames.slice(from, from + SLICE))
    part.timeS.forEach((t, i) => (timeS[from + i] = t + frames[from].timeS - frames[0].timeS))
    for (const [id, column] of Object.entries(part.channels) as [ChannelId, Float32Array][])
      (channels[id] ??= new Float32Array(frames.length)).set(column, from)
    await setImmediate()
  }
  return { timeS, channels }
}
