import { z } from 'zod'
import type { Dimension } from './units.ts'

export interface FactOption {
  value: string | number | boolean
  label: string
}
/** How a fact is typed or picked. */
export type FactInput =
  | { kind: 'quantity'; dimension: Dimension; decimals?: number }
  | { kind: 'choice'; options: readonly FactOption[] }
  | { kind: 'text' }
  | { kind: 'order' }
  | { kind: 'numbers'; dimension: Dimension; example: string }

/** What sums work with while a fact is not known: a value, or how it follows from what is; and why that one. */
interface Stand<A = never> {
  value: number | string | ((from: A) => number | string)
  because: string | ((from: A) => string)
}

/** One fact, told once: field, need, assumption, unit, message and line of the report come from it. */
export interface FactSpec<S extends z.ZodType = z.ZodType> {
  schema: S
  label: string
  /** the label in the middle of a sentence, where it is not the label itself */
  inWords?: string
  input: FactInput
  /** said under its field, and where it is asked for */
  why?: string
  /** the station that asks for it before it can be sharp; `needed` when nothing can stand in for it */
  wantedBy?: string
  needed?: boolean
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  assumed?: Stand<any>
}
export type FactGroup = Readonly<Record<string, FactSpec>>
export type FactGroups = Readonly<Record<string, FactGroup>>

/** What a declaration may add to label and schema. */
export type About = Pick<FactSpec, 'inWords' | 'why' | 'wantedBy' | 'needed' | 'assumed'> & { decimals?: number }

const spec = <S extends z.ZodType>(schema: S, label: string, input: FactInput, { decimals, ...about }: About): FactSpec<S> => ({
  schema,
  label,
  input: input.kind === 'quantity' && decimals !== undefined ? { ...input, decimals } : input,
  ...about,
})
export const number = (min: number, max: number, label: string, dimension: Dimension, about: About = {}) =>
  spec(z.number().min(min).max(max), label, { kind: 'quantity', dimension }, about)
export const whole = (min: number, max: number, label: string, about: About = {}, dimension: Dimension = 'count') =>
  spec(z.int().min(min).max(max), label, { kind: 'quantity', dimension }, about)
export const oneOf = <const O extends Readonly<Record<string, string>>>(label: string, options: O, about: About = {}) => {
  const values = Object.keys(options) as [keyof O & string, ...(keyof O & string)[]]
  return spec(z.enum(values), label, { kind: 'choice', options: values.map((value) => ({ value, label: options[value] })) }, about)
}
export const yesNo = (label: string, about: About = {}) =>
  spec(
    z.boolean(),
    label,
    {
      kind: 'choice',
      options: [
        { value: true, label: 'yes' },
        { value: false, label: 'no' },
      ],
    },
    about,
  )
export const words = (label: string, about: About = {}, max = 80) => spec(z.string().trim().min(1).max(max), label, { kind: 'text' }, about)
export const mark = (label: string) =>
  spec(
    z.int().min(1).max(5),
    label,
    { kind: 'choice', options: ['1 bad', '2', '3', '4', '5 good'].map((text, i) => ({ value: i + 1, label: text })) },
    { why: '1 bad to 5 good, by the same driver before and after' },
  )
export const numbers = (item: z.ZodNumber, most: number, label: string, dimension: Dimension, example: string, about: About = {}) =>
  spec(z.array(item).min(1).max(most), label, { kind: 'numbers', dimension, example }, about)
/** A fact with a schema and an input of its own kind. */
export const own = <S extends z.ZodType>(schema: S, label: string, input: FactInput, about: About = {}) => spec(schema, label, input, about)

type Optional<G extends FactGroup> = { [K in keyof G]: z.ZodOptional<G[K]['schema']> }
/** The schema of a group: every fact may be missing, which means "not known". */
const groupSchema = <G extends FactGroup>(group: G) =>
  z.strictObject(
    Object.fromEntries(
      Object.entries(group).map(([name, { schema, why }]) => [name, why ? schema.optional().describe(why) : schema.optional()]),
    ) as Optional<G>,
  )
type Grouped<T extends FactGroups> = { [K in keyof T]: z.ZodOptional<z.ZodObject<Optional<T[K]>, z.core.$strict>> }
/** The schema of all groups. */
export const factsSchema = <T extends FactGroups>(groups: T) =>
  z.strictObject(
    Object.fromEntries(Object.entries(groups).map(([name, group]) => [name, groupSchema(group).optional()])) as unknown as Grouped<T>,
  )

/** Dotted paths of a catalogue, typed: "engine.cylinders". */
export type PathIn<T extends FactGroups> = { [G in keyof T & string]: `${G}.${keyof T[G] & string}` }[keyof T & string]
