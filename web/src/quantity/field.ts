import { factAt, pathWords, type Dimension, type FactInput, type FactOption, type FactPath } from '@vectum/core'

/** How one fact or choice is asked for. Bounds live in the core's schemas; a fact's words in the core's catalogue. */
export type Field = { path: string; label: string; why?: string } & (FactInput | { kind: 'date' })
export type Option = FactOption

/** The field of a fact, as the catalogue tells it. */
export const factField = (path: FactPath): Field => {
  const { label, why, input } = factAt(path)
  return { path: `facts.${path}`, label, why, ...input }
}

/** The field of a choice: its label stands in the core, where the logbook reads it too. */
export const quantity = (path: string, dimension: Dimension, why?: string, decimals?: number): Field => ({
  kind: 'quantity',
  path,
  label: pathWords(path),
  dimension,
  why,
  decimals,
})
export const pick = (path: string, options: [Option['value'], string][], why?: string): Field => ({
  kind: 'choice',
  path,
  label: pathWords(path),
  why,
  options: options.map(([value, text]) => ({ value, label: text })),
})
export const yesNo = (path: string, why?: string): Field =>
  pick(
    path,
    [
      [true, 'yes'],
      [false, 'no'],
    ],
    why,
  )
export const words = (path: string, why?: string): Field => ({ kind: 'text', path, label: pathWords(path), why })
