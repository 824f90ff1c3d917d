import {
  at,
  type Context,
  type Dimension,
  dimensions,
  toDisplay,
  toMetric,
  tuneInCar,
  type TuneSummary,
  type Unit,
  type Where,
} from '../kernel/index.ts'
import { parameterSpecs, type TuneFigures } from '../tune/index.ts'
import type { UnitChoices } from './choices.ts'
import { isNumber, type NumberQuestion, type Question, type QuestionGroup, questions, type SafeSide } from './questions.ts'

/** One line of the answer card: what the unit asks, and what to answer for this car. */
export interface Answer {
  id: string
  group: QuestionGroup
  /** as the unit words it, or as the general list does */
  words: string
  /** what to type: a number in `unit`, rounded to `step` toward the safe side, or the id of an option; null while something is missing */
  value: number | string | null
  /** value as it is read aloud */
  shown: string
  unit: string
  step: number | null
  /** before rounding, in `unit` */
  exact: number | null
  rounded: { side: SafeSide; because: string } | null
  options: Readonly<Record<string, string>> | null
  from: string
  /** the place where that is told and changed, where there is one */
  toldAt?: Where
  /** what must be told before it can be answered */
  missing: string | null
  ifHigh: string
  ifLow: string
  dangerous: boolean
  /** a temporary answer stands in its place until it is released */
  temporary: boolean
  question: Question
  /** of the fuel told, for mixtures in AFR */
  stoichAfr?: number
}

/** The tune that the answers are of: the one in the car, else the newest that is ready, else the newest. */
export const tuneAnswered = (build: Pick<Context['build'], 'tunes'>): TuneSummary | null =>
  tuneInCar(build) ?? build.tunes.findLast((t) => t.status === 'ready') ?? build.tunes.at(-1) ?? null

const MIXTURE: Unit = { id: 'AFR', scale: 1 / 14.7, decimals: 1 }
/** Units that an answer of a dimension can be asked in. AFR is by the fuel's own stoichiometric ratio. */
export function unitsFor(dimension: Dimension, stoichAfr = 14.7): readonly Unit[] {
  const own: readonly Unit[] = dimensions[dimension]
  return dimension === 'lambda' ? [...own, { ...MIXTURE, scale: 1 / stoichAfr }] : own
}
/** The unit that a question is asked in: what was said of it, else what the unit shows such things in, else metric. */
function unitOf(q: NumberQuestion, unit: UnitChoices, stoichAfr?: number): Unit {
  const units = unitsFor(q.dimension, stoichAfr)
  const by: Partial<Record<Dimension, string>> = { lambda: unit.mixtureIn, pressure: unit.pressureIn, temperature: unit.temperatureIn }
  const wanted = unit.questions?.[q.id]?.unit ?? by[q.dimension]
  return units.find((u) => u.id === wanted) ?? units[0]
}
/** Usual step in a unit: the question's own where the unit is metric, else the last decimal the unit is shown with. */
const stepIn = (q: NumberQuestion, shown: Unit, told?: number): number =>
  told ?? (shown.id === dimensions[q.dimension][0].id ? q.step : 10 ** -shown.decimals)

const HAIR = 1e-9
/** Rounds to a step toward a side; a value that is a step already stays. */
export function roundToStep(value: number, step: number, side: SafeSide): number {
  const steps = value / step
  const whole = side === 'down' ? Math.floor(steps + HAIR) : side === 'up' ? Math.ceil(steps - HAIR) : Math.round(steps)
  return Number((whole * step).toPrecision(12))
}
const decimalsOf = (step: number): number => Math.max(0, Math.min(4, (String(step).split('.')[1] ?? '').length))
const withUnit = (value: number, step: number, unit: string): string =>
  `${value.toFixed(decimalsOf(step))}${unit ? (unit === '°' ? '°' : ` ${unit}`) : ''}`

/** A question that only this unit asks, as the list has its questions. */
const ownQuestions = (unit: UnitChoices): readonly NumberQuestion[] =>
  (unit.own ?? []).map(({ id, words, parameter, step }) => ({
    id,
    words,
    group: 'limits',
    dimension: 'number',
    step: step ?? 0.1,
    side: 'nearest',
    because: 'which side is safe is not known',
    ifHigh: 'the unit works with another figure than the tune',
    ifLow: 'the unit works with another figure than the tune',
    work: ({ figures, version }) => {
      const value = figures[parameter as keyof TuneFigures]
      return value === undefined
        ? null
        : {
            value,
            from: `tune ${version}, ${parameterSpecs[parameter]?.label.toLowerCase() ?? parameter}`,
            toldAt: at('tune', 'parameters', parameter),
          }
    },
  }))

/** Temporary answers by the question they stand over, in metric or as an option. */
export type Standing = ReadonlyMap<string, number | string>

/**
 * The answer card: each question of the unit with the answer computed for this car, in the unit's words, unit and step. Questions that do not
 * arise on this car, or that this unit does not ask, are left out.
 * @returns empty while there is no tune to answer from
 */
export function answerCard(c: Context, temporary: Standing = new Map()): Answer[] {
  const tune = tuneAnswered(c.build)
  const unit = c.build.choices.unit ?? {}
  if (!tune?.figures) return []
  const figures = tune.figures as TuneFigures
  return [...questions, ...ownQuestions(unit)].flatMap((q): Answer[] => {
    const asked = unit.questions?.[q.id]
    if (asked?.asked === false) return []
    const worked = q.work({ c, figures, version: tune.number })
    if (!worked) return []
    const line = {
      ...{ id: q.id, group: q.group, words: asked?.words ?? q.words, ifHigh: q.ifHigh, ifLow: q.ifLow },
      ...{ dangerous: q.dangerous === true, temporary: temporary.has(q.id), question: q, stoichAfr: figures.stoichAfr },
    }
    const open = { value: null, shown: '–', exact: null, rounded: null }
    const shownUnit = isNumber(q) ? unitOf(q, unit, figures.stoichAfr) : null
    const step = isNumber(q) ? stepIn(q, shownUnit!, asked?.step) : null
    const fixed = { unit: shownUnit?.id ?? '', step, options: isNumber(q) ? null : q.options }
    if ('missing' in worked) return [{ ...line, ...open, ...fixed, from: '', missing: worked.missing }]
    const from = line.temporary ? 'for the time being, until it is released' : worked.from
    const value = temporary.get(q.id) ?? worked.value
    const toldAt = line.temporary ? undefined : worked.toldAt
    if (!isNumber(q) || typeof value === 'string') {
      const text = String(value)
      const shown = isNumber(q) ? text : (q.options[text] ?? text)
      return [{ ...line, ...open, ...fixed, value: text, shown, from, toldAt, missing: null }]
    }
    const exact = toDisplay(value, shownUnit!)
    const rounded = roundToStep(exact, step!, q.side)
    return [
      {
        ...{ ...line, ...fixed, value: rounded, shown: withUnit(rounded, step!, fixed.unit), exact, from, toldAt, missing: null },
        rounded: { side: q.side, because: q.because },
      },
    ]
  })
}

/** A typed value in the metric unit of its question, for what the unit makes of it. `unit`: what it was typed in, else what the card asks in. */
export function answerMetric(answer: Answer, typed: number, unit = answer.unit): number {
  const shown = shownUnit(answer, unit)
  return shown ? toMetric(typed, shown) : typed
}
/** A metric value as the unit shows it. */
export function answerShown(answer: Answer, metric: number): number {
  const shown = shownUnit(answer, answer.unit)
  return shown ? Number(toDisplay(metric, shown).toPrecision(9)) : metric
}
const shownUnit = ({ question, stoichAfr }: Answer, unit: string): Unit | undefined =>
  isNumber(question) ? unitsFor(question.dimension, stoichAfr).find((u) => u.id === unit) : undefined
