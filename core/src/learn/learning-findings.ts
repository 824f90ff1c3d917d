import { at, type Context, finding, latest, proved, type Requirement, type Rule } from '../kernel/index.ts'
import { currentLearn, learnedOverDrives } from './current.ts'
import { CONVERGED_RMS_PCT, CONVERGED_TIME_PCT, DRIFTING_PCT } from './limits.ts'
import { unsoundCodes } from './pattern.ts'

/** Whether the unit corrects its fuel for good by itself, as far as was told. */
export const learnsItself = (c: Pick<Context, 'build'>): boolean => c.build.choices.unit?.learns === 'itself'

/** What no log tells was looked at: the exhaust is tight up to the sensor, and a second meter agrees with it. */
export const lookedBeside = (c: Context): boolean => proved(c, 'learn.exhaust') !== null && proved(c, 'learn.meter') !== null
/** The fuel pressure was read at idle and is what was planned: else an answer would be mended for what a regulator does. */
export const pressureReadRunning = (c: Context): boolean => proved(c, 'fuel.pressure', (r) => r.value.engineRunning) !== null

/** What settles cells in which its loop is open: a unit set by questions alone makes its base itself, and only its answers move it. */
export const mendsBaseBy = (c: Pick<Context, 'build'>): string =>
  c.build.choices.unit?.setBy === 'questions'
    ? 'mend the answer that its base is made of, as Learn works it out'
    : 'accept what belongs in the base'

/** How a unit that learns by itself is brought to settled: what its base lacks comes before driving on. */
export function learnOn(c: Pick<Context, 'build'>, codes: readonly string[] = []): string {
  if (codes.includes('answer-to-mend')) return `Before it is driven on, ${mendsBaseBy(c)}`
  if (codes.includes('not-learned-here')) return `Before it is driven on, ${mendsBaseBy(c)}: it never learns all of its cells`
  return 'Drive on with learning on until the unit has settled, and bring that log'
}

/** What each unsound pattern is, and what settles it. */
const patternWords: Readonly<Record<string, { is: string; remedy: string }>> = {
  'poisoned-cell': {
    is: 'one cell holds a value that the engine does not need, and keeps it',
    remedy: 'Clear that cell in the unit, or go back to what was saved before.',
  },
  'learned-at-limit': {
    is: 'it stands at the limit of its learning: that is no learning at all',
    remedy: 'Find what it has to make up for: read the fuel pressure, feel every exhaust port, smoke the exhaust.',
  },
  'comes-and-goes': {
    is: 'the same places want another mixture at another time',
    remedy: 'Shut the purge line off, watch the fuel pressure on a drive, and bring that log.',
  },
  'throttle-zero': { is: 'the throttle never reads shut', remedy: 'Learn the zero with the key on, then clear what was learned since.' },
  'lean-at-low-flow': {
    is: 'it wants more and more as the flow falls',
    remedy: 'Smoke the exhaust joints and hold a second meter against the sensor, before it learns any further.',
  },
  drift: { is: 'the need drifts with the engine warm', remedy: 'Look at fuel pressure and the sensor before learning goes on.' },
  'one-bank': {
    is: 'one bank wants other fuel than the other',
    remedy: 'Change the sensors of the banks over: what goes with the sensor is the sensor, what stays is a leak or an injector.',
  },
  'correction-saturated': {
    is: 'the closed loop stands at its limit',
    remedy: 'Find what it has to make up for before its authority is widened.',
  },
}
/** Drives in a row that must move the same way. */
const DRIFT_DRIVES = 3

export const learningRules: Rule[] = [
  {
    id: 'learn.unsound',
    where: at('learn'),
    check: (c) => {
      const unsound = lookedBeside(c) ? unsoundCodes : [...unsoundCodes, 'lean-at-low-flow']
      const codes = currentLearn(c)?.value.codes?.filter((code) => unsound.includes(code)) ?? []
      if (!learnsItself(c) || !codes.length) return null
      const told = codes.map((code) => patternWords[code])
      const ownBase = currentLearn(c)!.value.codes!.includes('answer-to-mend')
      return finding(
        'warn',
        'What it has learned is not to be believed',
        `${told.map((t) => t.is).join('; ')}.`.replace(/^./, (x) => x.toUpperCase()),
        `Hold learning. ${told.map((t) => t.remedy).join(' ')}${ownBase ? ` If nothing of that is found, it is the base it made itself: ${mendsBaseBy(c)}.` : ''}`,
      )
    },
  },
  {
    id: 'learn.drifts',
    where: at('learn'),
    check: (c) => {
      const means = learnedOverDrives(c)
        .map((r) => r.value.learnedMeanPct)
        .filter((v): v is number => v != null)
      const steps = means.slice(1).map((v, i) => v - means[i])
      const last = steps.slice(-DRIFT_DRIVES)
      if (last.length < DRIFT_DRIVES || !(last.every((s) => s > DRIFTING_PCT) || last.every((s) => s < -DRIFTING_PCT))) return null
      return finding(
        'warn',
        'It goes on learning without end',
        `Over the last ${DRIFT_DRIVES} drives the mean of what it holds went from ${means.at(-1 - DRIFT_DRIVES)!.toFixed(1)} to ${means.at(-1)!.toFixed(1)} %, the same way each time.`,
        'That is a sensor that ages or a pressure that falls. Read the pressure at idle, hold a second meter against the sensor, then go back to what was saved.',
      )
    },
  },
  {
    id: 'learn.not-settled',
    where: at('learn'),
    check: (c) => {
      const value = currentLearn(c)?.value
      if (value?.settled !== false || value.suspect || value.codes?.some((code) => unsoundCodes.includes(code))) return null
      return finding(
        'warn',
        'The unit has not settled yet',
        `${(value.settledTimePct ?? 0).toFixed(0)} % of the driving time is in settled cells (${CONVERGED_TIME_PCT} % wanted); ${(value.remainderRmsPct ?? 0).toFixed(1)} % rms is left beyond what it has learned (${CONVERGED_RMS_PCT} % wanted).`,
        value.codes?.includes('answer-to-mend')
          ? `Its own base is off as a whole: ${mendsBaseBy(c)}, clear what it has learned, then drive on with learning on and bring that log.`
          : value.codes?.includes('not-learned-here')
            ? `In some cells its loop is open, and driving on changes nothing there: ${mendsBaseBy(c)}, then drive on with learning on and bring that log.`
            : 'Drive on with learning on, the same roads, and bring that log. Where it cannot learn only a log on a dyno or a closed road proves a cell.',
      )
    },
  },
  {
    id: 'learn.look-again',
    where: at('learn'),
    check: (c) => {
      const saved = latest(c.readings, 'unit.saved')
      if (!saved || !learnsItself(c)) return null
      return finding(
        'note',
        'Look again at what it has learned',
        `Saved on ${saved.takenAt.slice(0, 10)}, and still there after a key-off.`,
        `After ${saved.value.nextKm ?? LOOK_AGAIN_KM} km, before ${inHalfAYear(saved.takenAt)}, and after each change of fuel or of a part: one log, solved here.`,
      )
    },
  },
]
const LOOK_AGAIN_KM = 500
const SEASON_DAYS = 182
const inHalfAYear = (iso: string): string => new Date(Date.parse(iso) + SEASON_DAYS * 86_400_000).toISOString().slice(0, 10)

/** What a unit that learns by itself must have shown before the station is cleared: things a log alone cannot tell (handbook 10). */
export function learningRequirements(c: Context): Requirement[] {
  if (!learnsItself(c)) return []
  const settled = currentLearn(c)?.value.settled === true
  return [
    {
      id: 'exhaust-tight',
      proof: ['learn.exhaust'],
      met: proved(c, 'learn.exhaust') !== null,
      action: 'Smoke the exhaust up to the sensor: a leak there is learned as a lean engine, and no log tells them apart',
      where: at('learn', 'beside'),
    },
    {
      id: 'sensor-true',
      proof: ['learn.meter'],
      met: proved(c, 'learn.meter') !== null,
      action: 'Hold a second mixture meter against the sensor: what it reads wrong is learned wrong',
      where: at('learn', 'beside'),
    },
    {
      id: 'saved',
      proof: ['unit.saved'],
      met: proved(c, 'unit.saved') !== null,
      action: settled
        ? 'Save what was learned, key off for 10 s, and see that it is still there'
        : 'When it has settled: save, key off for 10 s, and see that it is still there',
      where: at('learn', 'beside'),
    },
  ]
}
