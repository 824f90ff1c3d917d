/** Common firing orders by number of cylinders and layout: to pick from, never to assume silently. */
const known: { cylinders: number; layout: 'inline' | 'vee' | 'flat'; order: number[] }[] = [
  { cylinders: 1, layout: 'inline', order: [1] },
  { cylinders: 2, layout: 'inline', order: [1, 2] },
  { cylinders: 2, layout: 'vee', order: [1, 2] },
  { cylinders: 2, layout: 'flat', order: [1, 2] },
  { cylinders: 3, layout: 'inline', order: [1, 3, 2] },
  { cylinders: 3, layout: 'inline', order: [1, 2, 3] },
  { cylinders: 4, layout: 'inline', order: [1, 3, 4, 2] },
  { cylinders: 4, layout: 'inline', order: [1, 2, 4, 3] },
  { cylinders: 4, layout: 'vee', order: [1, 3, 4, 2] },
  { cylinders: 4, layout: 'flat', order: [1, 4, 3, 2] },
  { cylinders: 4, layout: 'flat', order: [1, 3, 2, 4] },
  { cylinders: 5, layout: 'inline', order: [1, 2, 4, 5, 3] },
  { cylinders: 6, layout: 'inline', order: [1, 5, 3, 6, 2, 4] },
  { cylinders: 6, layout: 'inline', order: [1, 4, 2, 6, 3, 5] },
  { cylinders: 6, layout: 'vee', order: [1, 4, 2, 5, 3, 6] },
  { cylinders: 6, layout: 'vee', order: [1, 2, 3, 4, 5, 6] },
  { cylinders: 6, layout: 'flat', order: [1, 6, 2, 4, 3, 5] },
  { cylinders: 8, layout: 'vee', order: [1, 8, 4, 3, 6, 5, 7, 2] },
  { cylinders: 8, layout: 'vee', order: [1, 5, 4, 2, 6, 3, 7, 8] },
  { cylinders: 8, layout: 'vee', order: [1, 3, 7, 2, 6, 5, 4, 8] },
  { cylinders: 8, layout: 'vee', order: [1, 2, 6, 3, 7, 5, 4, 8] },
  { cylinders: 8, layout: 'inline', order: [1, 6, 2, 5, 8, 3, 7, 4] },
  { cylinders: 10, layout: 'vee', order: [1, 10, 9, 4, 3, 6, 5, 8, 7, 2] },
  { cylinders: 12, layout: 'vee', order: [1, 7, 5, 11, 3, 9, 6, 12, 2, 8, 4, 10] },
  { cylinders: 12, layout: 'flat', order: [1, 9, 5, 12, 3, 8, 6, 10, 2, 7, 4, 11] },
]

export const firingOrdersFor = (cylinders?: number, layout?: string): number[][] =>
  known
    .filter((k) => (cylinders === undefined || k.cylinders === cylinders) && (layout === undefined || k.layout === layout))
    .map((k) => k.order)
    .filter((order, i, all) => all.findIndex((other) => other.join() === order.join()) === i)

export const isPermutation = (order: readonly number[], cylinders: number): boolean =>
  order.length === cylinders && [...order].sort((a, b) => a - b).every((value, i) => value === i + 1)

/** "1-5-3-6-2-4", "1 5 3 6 2 4", "153624" -> numbers; null when it is not a list of numbers. */
export function parseFiringOrder(text: string): number[] | null {
  const trimmed = text.trim()
  const parts = /^\d+$/.test(trimmed) && trimmed.length <= 9 ? [...trimmed] : trimmed.split(/[\s,;\-–/.]+/)
  const numbers = parts.filter(Boolean).map(Number)
  return numbers.length > 0 && numbers.every((n) => Number.isInteger(n) && n > 0) ? numbers : null
}
