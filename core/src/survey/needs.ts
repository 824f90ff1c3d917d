import { type Context, valueAt } from '../kernel/index.ts'
import { allFacts, type FactPath } from './facts.ts'
import { factInWords } from './resolve.ts'

export interface NeededFact {
  path: FactPath
  label: string
  why: string
  /** the station that waits for it */
  station: string
  /** true when nothing can stand in for it: the survey is not cleared without */
  needed: boolean
}

/** Facts that matter, in the order a person walks round the car: those nothing can stand in for, and what sharpens each later station. */
export const factsThatMatter: readonly NeededFact[] = allFacts.flatMap(({ wantedBy, needed, path, why, ...spec }) =>
  wantedBy ? [{ path, label: factInWords(spec), why: why ?? '', station: wantedBy, needed: needed === true }] : [],
)
/** Facts that an engine on a stand does not have. */
const ROAD_ONLY = ['gearing.', 'exhaust.']
const matters = (c: Context) => factsThatMatter.filter((f) => !(c.facts.place?.onStand && ROAD_ONLY.some((p) => f.path.startsWith(p))))

const known = (c: Context, path: FactPath): boolean =>
  (path === 'engine.displacementCc' ? (c.resolved.displacementCc ?? undefined) : valueAt(c.facts, path)) !== undefined ||
  (path === 'place.altitudeM' && c.facts.place?.barometerKpa !== undefined)

/** Facts the survey still lacks and nothing stands in for. */
export const missingFacts = (c: Context): NeededFact[] => matters(c).filter((f) => f.needed && !known(c, f.path))

/** What would sharpen a later station and is not known yet. */
export const sharpeningFacts = (c: Context, station?: string): NeededFact[] =>
  matters(c).filter((f) => !f.needed && (station === undefined || f.station === station) && !known(c, f.path))
