import {
  type Caution,
  cautions,
  checkEntryField,
  type ChoiceTable,
  type EntryKind,
  type UnitPreferences,
  wordsOf,
} from '../kernel/index.ts'
import { roofOver } from './roof.ts'
import { stations } from './stations.ts'

const roof = roofOver(stations)
export const rules = roof.rules
export const entryKinds = roof.entryKinds
export const ToldFacts = roof.Facts
export const Choices = roof.Choices
export type Choices = ChoiceTable
export const contextOf = roof.contextOf
export const evaluate = roof.evaluate

/** Cautions of a station, in the order it tells them. */
export const cautionsFor = (id: string): Caution[] => {
  const shown: readonly string[] =
    (stations as readonly { id: string; cautions?: readonly string[] }[]).find((s) => s.id === id)?.cautions ?? []
  return cautions.filter((c) => shown.includes(c.id))
}

/** One line for people about an entry; `value` must be of its kind's schema. */
export const entryWords = (kind: EntryKind, value: unknown, preferences?: UnitPreferences): string =>
  wordsOf(entryKinds[kind].says(value as never), preferences)

/** What is wrong with one field of an entry, in words with bound and unit; null when it can be taken. The same schema decides on the server. */
export const checkReading = (kind: EntryKind, field: string, value: unknown): string | null =>
  checkEntryField(entryKinds[kind], field, value)
