import { type Context, readingsOf, type StoredReading, tuneInCar } from '../kernel/index.ts'
import { type TableName, tableNames } from '../tune/index.ts'
import { type Answer, answerCard, answerMetric, answerShown, type Standing } from './answers.ts'
import { isNumber } from './questions.ts'
import { KEY_OFF_S, SAME_STEPS } from './limits.ts'
import { standingTemporary } from './temporary.ts'

/** What one question of the card came to when the unit told its value after a key-off. */
export interface Compared {
  answer: Answer
  /** as typed back, in the unit it was typed in; null: not typed back yet */
  told: { value: number | string; unit: string; at: string; who: string } | null
  /** `changed`: what was compared then is no longer what is wanted */
  state: 'equal' | 'differs' | 'changed' | 'open' | 'missing'
  /** what the difference does to the car, in words; empty when there is none */
  effect: string
}

const digits = (text: string): string => text.toLowerCase().replace(/[\s,;\-–/.]+/g, '-')
/** Whether a typed value is the answer: a number within half a step, an option by its id, a list of numbers whatever stands between them. */
export function isAnswer(answer: Pick<Answer, 'value' | 'step' | 'options'>, typed: number | string): boolean {
  const { value, step } = answer
  if (value === null) return false
  if (typeof value === 'number') return typeof typed === 'number' && Math.abs(typed - value) <= SAME_STEPS * (step ?? 0)
  return digits(String(typed)) === digits(value)
}

/** What a value other than the answer does to the car: by how much the fuel is off where that can be told, else in words. */
export function effectOfAnswer(answer: Answer, typed: number | string): string {
  const q = answer.question
  if (typeof typed !== 'number' || typeof answer.value !== 'number') return answer.ifHigh
  const words = typed > answer.value ? answer.ifHigh : answer.ifLow
  if (!isNumber(q) || q.fuelPower === undefined || typed <= 0 || answer.value <= 0) return words
  const pct = 100 * ((typed / answer.value) ** q.fuelPower - 1)
  return `${Math.abs(pct).toFixed(0)} % ${pct > 0 ? 'rich' : 'lean'} everywhere`
}

/** Values typed back after a key-off that was long enough, oldest first, since the unit was last reset. */
const readBacks = (c: Context): StoredReading<'unit.read-back'>[] =>
  readingsOf(c.readings, 'unit.read-back').filter((r) => r.value.offS >= KEY_OFF_S)

/** A number as it was typed, in the unit the card asks in now. */
function inUnitOf(answer: Answer, told: { value: number | string; unit: string }): number | string {
  if (typeof told.value !== 'number' || told.unit === answer.unit || !isNumber(answer.question)) return told.value
  return answerShown(answer, answerMetric(answer, told.value, told.unit))
}

/**
 * The card against what the unit told. Each question goes by its own last value: when facts or tune change, only those whose answer changed are
 * open again.
 */
export function compareAnswers(c: Context, standing: Standing = standingTemporary(c)): Compared[] {
  const backs = readBacks(c)
  return answerCard(c, standing).map((answer): Compared => {
    const last = backs.findLast((r) => answer.id in r.value.values)
    if (!last) return { answer, told: null, state: answer.missing ? 'missing' : 'open', effect: '' }
    const { value, unit = '' } = last.value.values[answer.id]
    const told = { value, unit, at: last.takenAt, who: last.who }
    if (answer.missing) return { answer, told, state: 'missing', effect: '' }
    const now = inUnitOf(answer, told)
    if (isAnswer(answer, now)) return { answer, told, state: 'equal', effect: '' }
    // right when it was typed back: the answer has moved since
    const wasRight = last.value.wanted?.[answer.id]
    const moved = wasRight !== undefined && isAnswer({ ...answer, value: wasRight }, value)
    return { answer, told, state: moved ? 'changed' : 'differs', effect: effectOfAnswer(answer, now) }
  })
}

/** How far the unit is known to hold what was meant. */
export interface Held {
  all: Compared[]
  equal: number
  /** asked of the unit and not compared equal */
  left: Compared[]
  differing: Compared[]
}
export function heldAnswers(c: Context): Held {
  const before = known.get(c)
  if (before) return before
  const all = compareAnswers(c)
  const held = {
    all,
    equal: all.filter((x) => x.state === 'equal').length,
    left: all.filter((x) => x.state !== 'equal'),
    differing: all.filter((x) => x.state === 'differs'),
  }
  known.set(c, held)
  return held
}
/** several rules and gates ask for the same of one context */
const known = new WeakMap<Context, Held>()

/** The last export of each table or of the whole tune that was compared with the tune in the car. */
export function exportsCompared(c: Context): { complete: boolean; different: number; names: string[] } {
  const tune = tuneInCar(c.build)
  const own = readingsOf(c.readings, 'unit.export').filter((r) => r.value.tuneId === tune?.id && r.value.offS >= KEY_OFF_S)
  const last = new Map(own.map((r) => [r.value.part, r.value]))
  const parts: readonly ('document' | TableName)[] = last.has('document') ? ['document'] : tableNames
  const named = parts.filter((p) => last.has(p))
  return {
    complete: named.length === parts.length,
    different: named.reduce((sum, p) => sum + last.get(p)!.different, 0),
    names: named,
  }
}

/** Whether the unit of the car is set by answers on its own display, as far as was told. */
export const setByQuestions = (c: Pick<Context, 'build'>): boolean => c.build.choices.unit?.setBy === 'questions'
