import { KELVIN_AT_0_C, orificePsi, R_DRY_AIR_J_KGK } from '../air/index.ts'
import { rootBetween } from '../kernel/index.ts'
import type { FitupChoices, LinkageChoices } from './choices.ts'
import { FULL_DEG, TIP_IN_PEDAL } from './limits.ts'
import { plateOpenArea } from './plate-open-area.ts'

const RAD = Math.PI / 180
const WIDE_OPEN_DEG = 90
/** Own figures for usual parts while they are not told. */
const USUAL_LINKAGE = {
  pedal: { travelMm: 60, padMm: 260, armMm: 170, guideMm: 60 },
  leverMm: { round: 26, snail: 33, lever: 30 },
  startDeg: 42,
  endRadiusMm: 20,
  bracketMm: 90,
  rod: { groundMm: 160, inMm: 40, crankMm: 45, couplerMm: 160, leverMm: 32, startDeg: 65 },
  plate: { boreMm: 44, shutDeg: 6, count: 1 },
} as const

/** All of a linkage with what stands in for what nobody measured. */
export type Linkage = ReturnType<typeof wholeLinkage>
export function wholeLinkage(told: LinkageChoices = {}) {
  const { kind = 'cable', cam = 'round', pedal, rod, plate } = told
  const startDeg = told.startDeg ?? USUAL_LINKAGE.startDeg
  return {
    kind,
    cam,
    pedal: { ...USUAL_LINKAGE.pedal, ...pedal },
    leverMm: told.leverMm ?? USUAL_LINKAGE.leverMm[cam],
    endRadiusMm: told.endRadiusMm ?? USUAL_LINKAGE.endRadiusMm,
    bracketMm: told.bracketMm ?? USUAL_LINKAGE.bracketMm,
    startDeg,
    slackMm: told.slackMm ?? 0,
    rod: { ...USUAL_LINKAGE.rod, ...rod },
    plate: { ...USUAL_LINKAGE.plate, ...plate },
    carpetMm: told.carpetMm ?? 0,
    second:
      told.staged && told.second?.boreMm !== undefined
        ? { count: 1, fromPct: 40, fullDeg: WIDE_OPEN_DEG, ...told.second, boreMm: told.second.boreMm }
        : null,
  }
}

/** Angle that the pedal turns through when its pad moves so far along its arc, rad. */
const pedalRad = ({ pedal }: Linkage, share: number): number => (pedal.travelMm * share) / pedal.padMm
/** How far the cable is drawn: the end of the pedal's arm moves on its circle away from a guide that it stands square to at rest, mm. */
function pulledMm(l: Linkage, share: number): number {
  const { armMm, guideMm } = l.pedal
  const turned = pedalRad(l, share)
  // arm straight down at rest, guide in front of its end
  const end = { x: -armMm * Math.sin(turned), y: -armMm * Math.cos(turned) }
  return Math.hypot(guideMm - end.x, -armMm - end.y) - guideMm
}
/** Angle of the throttle's lever for a length of cable drawn over it, rad; null: it cannot go so far. */
function cableRad(l: Linkage, mm: number): number | null {
  const s = Math.max(0, mm - l.slackMm)
  if (l.cam === 'round') return s / l.leverMm
  if (l.cam === 'snail') {
    // radius grows evenly over a quarter turn: s = r0 a + (r1 - r0) a^2 / pi
    const growth = (l.endRadiusMm - l.leverMm) / Math.PI
    if (Math.abs(growth) < 1e-9) return s / l.leverMm
    const root = l.leverMm ** 2 + 4 * growth * s
    return root < 0 ? null : (Math.sqrt(root) - l.leverMm) / (2 * growth)
  }
  // a pin on a straight lever, the cable from a bracket: the side opposite the angle shortens as the lever comes round
  const { bracketMm: d, leverMm: r } = l
  const start = (l.startDeg + 90) * RAD
  const length = (angle: number): number => Math.sqrt(d * d + r * r - 2 * d * r * Math.cos(angle))
  const wanted = length(start) - s
  const cosine = (d * d + r * r - wanted * wanted) / (2 * d * r)
  return wanted < Math.abs(d - r) || Math.abs(cosine) > 1 ? null : start - Math.acos(cosine)
}

/**
 * Output angle of a four-bar linkage for an angle of its crank, rad; null: the coupler does not reach.
 * @param crankRad from the line between the pivots
 * @source J. J. Uicker, G. R. Pennock and J. E. Shigley, Theory of Machines and Mechanisms, position analysis of the four-bar (open branch)
 */
export function fourBarRad(l: Pick<Linkage['rod'], 'groundMm' | 'crankMm' | 'couplerMm' | 'leverMm'>, crankRad: number): number | null {
  const a = { x: l.crankMm * Math.cos(crankRad), y: l.crankMm * Math.sin(crankRad) }
  const [dx, dy] = [a.x - l.groundMm, a.y]
  const diagonal = Math.hypot(dx, dy)
  const cosine = (l.leverMm ** 2 + diagonal ** 2 - l.couplerMm ** 2) / (2 * l.leverMm * diagonal)
  if (!Number.isFinite(cosine) || Math.abs(cosine) > 1) return null
  return Math.atan2(dy, dx) - Math.acos(cosine)
}
/** The pedal's rod turns the bell lever by what it is drawn over its arm; the bell lever's other arm is the crank of the four-bar. */
function rodRad(l: Linkage, share: number): number | null {
  const { rod } = l
  const start = fourBarRad(rod, rod.startDeg * RAD)
  const crank = rod.startDeg * RAD + pulledMm(l, share) / rod.inMm
  const now = fourBarRad(rod, crank)
  return start === null || now === null ? null : now - start
}

export interface PedalPoint {
  /** share of the pedal's whole travel, 0 to 1 */
  pedal: number
  /** of the plate from square across, deg; null: the linkage cannot get there */
  plateDeg: number | null
  openMm2: number
  /** air the engine draws at the road speed that is looked at, as a share of what it draws wide open */
  air: number
}

/** Angle of the plate for a share of the pedal's travel, deg; it stops square to the air. */
export function plateDegAt(l: Linkage, share: number): number | null {
  const turned = l.kind === 'rod' ? rodRad(l, share) : cableRad(l, pulledMm(l, share))
  return turned === null ? null : Math.min(WIDE_OPEN_DEG, l.plate.shutDeg + turned / RAD)
}
const areaMm2 = (plate: Linkage['plate'], plateDeg: number): number =>
  plate.count * plateOpenArea.run({ boreMm: plate.boreMm, shutDeg: plate.shutDeg, openDeg: Math.max(plate.shutDeg, plateDeg) }).areaMm2

/**
 * How far beyond shut plates stand that open so much, deg: the law of the open area the other way round.
 * @param openMm2 of all plates together
 * @returns null for more than the bores have
 */
export function beyondShutDeg(
  { boreMm, shutDeg, count }: Pick<Linkage['plate'], 'boreMm' | 'shutDeg' | 'count'>,
  openMm2: number,
): number | null {
  const share = openMm2 / (count * (Math.PI / 4) * boreMm ** 2)
  return share > 1 ? null : Math.acos((1 - share) * Math.cos(shutDeg * RAD)) / RAD - shutDeg
}

/** What plates that were measured pass wide open, mm2, and how they stand shut; undefined while their bore is not told. */
export function measuredPlates(fitup: FitupChoices | undefined, usualCount: number): { passMm2: number; shutDeg: number } | undefined {
  const { boreMm, count = usualCount, shutDeg = USUAL_LINKAGE.plate.shutDeg } = fitup?.linkage?.plate ?? {}
  return boreMm === undefined ? undefined : { passMm2: DISCHARGE * count * (Math.PI / 4) * boreMm ** 2, shutDeg }
}

/** The engine that draws through the plates, at the road speed that a pedal is felt at. */
export interface Drawing {
  displacementCc: number
  rpm: number
  vePct: number
  barometerKpa: number
  airC: number
  /** what passes at idle beside the plates: valve and leaks, mm2 */
  idleMm2: number
}
const DISCHARGE = 0.8
/** What the cylinders take at a manifold pressure, g/s, and what a square millimetre lets through to it. */
const takenGps = (e: Omit<Drawing, 'idleMm2'>, mapKpa: number): number =>
  ((e.vePct / 100) * (e.displacementCc * 1e-6) * (e.rpm / 120) * mapKpa * 1e6) / (R_DRY_AIR_J_KGK * (e.airC + KELVIN_AT_0_C))
const passesGpsMm2 = (e: Omit<Drawing, 'idleMm2'>, mapKpa: number): number =>
  (DISCHARGE * e.barometerKpa * orificePsi(mapKpa / e.barometerKpa)) / Math.sqrt(R_DRY_AIR_J_KGK * (e.airC + KELVIN_AT_0_C))
/**
 * Air that an engine draws through an opening at a held speed: manifold pressure falls until what passes the opening is what the cylinders take.
 * @returns g/s and kPa
 * @source Heywood, appendix C, equations C.8 and C.9, with the speed-density law of section 2.10
 */
export function airThrough(openMm2: number, e: Drawing): { gps: number; mapKpa: number } {
  const mapKpa = rootBetween((p) => (openMm2 + e.idleMm2) * passesGpsMm2(e, p) - takenGps(e, p), 1, e.barometerKpa)
  return { gps: takenGps(e, mapKpa), mapKpa }
}

/** Opening that an engine draws its air through at a manifold pressure, mm2: the law above the other way round. */
export const holeMm2 = (e: Omit<Drawing, 'idleMm2'>, mapKpa: number): number => takenGps(e, mapKpa) / passesGpsMm2(e, mapKpa)

const POINTS = 50
/** What is judged of a pedal. */
export interface PedalFigures {
  /** air of the first tenth of the pedal over that of idle, share of what there is to come */
  tipInAir: number
  /** the same of the plate's way */
  tipInPlate: number
  /** plate with the pedal on the carpet, deg; null: it locks before */
  fullDeg: number | null
  /** share of the pedal that is left when the plate is wide open */
  leftOver: number
  /** share of the pedal at which the linkage can go no farther */
  locksAt: number | null
}
type PlateOf = (pedal: number) => number | null
/** Plate of a second shaft for one of the first: shut until its share of the way, then evenly to where it stands at full throttle, deg. */
export function secondDegAt({ second, plate }: Pick<Linkage, 'second' | 'plate'>, plateDeg: number): number | null {
  if (!second) return null
  const way = (plateDeg - plate.shutDeg) / (WIDE_OPEN_DEG - plate.shutDeg)
  const from = second.fromPct / 100
  return plate.shutDeg + Math.max(0, (way - from) / (1 - from)) * (second.fullDeg - plate.shutDeg)
}
/** Opening of all plates with the first shaft so far open, mm2. */
function openOf(l: Pick<Linkage, 'second' | 'plate'>, plateDeg: number): number {
  const first = areaMm2(l.plate, plateDeg)
  const second = secondDegAt(l, plateDeg)
  return second === null || !l.second ? first : first + areaMm2({ ...l.second, shutDeg: l.plate.shutDeg }, second)
}
/** How far an arm at the throttle draws a cable from shut to open, mm: the chord that its end goes over. */
export const drawnMm = (armMm: number, plate: Pick<Linkage['plate'], 'shutDeg'>, fullDeg: number): number =>
  2 * armMm * Math.sin(((fullDeg - plate.shutDeg) * RAD) / 2)

/** Share of the air still to come that the first tenth of the pedal gives. */
export function tipInAir(l: Pick<Linkage, 'second' | 'plate'>, e: Drawing, plateDegOf: PlateOf): number {
  const wide = airThrough(openOf(l, WIDE_OPEN_DEG), e).gps
  const shut = airThrough(0, e).gps
  const tipDeg = plateDegOf(TIP_IN_PEDAL)
  return tipDeg === null ? 0 : (airThrough(openOf(l, tipDeg), e).gps - shut) / (wide - shut)
}
/** Plate, opening and air over the whole pedal, for drawings. */
export function airOver(l: Pick<Linkage, 'second' | 'plate'>, e: Drawing, plateDegOf: PlateOf): PedalPoint[] {
  const wide = airThrough(openOf(l, WIDE_OPEN_DEG), e).gps
  return Array.from({ length: POINTS + 1 }, (_, i): PedalPoint => {
    const pedal = i / POINTS
    const plateDeg = plateDegOf(pedal)
    const openMm2 = plateDeg === null ? 0 : openOf(l, plateDeg)
    return { pedal, plateDeg, openMm2, air: plateDeg === null ? 0 : airThrough(openMm2, e).gps / wide }
  })
}
export function pedalFigures(l: Linkage, e: Drawing): PedalFigures {
  const degs = Array.from({ length: POINTS + 1 }, (_, i) => plateDegAt(l, i / POINTS))
  const first = (is: (deg: number | null) => boolean): number | null => {
    const i = degs.findIndex(is)
    return i < 0 ? null : i / POINTS
  }
  const { shutDeg } = l.plate
  const tipDeg = plateDegAt(l, TIP_IN_PEDAL)
  const carpeted = Math.max(0, 1 - l.carpetMm / l.pedal.travelMm)
  const wideAt = first((deg) => deg !== null && deg >= WIDE_OPEN_DEG)
  return {
    tipInAir: tipInAir(l, e, (pedal) => plateDegAt(l, pedal)),
    tipInPlate: tipDeg === null ? 0 : (tipDeg - shutDeg) / (WIDE_OPEN_DEG - shutDeg),
    fullDeg: plateDegAt(l, carpeted),
    leftOver: wideAt === null ? 0 : Math.max(0, carpeted - wideAt),
    locksAt: first((deg) => deg === null),
  }
}
export interface PedalCurve extends PedalFigures {
  points: PedalPoint[]
}
export const pedalCurve = (l: Linkage, e: Drawing): PedalCurve => ({
  ...pedalFigures(l, e),
  points: airOver(l, e, (pedal) => plateDegAt(l, pedal)),
})

/** A change of the linkage, and what it makes of the pedal. */
export interface Remedy {
  id: string
  what: string
  tipInAir: number
  fullDeg: number | null
  reachesFull: boolean
  /** force at the pedal over that of now, at the first touch; null: it is what is changed, by as much as the spring is stiff */
  force: number | null
  changed: Linkage
}
/** A remedy as it is told of the linkage: only what differs, in steps that a file and a drill make. */
export function remedyChoices(from: Linkage, { changed: to }: Remedy): LinkageChoices {
  const half = (mm: number): number => Math.round(2 * mm) / 2
  return {
    ...(to.cam === from.cam ? {} : { cam: to.cam }),
    ...(to.leverMm === from.leverMm ? {} : { leverMm: half(to.leverMm) }),
    ...(to.cam !== 'snail' || to.endRadiusMm === from.endRadiusMm ? {} : { endRadiusMm: half(to.endRadiusMm) }),
    ...(to.rod.leverMm === from.rod.leverMm ? {} : { rod: { leverMm: half(to.rod.leverMm) } }),
    ...(to.pedal.armMm === from.pedal.armMm && to.pedal.travelMm === from.pedal.travelMm
      ? {}
      : { pedal: { armMm: Math.round(to.pedal.armMm), travelMm: Math.round(to.pedal.travelMm) } }),
  }
}
const GROWN = 1.25
const FIRST_TOUCH = 0.02
/** What the plate turns for each share of the pedal once the slack is taken up, deg: virtual work makes the pedal's force go with it. */
function gear(l: Linkage): number {
  const { armMm, padMm, travelMm } = l.pedal
  const taken = l.kind === 'cable' ? (l.slackMm * padMm) / (armMm * travelMm) : 0
  return ((plateDegAt(l, taken + FIRST_TOUCH) ?? 0) - (plateDegAt(l, taken) ?? 0)) / FIRST_TOUCH
}

/** Remedies of a pedal that jumps, side by side: what each makes of tip-in, of full throttle and of the force. */
export function remedies(l: Linkage, e: Drawing): Remedy[] {
  const { pedal } = l
  const cable = l.kind === 'cable'
  const ways: [string, string, Linkage][] = [
    ['as-is', 'as it is', l],
    cable
      ? [
          'longer-lever',
          `lever of the throttle ${GROWN} times as long`,
          { ...l, leverMm: l.leverMm * GROWN, endRadiusMm: l.endRadiusMm * GROWN },
        ]
      : ['longer-lever', `lever of the throttle ${GROWN} times as long`, { ...l, rod: { ...l.rod, leverMm: l.rod.leverMm * GROWN } }],
    ['lower-hole', 'a hole nearer the pedal’s pivot', { ...l, pedal: { ...pedal, armMm: pedal.armMm / GROWN } }],
    ...(cable
      ? ([
          [
            'cam',
            'a cam that begins large and grows small',
            { ...l, cam: 'snail', leverMm: l.leverMm * 1.35, endRadiusMm: l.leverMm * 0.7 },
          ],
        ] as [string, string, Linkage][])
      : []),
    ['more-travel', 'pedal stop lower, more travel', { ...l, pedal: { ...pedal, travelMm: pedal.travelMm * GROWN } }],
  ]
  const now = gear(l)
  const compared = ways.map(([id, what, changed]): Remedy => {
    const { tipInAir, fullDeg } = pedalFigures(changed, e)
    return { id, what, tipInAir, fullDeg, reachesFull: (fullDeg ?? 0) >= FULL_DEG, force: now > 0 ? gear(changed) / now : 1, changed }
  })
  const spring = { ...compared[0], id: 'preload', what: 'a preload spring: the air stays, the foot feels where it begins', force: null }
  return [compared[0], spring, ...compared.slice(1)]
}

interface Spot {
  xMm: number
  yMm: number
}
/** A linkage as it stands with the pedal so far down: for drawings. */
export interface LinkagePose {
  /** from the pedal's pivot, forward and up: pad, end of the arm, guide of the cable */
  pad: Spot
  arm: Spot
  guide: Spot
  /** the throttle's lever from rest, deg; null: it cannot go so far */
  leverDeg: number | null
  plateDeg: number | null
  /** of a rod, from the bell lever's pivot: end of its arm, eye at the throttle's lever, throttle shaft */
  rod: { crank: Spot; eye: Spot; shaft: Spot } | null
}
export function linkagePose(l: Linkage, share: number): LinkagePose {
  const turned = pedalRad(l, share)
  const { padMm, armMm, guideMm } = l.pedal
  const plateDeg = plateDegAt(l, share)
  return {
    pad: { xMm: padMm * Math.sin(turned), yMm: -padMm * Math.cos(turned) },
    arm: { xMm: -armMm * Math.sin(turned), yMm: armMm * Math.cos(turned) },
    guide: { xMm: guideMm, yMm: armMm },
    leverDeg: plateDeg === null ? null : plateDeg - l.plate.shutDeg,
    plateDeg,
    rod: l.kind === 'rod' ? rodPose(l, share) : null,
  }
}
function rodPose(l: Linkage, share: number): LinkagePose['rod'] {
  const { rod } = l
  const crank = rod.startDeg * RAD + pulledMm(l, share) / rod.inMm
  const lever = fourBarRad(rod, crank)
  if (lever === null) return null
  const spot = (from: number, r: number, angle: number): Spot => ({ xMm: from + r * Math.cos(angle), yMm: r * Math.sin(angle) })
  return { crank: spot(0, rod.crankMm, crank), eye: spot(rod.groundMm, rod.leverMm, lever), shaft: { xMm: rod.groundMm, yMm: 0 } }
}
