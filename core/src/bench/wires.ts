import type { BuildData } from '../kernel/index.ts'

/** Copper at 50 degC: 0.01724 ohm mm2/m at 20 degC and 0.393 % more a kelvin. */
const COPPER_OHM_MM2_M = 0.01724 * (1 + 0.00393 * 30)
/** What the bench car's wires are while nobody told otherwise: length one way, m, and copper, mm2. */
const USUAL = {
  'main-feed': { m: 0.6, mm2: 6 },
  'unit-feed': { m: 1.6, mm2: 2 },
  'unit-ground': { m: 1.2, mm2: 4 },
  pump: { m: 5, mm2: 2 },
  'coil-feed': { m: 1.2, mm2: 1.5 },
} as const
export type BenchWire = keyof typeof USUAL

/**
 * Resistance of a wire as it was told to be there, over that of the usual one, ohm; under zero for a thicker or a shorter one.
 * @source R = rho L / A
 */
export function overUsualOhm(build: Pick<BuildData, 'choices'>, ...wires: BenchWire[]): number {
  let over = 0
  for (const id of wires) {
    const { areaMm2, measuredM } = build.choices.wiring?.circuits?.[id] ?? {}
    const { m, mm2 } = USUAL[id]
    over += COPPER_OHM_MM2_M * ((measuredM ?? m) / (areaMm2 ?? mm2) - m / mm2)
  }
  return over
}
