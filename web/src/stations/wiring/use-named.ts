import { ref } from 'vue'
import { checkFact } from '@vectum/core'
import { idOf } from '../../quantity/id-of.ts'

/** Something with a name, added to a list of the wiring: checked by the core, under an id made of its name. */
export function useNamed<T extends { name: string }>(list: string, taken: () => readonly string[], add: (id: string, value: T) => void) {
  const problem = ref<string | null>(null)
  function tryAdd(value: T): boolean {
    const name = value.name.trim()
    const id = idOf(name)
    const whole = { ...value, name }
    problem.value = !id
      ? 'must have a name that begins with a letter'
      : taken().includes(id)
        ? `"${name}" is there already`
        : checkFact(`choices.wiring.${list}.${id}`, whole)
    if (problem.value) return false
    add(id, whole)
    return true
  }
  return { problem, tryAdd }
}
