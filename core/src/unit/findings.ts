import { at, finding, type Gate, type Context, type Requirement, type Rule, tuneInCar } from '../kernel/index.ts'
import { type Compared, exportsCompared, heldAnswers, setByQuestions } from './read-back.ts'
import { temporaryAnswers, unreleased } from './temporary.ts'

const list = (items: readonly string[], most = 4): string =>
  items.length <= most ? items.join(', ') : `${items.slice(0, most).join(', ')} and ${items.length - most} more`
const wordsOf = (all: readonly Compared[]): string => list(all.map((x) => x.answer.words.toLowerCase()))
const differenceText = ({ answer, told, effect }: Compared): string =>
  `${answer.words.toLowerCase()} is ${told!.value}${told!.unit ? ` ${told!.unit}` : ''}, wanted ${answer.shown}: ${effect}`

/** What is still to be done before the unit is known to hold what was meant, in words; null when nothing is. */
export function unitLeft(c: Context): string | null {
  const held = heldAnswers(c)
  const missing = held.left.filter((x) => x.state === 'missing')
  if (held.all.length === 0) return 'there is no tune to answer from'
  if (missing.length) return `not known yet: ${list(missing.map((x) => x.answer.missing!))}`
  if (held.differing.length) return list(held.differing.map(differenceText), 2)
  if (held.left.length) return `${held.left.length} of ${held.all.length} answers not compared: ${wordsOf(held.left)}`
  if (setByQuestions(c)) return null
  // tables hold more than a card asks: they count when the unit gave them out again
  const { complete, different, names } = exportsCompared(c)
  if (different > 0) return `${different} values of its tables came back other than sent`
  return complete ? null : `tables not compared with an export of the unit${names.length ? `; so far ${list(names)}` : ''}`
}

/** The lock that an answered or hand-fed unit opens: every value compared after a key-off, never a tick. */
export const answersGate = (c: Context): Gate => {
  const left = unitLeft(c)
  return {
    id: 'tune-taken',
    label: 'The unit holds what was meant: each value read in it after a key-off and compared',
    met: left === null,
    why: left ?? 'compared equal, value by value',
    station: 'unit',
  }
}

/** Temporary answers of some kinds that must be released before a station is cleared. */
export const releaseRequirement = (c: Context, kinds: readonly string[]): Requirement[] =>
  unreleased(c)
    .filter((r) => kinds.includes(r.value.what))
    .map(({ value: { what } }) => ({
      id: `release-${what}`,
      met: false,
      action: `Release in the unit: ${temporaryAnswers[what].label.toLowerCase()}`,
      where: at('unit', 'answers'),
    }))

export const unitRules: Rule[] = [
  {
    id: 'unit.differs',
    where: at('unit', 'answers'),
    check: (c) => {
      const { differing } = heldAnswers(c)
      if (!differing.length) return null
      const worst = differing.filter((x) => x.answer.dangerous)
      return finding(
        worst.length ? 'stop' : 'warn',
        differing.length === 1
          ? 'The unit holds another value than was meant'
          : `The unit holds ${differing.length} other values than were meant`,
        `${list((worst.length ? worst : differing).map(differenceText), 3)}.`,
        'Which is right? Enter the wanted value in the unit, key off, read it again; or take the unit’s value into a new version of the tune.',
      )
    },
  },
  {
    id: 'unit.temporary',
    where: at('unit', 'answers'),
    check: (c) => {
      const standing = unreleased(c)
      if (!standing.length) return null
      return finding(
        'warn',
        standing.length === 1 ? 'An answer stands for the time being' : `${standing.length} answers stand for the time being`,
        `${standing
          .map(
            ({ value: { what, value } }) =>
              `${temporaryAnswers[what].label}${value === undefined ? '' : ` at ${value}${temporaryAnswers[what].needs === 'rpm' ? ' rpm' : '°'}`}, until ${temporaryAnswers[what].until}`,
          )
          .join('; ')}.`,
        'Set it back in the unit when that is so, and release it here.',
      )
    },
  },
  {
    id: 'unit.learned-not-logged',
    where: at('unit', 'thing'),
    check: (c) => {
      const { learns, logs } = c.build.choices.unit ?? {}
      return learns === 'itself' && logs !== undefined && !logs.includes('learned')
        ? finding(
            'note',
            'Its log does not tell what it has learned',
            'The unit learns by itself, and the learned value is not among what it logs.',
            'Bring its learned table as a file after each drive: without one only what is left can be judged, not whether what it learned is believable.',
          )
        : null
    },
  },
  {
    id: 'unit.sources',
    where: at('unit', 'thing'),
    check: (c) => {
      const { learns } = c.build.choices.unit ?? {}
      const figures = tuneInCar(c.build)?.figures
      const limit = figures?.learnAuthorityPct
      if (learns === undefined || limit === undefined) return null
      if (learns !== 'itself' && limit > 0)
        return finding(
          'warn',
          'Who learns is told in two ways',
          `The unit was said not to learn by itself; the tune in the car lets it learn up to ${limit} %.`,
          'Say that the unit learns, or set what it learns to 0 in the tune and send it.',
        )
      return learns === 'itself' && limit === 0 && c.build.choices.unit?.setBy === 'tables'
        ? finding(
            'warn',
            'Who learns is told in two ways',
            'The unit was said to learn by itself; the tune in the car lets it learn nothing.',
            'Set how far it may learn in the tune and send it, or say that nobody learns.',
          )
        : null
    },
  },
]
