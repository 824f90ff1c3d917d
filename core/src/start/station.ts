import { asSaying, at, type JudgedContext, latest, type Requirement, say, station, type Stop, tuneInCar } from '../kernel/index.ts'
import { controlsTiming, currentTiming, TIMING_PROVED_DEG } from '../spark/index.ts'
import { takingRules } from '../tune/index.ts'
import { releaseRequirement, unitEntries, unitRules, UnitChoices } from '../unit/index.ts'
import { startEntries } from './entries.ts'
import { startRules } from './findings.ts'
import { hasRun, startGates } from './gates.ts'

/** Gates that are requirements of their own or of other stations. */
const TOLD_ELSEWHERE = ['stops', 'tune', 'tune-safe']
/** The step of First start at which each gate is opened. */
const STEP_OF: Readonly<Record<string, string>> = {
  sanity: 'key',
  safety: 'safety',
  prepared: 'safety',
  leads: 'safety',
  'fixed-timing': 'taking',
  'tune-taken': 'taking',
  pressure: 'prime',
  flooded: 'flooded',
  leak: 'leak',
  'dry-crank': 'dry',
}

function timingRequirement(c: JudgedContext): Requirement[] {
  if (!controlsTiming(c)) return []
  const timing = currentTiming(c)
  const action =
    timing === null
      ? 'Read the timing with a light at two speeds or more'
      : timing.enough
        ? `${timing.fixes[0]?.title ?? 'Correct the timing'}, then read again`
        : `Read the timing again near ${timing.nextRpm} rpm`
  return [
    {
      id: 'timing',
      met: timing !== null && timing.enough && timing.worstErrorDeg <= TIMING_PROVED_DEG,
      action,
      where: at('spark', 'light'),
    },
  ]
}

function requirements(c: JudgedContext, stops: readonly Stop[]): Requirement[] {
  return [
    { id: 'tune', met: tuneInCar(c.build) !== null, action: 'Put a tune in the car', where: at('tune') },
    ...startGates(c, stops)
      .crank.filter((g) => !TOLD_ELSEWHERE.includes(g.id))
      .map((g) => ({ id: g.id, met: g.met, action: say`${g.label}: ${asSaying(g.why)}`, where: at('start', STEP_OF[g.id]) })),
    {
      id: 'idle-valve',
      met: latest(c.readings, 'start.idle-valve')?.value.moves === true,
      action: 'Hear the idle valve move as the key goes on',
      where: at('start', 'key'),
    },
    { id: 'ran', met: hasRun(c), action: 'Crank and let it run', where: at('start', 'crank') },
    {
      id: 'cylinders',
      met: latest(c.readings, 'start.cylinders')?.value.cool.length === 0,
      action: 'See that every cylinder works, by the heat of its exhaust port',
      where: at('start', 'crank'),
    },
    ...timingRequirement(c),
    ...releaseRequirement(c, ['fixed-timing', 'low-limit']),
  ]
}

export const start = station({
  id: 'start',
  number: 8,
  title: 'First start',
  question: 'Is it safe to turn the key, and is the timing what the unit says?',
  key: 'f',
  after: ['fuel', 'spark', 'tune'],
  choices: { unit: UnitChoices },
  entries: { ...startEntries, ...unitEntries },
  rules: [...takingRules, ...unitRules, ...startRules],
  requirements,
  cautions: ['vapour', 'crank', 'two-people', 'flooded', 'moving', 'sensor'],
  contributes: {
    tasks: ({ readings }) => [
      {
        id: 'first-start',
        title: 'First start and timing',
        station: 'start',
        kind: 'work',
        base: 2,
        after: ['leak-check', 'tune'],
        helper: true,
        provenDone: latest(readings, 'start.ran')?.takenAt,
      },
    ],
  },
})
