import { type CamClass, standardAtmosphere } from '../air/index.ts'
import { asSaying, type FactSpec, say, type Saying, type Told, valueAt } from '../kernel/index.ts'
import { camClassFromIdleMap, camClassFromOverlap, overlapDeg } from './cam.ts'
import { type AssumeFrom, factAt, type FactPath } from './facts.ts'
import { isTired } from './health.ts'
import { boostKpaOf, nitrousKwOf } from './induction.ts'
import { upperPowerKw, usualPower } from './usual-power.ts'

/** A fact that was not known and is worked with all the same: what was taken, and why. Listed on the hand-over sheet. */
interface Assumption {
  path: FactPath
  label: string
  value: Saying
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
  /** what an assumed power may be off by, as a share; 0 for one that was told */
  powerSpread: number
  /** power that pump and injectors are sized for: a told one, or the upper end of an assumed one; nitrous counted where it draws on them */
  sizing: { pumpKw: number; injectorKw: number } | null
  camClass: CamClass
  barometerKpa: number
  idleMapKpa: number
  fuelKind: 'petrol' | 'e10' | 'e85'
  octaneRon: number
  automatic: boolean
  /** an intercooler takes the heat of the boost */
  cooledBoost: boolean
  /** cylinders unlike each other: less spark for all */
  tired: boolean
  rotorRadiusMm: number
  rotorTipWidthMm: number
  terminalWidthMm: number
  coilPrimaryOhm: number
  coilInductanceMh: number
  damperDiameterMm: number | null
  assumptions: Assumption[]
}

/** Swept volume from bore, stroke and cylinders, cm3. */
export const sweptCc = (boreMm: number, strokeMm: number, cylinders: number): number =>
  ((Math.PI / 4) * boreMm * boreMm * strokeMm * cylinders) / 1000

/** A label in the middle of a sentence. */
export const inSentence = (label: string): string => label.charAt(0).toLowerCase() + label.slice(1)
export const factInWords = ({ label, inWords }: Pick<FactSpec, 'label' | 'inWords'>): string => inWords ?? inSentence(label)

/** A power that somebody estimated may be off by this; one from a dyno, from papers or of the plan's own figure is taken as it stands. */
const ESTIMATE_SPREAD = 0.1
const spreadOfTold = ({ engine }: Told['facts'], choices: NonNullable<Told['choices']>): number =>
  choices.plan?.overrides?.power === undefined && engine?.powerKw !== undefined && engine.powerSource === 'estimate' ? ESTIMATE_SPREAD : 0

/** What assumptions begin from; cam, barometer and displacement come in as they are settled. */
const assumeFrom = (facts: Told['facts']): AssumeFrom => ({
  camClass: 'stock',
  barometerKpa: 0,
  displacementCc: 0,
  compressionRatio: facts.engine?.compressionRatio,
  carburettors: facts.fuel?.carburettors,
  boostKpa: boostKpaOf(facts),
  cooledBoost: facts.induction?.intercooler === true,
  beltDriven: facts.induction?.drive === 'belt',
})

/** Nitrous without nozzles of its own draws its fuel through the injectors; the pump feeds it in any case. */
const sizingOf = (kw: number, facts: Told['facts']): { pumpKw: number; injectorKw: number } => ({
  pumpKw: kw + nitrousKwOf(facts),
  injectorKw: kw + (facts.induction?.nitrousFuel === 'nozzles' ? 0 : nitrousKwOf(facts)),
})

/** Rotor and cap are only asked after where there is a distributor to keep. */
const ROTOR_FACTS: readonly FactPath[] = ['ignition.rotorRadiusMm', 'ignition.rotorTipWidthMm', 'ignition.terminalWidthMm']
const WITHOUT_ROTOR: readonly (string | undefined)[] = ['crank-cam', 'toothed-wheel']

/**
 * The one resolution of what was told: the fact itself, else a person's own figure from the plan, else the catalogue's stated assumption.
 * Every judgement, tune, bench and sheet works from it.
 */
export function resolveFacts({ facts, choices = {} }: Told): ResolvedFacts {
  const assumptions: Assumption[] = []
  const from = assumeFrom(facts)
  const told = <T>(path: FactPath): T | undefined => valueAt(facts, path) as T | undefined
  /** The fact, or the catalogue's assumption of it. */
  function take<T extends string | number>(path: FactPath, known: T | undefined = told<T>(path)): T {
    if (known !== undefined) return known
    const spec = factAt(path)
    const { assumed, input } = spec
    const { value, because } = assumed!
    const taken = typeof value === 'function' ? value(from) : value
    const shown =
      input.kind === 'quantity' && typeof taken === 'number'
        ? say`${{ value: taken, dimension: input.dimension, decimals: Number.isInteger(taken) ? 0 : undefined }}`
        : asSaying(input.kind === 'choice' ? (input.options.find((o) => o.value === taken)?.label ?? String(taken)) : String(taken))
    assumptions.push({ path, label: factInWords(spec), value: shown, reason: typeof because === 'function' ? because(from) : because })
    return taken as T
  }
  const { engine = {}, cam = {}, ignition = {}, gearing = {}, place = {} } = facts
  const cylinders = engine.cylinders ?? null
  const displacementCc =
    engine.displacementCc ?? (engine.boreMm && engine.strokeMm && cylinders ? sweptCc(engine.boreMm, engine.strokeMm, cylinders) : null)
  const barometerKpa = place.barometerKpa ?? standardAtmosphere.run({ altitudeM: take<number>('place.altitudeM') }).pressureKpa
  from.barometerKpa = barometerKpa
  const byNumbers =
    cam.inletDurationDeg && cam.exhaustDurationDeg && cam.lobeSeparationDeg
      ? camClassFromOverlap(overlapDeg(cam.inletDurationDeg, cam.exhaustDurationDeg, cam.lobeSeparationDeg))
      : undefined
  const byVacuum = cam.idleVacuumKpa !== undefined ? camClassFromIdleMap(barometerKpa - cam.idleVacuumKpa) : undefined
  const camClass = byVacuum ?? take<CamClass>('cam.class', byNumbers ?? cam.class)
  from.camClass = camClass
  from.displacementCc = displacementCc ?? 0
  const powerTold = choices.plan?.overrides?.power?.value ?? engine.powerKw ?? facts.baseline?.dynoKw
  const powerKw = powerTold ?? (displacementCc === null ? null : take<number>('engine.powerKw'))
  const powerSpread = powerTold === undefined ? usualPower(from).spread : spreadOfTold(facts, choices)
  const resolved: ResolvedFacts = {
    cylinders,
    displacementCc,
    powerKw,
    powerSpread,
    sizing: powerKw === null ? null : sizingOf(upperPowerKw(powerKw, powerSpread), facts),
    camClass,
    barometerKpa,
    compressionRatio: take('engine.compressionRatio'),
    chamber: take('engine.chamber'),
    redlineRpm: take('engine.redlineRpm'),
    idleMapKpa: barometerKpa - take<number>('cam.idleVacuumKpa'),
    fuelKind: take('fuel.kind'),
    octaneRon: take('fuel.octaneRon'),
    automatic: gearing.gearbox === 'automatic',
    cooledBoost: from.cooledBoost,
    tired: isTired(facts),
    rotorRadiusMm: take('ignition.rotorRadiusMm'),
    rotorTipWidthMm: take('ignition.rotorTipWidthMm'),
    terminalWidthMm: take('ignition.terminalWidthMm'),
    coilPrimaryOhm: take('ignition.coilPrimaryOhm'),
    coilInductanceMh: take('ignition.coilInductanceMh'),
    damperDiameterMm: ignition.damperDiameterMm ?? null,
    assumptions,
  }
  if (WITHOUT_ROTOR.includes(choices.spark?.trigger)) resolved.assumptions = assumptions.filter((a) => !ROTOR_FACTS.includes(a.path))
  return resolved
}

/** Labels of those facts among `paths` that had to be assumed. */
export const assumedLabels = (resolved: Pick<ResolvedFacts, 'assumptions'>, ...paths: FactPath[]): string[] =>
  resolved.assumptions.filter((a) => paths.includes(a.path)).map((a) => a.label)
