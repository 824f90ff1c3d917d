import { standardAtmosphere } from '../air/standard-atmosphere.ts'
import { camClassFromIdleMap, camClassFromOverlap, overlapDeg } from './cam.ts'
import type { CamClass, Facts } from './facts.ts'

/** A fact that was not known and is worked with all the same: what was taken, and why. Listed on the hand-over sheet. */
export interface Assumption {
  path: string
  label: string
  value: string
  reason: string
}

/** Everything the sums need, known or assumed. `null` marks the few facts that nothing sensible can stand in for. */
export interface ResolvedFacts {
  cylinders: number | null
  displacementCc: number | null
  compressionRatio: number
  chamber: 'old-open' | 'wedge' | 'modern-heart'
  redlineRpm: number
  powerKw: number | null
  camClass: CamClass
  barometerKpa: number
  idleMapKpa: number
  fuelKind: 'petrol' | 'e10' | 'e85'
  octaneRon: number
  automatic: boolean
  rotorRadiusMm: number
  rotorTipWidthMm: number
  terminalWidthMm: number
  coilPrimaryOhm: number
  coilInductanceMh: number
  damperDiameterMm: number | null
  assumptions: Assumption[]
}

/** Typical kW per litre at the crank by cam class, for an engine whose power nobody knows. */
const KW_PER_LITRE: Record<CamClass, number> = { stock: 27, mild: 35, hot: 45, wild: 55 }
const REDLINE: Record<CamClass, number> = { stock: 5000, mild: 5500, hot: 6200, wild: 6800 }
const IDLE_MAP: Record<CamClass, number> = { stock: 36, mild: 45, hot: 56, wild: 66 }

/** Swept volume from bore, stroke and cylinders, cm3. */
export const sweptCc = (boreMm: number, strokeMm: number, cylinders: number): number =>
  ((Math.PI / 4) * boreMm * boreMm * strokeMm * cylinders) / 1000

/** Puts a stated assumption in the place of each fact that is not known. */
export function resolveFacts(facts: Facts): ResolvedFacts {
  const assumptions: Assumption[] = []
  const assume = <T>(known: T | undefined, path: string, label: string, value: T, reason: string, unit = ''): T => {
    if (known !== undefined) return known
    assumptions.push({ path, label, value: `${String(value)}${unit ? ` ${unit}` : ''}`, reason })
    return value
  }
  const { engine = {}, cam = {}, ignition = {}, fuel = {}, gearing = {}, place = {} } = facts
  const cylinders = engine.cylinders ?? null

  let displacementCc = engine.displacementCc ?? null
  if (displacementCc === null && engine.boreMm && engine.strokeMm && cylinders)
    displacementCc = sweptCc(engine.boreMm, engine.strokeMm, cylinders)

  let barometerKpa: number
  if (place.barometerKpa !== undefined) barometerKpa = place.barometerKpa
  else {
    const altitudeM = assume(place.altitudeM, 'place.altitudeM', 'altitude', 100, 'no place entered; most workshops are low', 'm')
    barometerKpa = standardAtmosphere.run({ altitudeM }).pressureKpa
  }

  const fromNumbers =
    cam.inletDurationDeg && cam.exhaustDurationDeg && cam.lobeSeparationDeg
      ? camClassFromOverlap(overlapDeg(cam.inletDurationDeg, cam.exhaustDurationDeg, cam.lobeSeparationDeg))
      : undefined
  const fromVacuum = cam.idleVacuumKpa !== undefined ? camClassFromIdleMap(barometerKpa - cam.idleVacuumKpa) : undefined
  const camClass =
    fromVacuum ??
    assume(fromNumbers ?? cam.class, 'cam.class', 'cam', 'stock' as CamClass, 'no cam data and no idle vacuum; a stock cam is most common')

  let powerKw = engine.powerKw ?? null
  if (powerKw === null && displacementCc !== null)
    powerKw = assume<number>(
      undefined,
      'engine.powerKw',
      'power',
      Math.round((KW_PER_LITRE[camClass] * displacementCc) / 1000),
      `typical ${KW_PER_LITRE[camClass]} kW per litre with a ${camClass} cam`,
      'kW',
    )

  return {
    cylinders,
    displacementCc,
    powerKw,
    camClass,
    barometerKpa,
    compressionRatio: assume(engine.compressionRatio, 'engine.compressionRatio', 'compression', 8.5, 'usual for the time', ':1'),
    chamber: assume(
      engine.chamber,
      'engine.chamber',
      'combustion chamber',
      'wedge' as const,
      'the middle of the three for full-load timing',
    ),
    redlineRpm: assume(engine.redlineRpm, 'engine.redlineRpm', 'redline', REDLINE[camClass], `usual with a ${camClass} cam`, 'rpm'),
    idleMapKpa:
      cam.idleVacuumKpa !== undefined
        ? barometerKpa - cam.idleVacuumKpa
        : barometerKpa -
          assume<number>(
            undefined,
            'cam.idleVacuumKpa',
            'warm idle vacuum',
            Math.round(barometerKpa - IDLE_MAP[camClass]),
            `usual with a ${camClass} cam`,
            'kPa',
          ),
    fuelKind: assume(fuel.kind, 'fuel.kind', 'fuel', 'petrol' as const, 'most common'),
    octaneRon: assume(fuel.octaneRon, 'fuel.octaneRon', 'octane', 95, 'pump petrol', 'RON'),
    automatic: gearing.gearbox === 'automatic',
    rotorRadiusMm: assume(ignition.rotorRadiusMm, 'ignition.rotorRadiusMm', 'rotor radius', 25, 'usual size; measure the rotor', 'mm'),
    rotorTipWidthMm: assume(
      ignition.rotorTipWidthMm,
      'ignition.rotorTipWidthMm',
      'rotor tip width',
      6,
      'usual size; measure the rotor',
      'mm',
    ),
    terminalWidthMm: assume(
      ignition.terminalWidthMm,
      'ignition.terminalWidthMm',
      'cap terminal width',
      5,
      'usual size; measure the cap',
      'mm',
    ),
    coilPrimaryOhm: assume(
      ignition.coilPrimaryOhm,
      'ignition.coilPrimaryOhm',
      'coil primary',
      0.75,
      'usual for an electronic coil; measure it',
      'ohm',
    ),
    coilInductanceMh: assume(
      ignition.coilInductanceMh,
      'ignition.coilInductanceMh',
      'coil inductance',
      4.5,
      'usual for an oil-filled coil',
      'mH',
    ),
    damperDiameterMm: ignition.damperDiameterMm ?? null,
    assumptions,
  }
}
