import { type Context, readingsOf } from '../kernel/index.ts'
import type { LogData } from '../logfile/index.ts'
import { logDoubtsSaid } from './other-car.ts'
import { unsoundCodes } from './pattern.ts'

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

/** Learning moves what a unit holds, and its base is mended one day: of a unit that learns by itself so much driving is looked at together, s. */
const LEARNING_TOGETHER_S = 3600

/**
 * Logs of one tune as one, oldest first, each after a pause. The last is the one that is asked about: a log that has not the same deciding
 * channels is left out; other channels are kept where all have them.
 * @returns the whole, how many of the logs are in it, and when the last begins in it, s
 */
export function joinLogs(logs: readonly Log[]): Log & { joined: number; newestFromS: number } {
  const newest = logs[logs.length - 1]
  const alike = logs.filter(({ channels }) =>
    MUST_AGREE.every((id) => (channels[id] === undefined) === (newest.channels[id] === undefined)),
  )
  if (alike.length < 2) return { ...newest, joined: 1, newestFromS: newest.timeS[0] }
  const rows = alike.reduce((sum, { timeS }) => sum + timeS.length, 0)
  const timeS = new Float64Array(rows)
  const channels: Log['channels'] = {}
  for (const id of Object.keys(newest.channels) as Channel[])
    if (alike.every((log) => log.channels[id])) channels[id] = new Float32Array(rows)
  let at = 0
  for (const log of alike) {
    const shiftS = at > 0 ? timeS[at - 1] + PAUSE_S - log.timeS[0] : 0
    for (let i = 0; i < log.timeS.length; i++) timeS[at + i] = log.timeS[i] + shiftS
    for (const id of Object.keys(channels) as Channel[]) channels[id]!.set(log.channels[id]!, at)
    at += log.timeS.length
  }
  return { timeS, channels, joined: alike.length, newestFromS: timeS[rows - newest.timeS.length] }
}

/** The latest of some logs, oldest first, that are together no longer than so; the last always. */
export function latestTogether<T>(logs: readonly T[], durationS: (log: T) => number, mostS = LEARNING_TOGETHER_S): T[] {
  let sum = 0
  const from = logs.findLastIndex((log, i) => (sum += durationS(log)) > mostS && i < logs.length - 1)
  return logs.slice(from + 1)
}

/**
 * Logs that are solved with one: those brought before it that were driven on the same tune in the same car, and were believed when they were
 * solved. What a unit that learns by itself holds moves from drive to drive, what the engine wants over its base does not: its latest logs go
 * together as well, but for those whose learning was poisoned.
 * @returns ids, oldest first; the one asked for is the last
 */
export function logsTogether(c: Context, logId: string): string[] {
  const log = c.build.logs.find((l) => l.id === logId)
  if (!log?.tuneId) return [logId]
  const itself = c.build.choices.unit?.learns === 'itself'
  const solved = readingsOf(c.readings, 'learn.result')
  const believed = (id: string) => {
    const last = solved.findLast((r) => r.value.logId === id)
    return (
      last !== undefined && last.value.suspect === undefined && !(itself && last.value.codes?.some((code) => unsoundCodes.includes(code)))
    )
  }
  const others = c.build.logs
    .filter(
      (l) =>
        l.id !== logId &&
        l.tuneId === log.tuneId &&
        l.source === log.source &&
        l.loopOpen === log.loopOpen &&
        l.createdAt < log.createdAt &&
        believed(l.id) &&
        logDoubtsSaid(c, l).length === 0,
    )
    .toSorted((a, b) => (a.createdAt < b.createdAt ? -1 : 1))
  return (itself ? latestTogether([...others, log], (l) => l.durationS) : [...others, log]).map((l) => l.id)
}
