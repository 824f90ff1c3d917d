import { computed, reactive, ref } from 'vue'
import { answerMetric, answerShown, type Compared, heldAnswers, KEY_OFF_S, tuneAnswered } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

export const stateWords: Record<Compared['state'], string> = {
  equal: 'the unit holds it',
  differs: 'the unit holds another value',
  changed: 'the answer has changed since',
  open: 'not read back yet',
  missing: 'cannot be answered yet',
}
/** What a person typed of a question: a number where it asks for one; null while it is none. */
export function typedValue(compared: Compared, text: string): number | string | null {
  const trimmed = text.trim()
  if (trimmed === '') return null
  if (typeof compared.answer.value !== 'number') return trimmed
  const value = Number(trimmed.replace(',', '.'))
  return Number.isFinite(value) ? value : null
}

/** What the unit told as the place where an answer is told takes it: metric, or the id of an option. */
export const offeredOf = (answer: Compared['answer'], { value, unit }: NonNullable<Compared['told']>): number | string =>
  typeof value === 'number' ? Number(answerMetric(answer, value, unit || undefined).toPrecision(6)) : value

/** Walking through the questions of the unit: answering them at its display, or typing back what it shows after a key-off. */
export function useAnswers() {
  const builds = useBuild()
  const held = computed(() => heldAnswers(builds.context!))
  const mode = ref<'answer' | 'read-back'>('answer')
  /** of answers that are mostly in the unit only what has changed is asked anew */
  const firstOpen = () => {
    const { all, equal } = held.value
    return equal
      ? Math.max(
          0,
          all.findIndex((x) => x.state !== 'equal'),
        )
      : 0
  }
  const at = ref(firstOpen())
  const offS = ref('')
  const typed = reactive<Record<string, string>>({})
  /** unit it is typed in, where it is not the one the unit asks in */
  const typedIn = reactive<Record<string, string>>({})
  const unitOf = (x: Compared): string => typedIn[x.answer.id] ?? x.answer.unit
  /** typing back goes through what is not known to be equal; answering through all of it */
  const list = computed(() =>
    mode.value === 'answer' ? held.value.all : held.value.all.filter((x) => x.state !== 'equal' || x.answer.id in typed),
  )
  const now = computed<Compared | null>(() => list.value[Math.min(at.value, list.value.length - 1)] ?? null)
  const ready = computed(() => list.value.filter((x) => typed[x.answer.id] !== undefined && typedValue(x, typed[x.answer.id]) !== null))
  const keyOffS = computed(() => Number(offS.value.replace(',', '.')))
  const problem = computed<string | null>(() => {
    if (mode.value === 'answer' || !ready.value.length) return null
    if (offS.value.trim() === '' || !Number.isFinite(keyOffS.value))
      return `Say for how long the key was off, in seconds; ${KEY_OFF_S} s or more count.`
    return keyOffS.value < KEY_OFF_S
      ? `The key was off for ${keyOffS.value} s; ${KEY_OFF_S} s or more are wanted, so that it tells what it has kept.`
      : null
  })

  const go = (by: number): void => void (at.value = Math.max(0, Math.min(list.value.length - 1, at.value + by)))
  function open(id: string): void {
    at.value = Math.max(
      0,
      list.value.findIndex((x) => x.answer.id === id),
    )
  }
  function setMode(next: 'answer' | 'read-back'): void {
    mode.value = next
    at.value = next === 'answer' ? firstOpen() : 0
  }
  /** What was typed goes on record as one entry, with what was wanted then. */
  function record(): void {
    const tuneId = tuneAnswered(builds.current!)?.id
    if (!tuneId || problem.value || !ready.value.length) return
    const values = Object.fromEntries(ready.value.map((x) => [x.answer.id, { value: typedValue(x, typed[x.answer.id])!, unit: unitOf(x) }]))
    const wanted = Object.fromEntries(ready.value.flatMap(({ answer }) => (answer.value === null ? [] : [[answer.id, answer.value]])))
    builds.record('unit.read-back', { tuneId, offS: keyOffS.value, values, wanted }, { instrument: 'display of the unit' })
    for (const key of Object.keys(typed)) delete typed[key]
    at.value = 0
  }
  /** what was typed, in the unit the card asks in */
  function asAsked(x: Compared, value: number | string): number | string {
    return typeof value === 'number' && unitOf(x) !== x.answer.unit
      ? answerShown(x.answer, answerMetric(x.answer, value, unitOf(x)))
      : value
  }
  return { held, mode, at, offS, typed, typedIn, unitOf, asAsked, list, now, ready, problem, go, open, setMode, record }
}
