import { asSaying, type Dimension, type FactInput, type Said, say, sayAll } from '../kernel/index.ts'
import { type FactPath, findFact } from './facts.ts'

const quantity = (value: number, dimension: Dimension, decimals?: number) => ({
  value,
  dimension,
  decimals: Number.isInteger(value) ? 0 : decimals,
})

/** A value as the catalogue says its kind of field shows it; "not known" when it is not there. */
export function inputSays(input: FactInput, value: unknown): Said {
  if (value === undefined || value === null) return 'not known'
  switch (input.kind) {
    case 'quantity':
      return typeof value === 'number' ? say`${quantity(value, input.dimension, input.decimals)}` : String(value as string)
    case 'numbers':
      return sayAll(
        (value as number[]).map((v) => say`${quantity(v, input.dimension)}`),
        ', ',
      )
    case 'order':
      return (value as number[]).join('-')
    case 'choice':
      return input.options.find((o) => o.value === value)?.label ?? String(value as string)
    case 'text':
      return String(value as string)
  }
}
/** A fact's value in words. */
export const factSays = (path: FactPath, value: unknown): Said => inputSays(findFact(path)!.input, value)

/** Values of no catalogue, in words. */
export const plainSays = (value: unknown): Said => {
  if (value === undefined || value === null) return 'not known'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return String(Number(value.toPrecision(6)))
  if (Array.isArray(value)) return value.some((v) => typeof v === 'object') ? `${value.length} elements` : value.join('-')
  return typeof value === 'object' ? 'changed' : asSaying(String(value as string).replaceAll('-', ' '))
}
