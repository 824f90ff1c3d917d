import { defaultPreferences, type Dimension, dimensions, displayUnit, formatQuantity, type UnitPreferences } from './units.ts'

/** A metric number in a sentence. It keeps its dimension, so that the screen can give psi to whom reads psi. */
export interface Quantity {
  value: number
  dimension: Dimension
  decimals?: number
}
/** A sentence as data: text with quantities between; there is one more piece of text than there are quantities. */
export interface Saying {
  text: readonly string[]
  quantities: readonly Quantity[]
}
export type Said = string | Saying

const isSaying = (part: unknown): part is Saying => typeof part === 'object' && part !== null && 'text' in part && 'quantities' in part
const isQuantity = (part: unknown): part is Quantity => typeof part === 'object' && part !== null && 'dimension' in part

/** The template of every message: say`${kPa(14.2)} left of ${kPa(20)}`. Text, numbers, quantities and other sayings may stand in it. */
export function say(strings: TemplateStringsArray, ...parts: (string | number | Quantity | Saying)[]): Saying {
  const text = [strings[0]]
  const quantities: Quantity[] = []
  const more = (words: string): void => void (text[text.length - 1] += words)
  parts.forEach((part, i) => {
    if (isSaying(part)) {
      more(part.text[0])
      part.quantities.forEach((q, k) => {
        quantities.push(q)
        text.push(part.text[k + 1])
      })
    } else if (isQuantity(part)) {
      quantities.push(part)
      text.push('')
    } else more(String(part))
    more(strings[i + 1])
  })
  return { text, quantities }
}

/** Sayings one after the other, `between` each two. */
export const sayAll = (parts: readonly Said[], between = '; '): Saying =>
  parts.reduce<Saying>((all, part, i) => (i === 0 ? asSaying(part) : say`${all}${between}${asSaying(part)}`), {
    text: [''],
    quantities: [],
  })

export const asSaying = (said: Said): Saying => (typeof said === 'string' ? { text: [said], quantities: [] } : said)

/** A saying in a person's units; metric when nothing is said. */
export function wordsOf(said: Said, preferences: UnitPreferences = defaultPreferences): string {
  if (typeof said === 'string') return said
  return said.text.reduce((words, text, i) => {
    const q = said.quantities[i - 1]
    return words + formatQuantity(q.value, q.dimension, preferences, decimalsIn(q, preferences)) + text
  })
}
/** Decimals are told for the metric unit; another unit takes its own. */
const decimalsIn = (q: Quantity, preferences: UnitPreferences): number | undefined =>
  displayUnit(q.dimension, preferences) === dimensions[q.dimension][0] ? q.decimals : undefined

const of =
  (dimension: Dimension, usual?: number) =>
  (value: number, decimals: number | undefined = usual): Quantity => ({ value, dimension, decimals })
export const kPa = of('pressure', 0)
export const kW = of('power', 0)
export const cc = of('displacement', 0)
export const mm = of('length', 1)
export const metres = of('distance', 2)
export const degC = of('temperature', 0)
export const degCApart = of('temperatureStep', 0)
export const litresPerHour = of('pumpFlow', 0)
export const gramsPerSecond = of('massFlow', 1)
export const airM3Min = of('airVolume', 1)
export const litres = of('volume', 0)
export const metresPerSecond = of('velocity', 1)
export const kmh = of('speed', 0)
export const lambda = of('lambda', 3)
export const volts = of('voltage', 2)
export const amps = of('current', 1)
export const ohms = of('resistance', 2)
export const mm2 = of('wireArea')
