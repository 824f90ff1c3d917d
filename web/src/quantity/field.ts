import { factAt, type Dimension, type FactInput, type FactOption, type FactPath } from '@vectum/core'

/** How one fact or choice is asked for. Bounds live in the core's schemas; a fact's words in the core's catalogue. */
export type Field = { path: string; label: string; why?: string } & (FactInput | { kind: 'date' })
export type Option = FactOption

/** The field of a fact, as the catalogue tells it. */
export const factField = (path: FactPath): Field => {
  const { label, why, input } = factAt(path)
  return { path: `facts.${path}`, label, why, ...input }
}

export const quantity = (path: string, label: string, dimension: Dimension, why?: string, decimals?: number): Field => ({
  kind: 'quantity',
  path,
  label,
  dimension,
  why,
  decimals,
})
export const pick = (path: string, label: string, options: [Option['value'], string][], why?: string): Field => ({
  kind: 'choice',
  path,
  label,
  why,
  options: options.map(([value, text]) => ({ value, label: text })),
})
export const yesNo = (path: string, label: string, why?: string): Field =>
  pick(
    path,
    label,
    [
      [true, 'yes'],
      [false, 'no'],
    ],
    why,
  )
export const words = (path: string, label: string, why?: string): Field => ({ kind: 'text', path, label, why })
