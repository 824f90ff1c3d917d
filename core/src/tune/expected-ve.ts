import { peakTorqueRpm, veModel } from '../air/index.ts'
import { type ChoiceTable, smooth } from '../kernel/index.ts'
import { type Facts, idleTargetRpm, type ResolvedFacts } from '../survey/index.ts'
import { type FullLoad, fullLoad } from './full-load.ts'
import { FULL_LOAD_SHARE } from './limits.ts'

/** Share of the way from intake air to coolant that a tune takes the charge to be heated: half-way between intake air and a warm port. */
export const CHARGE_HEAT_SHARE = 0.3
/** VE at full power that papers can ask of an engine of the time, % */
const LEAST_VE_PCT = 55
const MOST_VE_PCT = 125
/** the full-load margin comes in from this share of the barometer to where full load begins */
const MARGIN_FROM = 0.75

export interface ExpectedVe {
  /** %, referred to manifold pressure and charge temperature, full-load margin included */
  ve: (rpm: number, mapKpa: number) => number
  papers: FullLoad
  fullPowerVePct: number | null
  torqueRpm: number
}

/** The VE that survey and plan let an engine expect: the cam class's shape, brought to the power the papers give, with the margin of full load. */
export function expectedVe(facts: Facts, choices: ChoiceTable, r: ResolvedFacts): ExpectedVe {
  const papers = fullLoad(facts, r, CHARGE_HEAT_SHARE)
  const fullPowerVePct = papers.vePct === null ? null : Math.min(MOST_VE_PCT, Math.max(LEAST_VE_PCT, papers.vePct))
  const model = veModel({
    cam: r.camClass,
    route: choices.plan?.route ?? 'throttle-body',
    redlineRpm: r.redlineRpm,
    barometerKpa: r.barometerKpa,
    idleRpm: idleTargetRpm(r),
    idleMapKpa: r.idleMapKpa,
    compressionRatio: r.compressionRatio,
    fullPowerVePct: fullPowerVePct ?? undefined,
  })
  return {
    ve: (rpm, mapKpa) =>
      model(rpm, mapKpa) * (1 + papers.margin * smooth(MARGIN_FROM * r.barometerKpa, FULL_LOAD_SHARE * r.barometerKpa, mapKpa)),
    papers,
    fullPowerVePct,
    torqueRpm: peakTorqueRpm(r.camClass, r.redlineRpm),
  }
}
