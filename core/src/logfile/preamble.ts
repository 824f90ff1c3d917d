/** What the lines above the names tell of the day and the display. */
export interface Preamble {
  barometerKpa?: number
  stoichAfr?: number
}

const PRESSURE: readonly (readonly [RegExp, number])[] = [
  [/^kpa/, 1],
  [/^(hpa|mbar|mb)/, 0.1],
  [/^bar/, 100],
  [/^(inhg|"hg|in hg|in\.hg)/, 3.386389],
  [/^(mmhg|mm hg|torr)/, 0.1333224],
  [/^psi/, 6.894757],
]
const NUMBER = String.raw`([0-9]+(?:[.,][0-9]+)?)`
const BARO = new RegExp(
  String.raw`(?:baro\w*|ambient pressure|atmos\w* pressure|luftdruck|umgebungsdruck|pression atmos\w*|presi[oó]n atmos\w*|pressione atmos\w*|press[aã]o atmos\w*|luchtdruk|lufttryck|ci[sś]nienie atmos\w*)[^0-9\n]{0,24}?` +
    NUMBER +
    String.raw`\s*([a-z"][a-z". ]*)?`,
  'i',
)
const STOICH = new RegExp(String.raw`(?:stoich\w*|st[oö]chio\w*|stoechio\w*|estequi\w*|stechio\w*|stekio\w*)[^0-9\n]{0,24}?` + NUMBER, 'i')

/** A barometer without a unit is in the one it can be. */
function kpaOf(value: number, unit: string): number | undefined {
  const named = PRESSURE.find(([is]) => is.test(unit.trim().toLowerCase()))
  const tried = named ? [value * named[1]] : [value, value * 0.1, value * 3.386389, value * 0.1333224, value * 100, value * 6.894757]
  return tried.find((kpa) => kpa > (named ? 55 : 78) && kpa < 110)
}
const toNumber = (text: string): number => Number(text.replace(',', '.'))

/** @param lines lines above the names, as they stand in the file */
export function readPreamble(lines: readonly string[]): Preamble {
  const told: Preamble = {}
  for (const line of lines) {
    const baro = BARO.exec(line)
    if (baro) told.barometerKpa ??= kpaOf(toNumber(baro[1]), baro[2] ?? '')
    const stoich = STOICH.exec(line)
    const afr = stoich ? toNumber(stoich[1]) : NaN
    if (afr > 5 && afr < 20) told.stoichAfr ??= afr
  }
  if (told.barometerKpa === undefined) delete told.barometerKpa
  return told
}
