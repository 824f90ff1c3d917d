import type { ShownInput } from './finding.ts'
import { defaultPreferences, type Dimension, formatQuantity } from './units.ts'

/** Names whose words are not those they are written with. */
const SPECIAL: Readonly<Record<string, string>> = {
  bsfc: 'specific consumption',
  ve: 'volumetric efficiency',
  map: 'manifold pressure',
  rpm: 'engine speed',
  rated: 'rated flow',
  wipersAndHeater: 'wipers and heater',
  loss: 'loss factor',
  fuelDensity: 'density of the fuel',
  maxDuty: 'duty at most',
  powerKw: 'power',
}
/** The unit stands at the end of a name; the dimension follows from it. */
const SUFFIXES: readonly (readonly [RegExp, Dimension])[] = [
  [/GKwh$/, 'fuelUse'],
  [/DistDeg$/, 'angle'],
  [/DegBtdc$/, 'angle'],
  [/Deg$/, 'angle'],
  [/KgM3$/, 'density'],
  [/KgL$/, 'densityLitre'],
  [/CcMin$/, 'injectorFlow'],
  [/M3Min$/, 'airVolume'],
  [/Gps$/, 'massFlow'],
  [/Lph$/, 'pumpFlow'],
  [/Kpa$/, 'pressure'],
  [/Kw$/, 'power'],
  [/Cc$/, 'displacement'],
  [/Rpm$/, 'rpm'],
  [/Pct$/, 'percent'],
  [/Ohm$/, 'resistance'],
  [/Mh$/, 'inductance'],
  [/Mm2$/, 'wireArea'],
  [/Mm$/, 'length'],
  [/MS$/, 'velocity'],
  [/Us$/, 'timeUs'],
  [/Ms$/, 'timeMs'],
  [/Kmh$/, 'speed'],
  [/Kg$/, 'mass'],
  [/[a-z]V$/, 'voltage'],
  [/[a-z]A$/, 'current'],
  [/[a-z]C$/, 'temperature'],
  [/[a-z]M$/, 'distance'],
  [/[a-z]L$/, 'volume'],
  [/[a-z]S$/, 'timeS'],
]
/** Suffixes of one letter are matched with the letter before them, which belongs to the name. */
const bareName = (name: string, suffix: RegExp): string => {
  const cut = name.search(suffix)
  return name.slice(0, suffix.source.startsWith('[a-z]') ? cut + 1 : cut)
}
const worded = (name: string): string =>
  SPECIAL[name] ?? name.replace(/([a-z0-9])([A-Z])/g, (_, before: string, letter: string) => `${before} ${letter.toLowerCase()}`)

/** Name and dimension of an input as a person reads it: "bsfcGKwh" is specific consumption in g/kWh. */
export function inputWords(name: string): { words: string; dimension: Dimension | null } {
  if (name === 'rpm') return { words: SPECIAL.rpm, dimension: 'rpm' }
  const found = SUFFIXES.find(([suffix]) => suffix.test(name))
  return found ? { words: worded(bareName(name, found[0])), dimension: found[1] } : { words: worded(name), dimension: null }
}

/** Names of inputs stand in the code, so they are few; judgement reads them every time. */
const read = new Map<string, ReturnType<typeof inputWords>>()
function wordsOfInput(name: string): ReturnType<typeof inputWords> {
  const known = read.get(name)
  if (known) return known
  const words = inputWords(name)
  read.set(name, words)
  return words
}

/** Inputs of a calculation as a person reads them behind a number. */
export const shown = (inputs: Record<string, unknown>): ShownInput[] =>
  Object.entries(inputs).map(([name, value]) => {
    const { words, dimension } = wordsOfInput(name)
    if (typeof value !== 'number' || dimension === null)
      return { name: words, value: typeof value === 'number' ? String(Math.round(value * 1000) / 1000) : String(value) }
    return { name: words, value: formatQuantity(value, dimension, defaultPreferences), quantity: { value, dimension } }
  })
