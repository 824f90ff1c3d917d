import { type Context, readingsOf } from '../kernel/index.ts'
import type { LogData } from '../logfile/index.ts'
import { logDoubtsSaid } from './other-car.ts'

type Log = Pick<LogData, 'timeS' | 'channels'>

/** Channels that a log must have, or lack, like the first, to be solved together with it: without them its rows would say something else. */
type Channel = keyof Log['channels']
const MUST_AGREE: readonly Channel[] = [
  'rpm',
  'mapKpa',
  'lambda',
  'lambdaTarget',
  'correctionPct',
  'learnedPct',
  'enrichmentPct',
  'coolantC',
  'fuelCut',
  'throttlePct',
]
/** Pause between two logs in the time of the whole, s: longer than any gap inside one, so that nothing is taken to follow across it. */
const PAUSE_S = 60

/**
 * Logs of one tune as one, in the order given, each after a pause. A log that has not the same deciding channels as the first is left out;
 * other channels are kept where all have them.
 * @returns the whole, and how many of the logs are in it
 */
export function joinLogs(logs: readonly Log[]): Log & { joined: number } {
  const [first] = logs
  const alike = logs.filter(({ channels }) => MUST_AGREE.every((id) => (channels[id] === undefined) === (first.channels[id] === undefined)))
  if (alike.length < 2) return { ...first, joined: 1 }
  const rows = alike.reduce((sum, { timeS }) => sum + timeS.length, 0)
  const timeS = new Float64Array(rows)
  const channels: Log['channels'] = {}
  for (const id of Object.keys(first.channels) as Channel[])
    if (alike.every((log) => log.channels[id])) channels[id] = new Float32Array(rows)
  let at = 0
  for (const log of alike) {
    const shiftS = at > 0 ? timeS[at - 1] + PAUSE_S - log.timeS[0] : 0
    for (let i = 0; i < log.timeS.length; i++) timeS[at + i] = log.timeS[i] + shiftS
    for (const id of Object.keys(channels) as Channel[]) channels[id]!.set(log.channels[id]!, at)
    at += log.timeS.length
  }
  return { timeS, channels, joined: alike.length }
}

/**
 * Logs that are solved with one: those brought before it that were driven on the same tune in the same car, and were believed when they were
 * solved. A unit that learns by itself is another car from drive to drive: its logs stay alone.
 * @returns ids, the one asked for first
 */
export function logsTogether(c: Context, logId: string): string[] {
  const log = c.build.logs.find((l) => l.id === logId)
  if (!log?.tuneId || c.build.choices.unit?.learns === 'itself') return [logId]
  const solved = readingsOf(c.readings, 'learn.result')
  const believed = (id: string) => {
    const last = solved.findLast((r) => r.value.logId === id)
    return last !== undefined && last.value.suspect === undefined
  }
  const others = c.build.logs.filter(
    (l) =>
      l.id !== logId &&
      l.tuneId === log.tuneId &&
      l.source === log.source &&
      l.loopOpen === log.loopOpen &&
      l.createdAt < log.createdAt &&
      believed(l.id) &&
      logDoubtsSaid(c, l).length === 0,
  )
  return [logId, ...others.map((l) => l.id)]
}
