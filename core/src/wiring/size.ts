import { ampacityA, fuseFor, FUSES_A, INSULATION_C, voltageDrop } from '../electrics/index.ts'
import { LEAST_AREA_MM2 } from './limits.ts'

/** Copper that shops have, mm2. */
const AREAS_MM2 = [0.5, 0.75, 1, 1.5, 2, 2.5, 3, 4, 6, 10, 16, 25, 35] as const

/** What a wire must do. */
export interface WireAsk {
  continuousA: number
  /** start surge, A */
  surgeA: number
  lengthM: number
  ambientC: number
  /** loaded wires in its bundle, this one counted */
  loadedWires: number
  dropLimitV: number
  /** joints, contacts and what is measured of the way back, ohm */
  jointsOhm: number
  fused: boolean
}
export interface WireSize {
  areaMm2: number
  /** null: it has none */
  fuseA: number | null
  dropV: number
  /** what it bears in its bundle, and alone: by this the fuse is judged, A */
  bearsA: number
  aloneA: number
  /** temperature of the copper, degC */
  copperC: number
  /** what asked for this size; null: a person chose it */
  by: 'strength' | 'current' | 'drop' | 'fuse' | null
}

/** Loss and warmth of one size of wire. The rise goes with the square of the current, and is all of what the insulation has left at what it bears. */
function judged(ask: WireAsk, areaMm2: number, fuseA: number | null, by: WireSize['by']): WireSize {
  const { ambientC, continuousA: currentA, lengthM } = ask
  const aloneA = ampacityA({ areaMm2, ambientC })
  const bearsA = ampacityA({ areaMm2, ambientC, loadedWires: ask.loadedWires })
  const copperC = Math.min(INSULATION_C, ambientC + (INSULATION_C - ambientC) * (currentA / bearsA) ** 2)
  const wire = voltageDrop.run({ currentA, lengthM, areaMm2, temperatureC: copperC, returnThroughWire: false })
  return { areaMm2, fuseA, dropV: wire.dropV + currentA * ask.jointsOhm, bearsA, aloneA, copperC, by }
}

/**
 * The least wire that bears its current in its bundle, keeps within its loss, and lets a fuse stand over its load and under what it bears alone.
 * @param told what a person chose of it
 * @returns null where no wire that shops have will do
 * @source heat by I^2 R; fuse at 1.25 times the steady load, over its start surge
 */
export function sizeWire(ask: WireAsk, told: { areaMm2?: number; fuseA?: number } = {}): WireSize | null {
  const fuseA = !ask.fused || told.fuseA === 0 ? null : (told.fuseA ?? fuseFor(ask.continuousA, ask.surgeA))
  if (told.areaMm2 !== undefined)
    return judged(ask, told.areaMm2, told.fuseA === undefined && ask.fused ? fuseUnder(ask, told.areaMm2) : fuseA, null)
  if (ask.fused && told.fuseA !== 0 && fuseA === null) return null
  let by: WireSize['by'] = 'strength'
  for (const areaMm2 of AREAS_MM2) {
    if (areaMm2 < LEAST_AREA_MM2) continue
    const size = judged(ask, areaMm2, fuseA, by)
    if (size.bearsA < ask.continuousA) by = 'current'
    else if (size.dropV > ask.dropLimitV) by = 'drop'
    else if (fuseA !== null && fuseA > size.aloneA) by = 'fuse'
    else return size
  }
  return null
}
/** The fuse for a wire that is there: the one for its load, also where the wire bears less; then that is a finding. */
const fuseUnder = (ask: WireAsk, areaMm2: number): number | null => {
  const aloneA = ampacityA({ areaMm2, ambientC: ask.ambientC })
  return fuseFor(ask.continuousA, ask.surgeA) ?? FUSES_A.filter((a) => a <= aloneA).at(-1) ?? null
}
