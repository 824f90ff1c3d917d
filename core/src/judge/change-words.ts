import { type Change, inputWords, type Said, say, type Saying } from '../kernel/index.ts'
import { choiceLabels } from './choice-labels.ts'
import { findFact, inputSays, plainSays } from '../survey/index.ts'

/** Name of a fact or choice by its path, as a person knows it: the catalogue's label, else the words of the path. */
export function pathWords(path: string): string {
  const fact = findFact(path.replace(/^facts\./, ''))
  if (fact) return fact.label
  const [, rehearsed, rest] = /^(?:choices\.)?(rehearsal\.)?(.*)$/.exec(path.replace(/^facts\./, ''))!
  const named = (label: string): string => (rehearsed ? `Rehearsed: ${label}` : label)
  if (choiceLabels[rest]) return named(choiceLabels[rest])
  const parts = rest.split('.')
  // what stands in a list under a name of its own: "Wire cut to, pump"
  for (const k of [2, 3]) {
    const each = choiceLabels[[...parts.slice(0, k), '*', ...parts.slice(k + 1)].join('.')]
    if (each && parts.length > k) return named(`${each}, ${parts[k].replaceAll('-', ' ')}`)
  }
  const words = parts
    .map((part) => inputWords(part).words)
    .map((word, i) => (i === 0 ? word.charAt(0).toUpperCase() + word.slice(1) : word))
    .join(', ')
  return named(words)
}

/** A value at a path in words, with its unit. */
export function valueSays(path: string, value: unknown): Said {
  const fact = findFact(path.replace(/^facts\./, ''))
  if (fact) return inputSays(fact.input, value)
  const { dimension } = inputWords(path.split('.').at(-1)!)
  return dimension && typeof value === 'number' ? inputSays({ kind: 'quantity', dimension }, value) : plainSays(value)
}

/** A change of a fact or choice for the logbook: what it was and what it is. */
export const changeSays = ({ path, from, to }: Change): Saying => {
  const said = (value: unknown): Saying => {
    const words = valueSays(path, value)
    return typeof words === 'string' ? say`${words}` : words
  }
  return say`${pathWords(path)}: ${said(from)} → ${said(to)}`
}
