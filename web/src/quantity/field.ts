import type { Dimension } from '@vectum/core'

/** How one fact or choice is asked for. Bounds live in the core's schemas, not here. */
export type Field = { path: string; label: string; why?: string } & (
  | { kind: 'quantity'; dimension: Dimension; decimals?: number }
  | { kind: 'choice'; options: Option[] }
  | { kind: 'text' }
  | { kind: 'date' }
  | { kind: 'order' }
  | { kind: 'numbers'; dimension: Dimension; example: string }
)
export interface Option {
  value: string | boolean | number
  label: string
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
