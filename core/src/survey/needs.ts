import type { Context } from '../job/context.ts'
import type { StationId } from '../job/finding.ts'
import { valueAt } from '../job/patch.ts'

export interface NeededFact {
  path: string
  label: string
  why: string
  /** the station that waits for it */
  station: StationId
  /** true when nothing can stand in for it: the survey is not cleared without */
  needed: boolean
}

const hard = (path: string, label: string, why: string): NeededFact => ({ path, label, why, station: 'survey', needed: true })
const soft = (station: StationId, path: string, label: string, why: string): NeededFact => ({ path, label, why, station, needed: false })

/** Facts that matter, in the order a person walks round the car: those nothing can stand in for, then what sharpens each later station. */
export const factsThatMatter: readonly NeededFact[] = [
  hard('engine.cylinders', 'number of cylinders', 'every firing interval comes from it'),
  hard('engine.displacementCc', 'displacement (or bore and stroke)', 'air and fuel come from it'),
  hard('engine.firingOrder', 'firing order', 'leads and coils follow it'),
  hard('ignition.kind', 'ignition now fitted', 'it decides how the unit can get its speed signal'),
  hard('ignition.leads', 'plug leads', 'solid-core leads upset a control unit'),
  hard('electrics.polarity', 'which battery pole is earthed', 'electronics need negative earth'),
  soft('plan', 'engine.powerKw', 'power', 'injectors and pump are sized by it'),
  soft('plan', 'cam.idleVacuumKpa', 'warm idle vacuum', 'the cam class and the load signal follow it'),
  soft('plan', 'induction.kind', 'induction', 'boost needs timing control'),
  soft('plan', 'place.flange', 'flange pattern', 'decides which throttle body bolts on'),
  soft('plan', 'exhaust.bung', 'sensor boss', 'a welder is booked for it'),
  soft('plan', 'electrics.chargingRatedA', 'charging, rated', 'the new loads are added to it'),
  soft('fuel', 'place.altitudeM', 'altitude', 'the pump inlet has less air over it'),
  soft('fuel', 'fuel.tankL', 'tank', 'it warms by what the return brings'),
  soft('fuel', 'fuel.tankVented', 'tank vent', 'a closed tank starves the pump'),
  soft('fuel', 'fuel.tankBaffled', 'tank baffles', 'the pick-up runs dry in bends without'),
  soft('fuel', 'fuel.mechanicalPump', 'mechanical pump', 'it must not stay in a pressure line'),
  soft('spark', 'ignition.rotation', 'rotor rotation', 'advance goes against it'),
  soft('spark', 'ignition.coilPrimaryOhm', 'coil primary', 'dwell comes from it'),
  soft('spark', 'ignition.damperDiameterMm', 'damper diameter', 'timing marks are laid out on its rim'),
  soft('tune', 'engine.compressionRatio', 'compression', 'sets the spark guard'),
  soft('tune', 'engine.chamber', 'combustion chamber', 'sets full-load timing'),
  soft('tune', 'engine.redlineRpm', 'redline', 'the tables end there'),
  soft('start', 'electrics.crankingV', 'battery while cranking', 'units reset near 8 V'),
  soft('learn', 'gearing.gearRatios', 'gear ratios', 'the drive plan turns cells into road speeds'),
  soft('learn', 'gearing.axleRatio', 'axle ratio', 'the drive plan turns cells into road speeds'),
]
/** Facts that an engine on a stand does not have. */
const ROAD_ONLY = ['gearing.', 'exhaust.']
const matters = (c: Context) => factsThatMatter.filter((f) => !(c.facts.place?.onStand && ROAD_ONLY.some((p) => f.path.startsWith(p))))

const known = (c: Context, path: string): boolean =>
  (path === 'engine.displacementCc' ? (c.resolved.displacementCc ?? undefined) : valueAt(c.facts, path)) !== undefined ||
  (path === 'place.altitudeM' && c.facts.place?.barometerKpa !== undefined)

/** Facts the survey still lacks and nothing stands in for. */
export const missingFacts = (c: Context): NeededFact[] => matters(c).filter((f) => f.needed && !known(c, f.path))

/** What would sharpen a later station and is not known yet. */
export const sharpeningFacts = (c: Context, station?: StationId): NeededFact[] =>
  matters(c).filter((f) => !f.needed && (station === undefined || f.station === station) && !known(c, f.path))
