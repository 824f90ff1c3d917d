import { type Context, type DerivedNumber, shown } from '../kernel/index.ts'
import { overlapDeg } from './cam.ts'
import { assumedLabels, sweptCc } from './resolve.ts'
import { parseTyreSize, rollingCircumferenceM, tyreCircumference } from './tyre.ts'

/** What follows from the survey alone: shown in the docket, each with its working. */
export function surveyNumbers({ facts, resolved }: Context): DerivedNumber[] {
  const numbers: DerivedNumber[] = []
  const add = (
    number: Omit<DerivedNumber, 'station' | 'assumed' | 'inputs'> & { inputs: Record<string, unknown>; assumed?: string[] },
  ): void => void numbers.push({ assumed: [], ...number, station: 'survey', inputs: shown(number.inputs) })
  const { boreMm, strokeMm, cylinders } = facts.engine ?? {}
  if (boreMm && strokeMm && cylinders)
    add({
      id: 'survey.swept',
      label: 'Swept volume, bore x stroke',
      value: sweptCc(boreMm, strokeMm, cylinders),
      dimension: 'displacement',
      formula: 'V = pi/4 x bore^2 x stroke x cylinders',
      source: 'Geometry of the cylinder',
      inputs: { boreMm, strokeMm, cylinders },
    })
  const { inletDurationDeg, exhaustDurationDeg, lobeSeparationDeg, idleVacuumKpa } = facts.cam ?? {}
  if (inletDurationDeg && exhaustDurationDeg && lobeSeparationDeg)
    add({
      id: 'survey.overlap',
      label: 'Valve overlap at 1.27 mm',
      value: overlapDeg(inletDurationDeg, exhaustDurationDeg, lobeSeparationDeg),
      dimension: 'angle',
      formula: '(inlet + exhaust duration) / 2 - 2 x lobe separation',
      source: 'Geometry of the cam',
      inputs: { inletDurationDeg, exhaustDurationDeg, lobeSeparationDeg },
    })
  if (idleVacuumKpa !== undefined)
    add({
      id: 'survey.idle-map',
      label: 'Manifold pressure at idle',
      value: resolved.idleMapKpa,
      dimension: 'pressure',
      formula: 'barometer - vacuum',
      source: 'Definition of absolute pressure',
      inputs: { barometerKpa: resolved.barometerKpa, idleVacuumKpa },
      assumed: assumedLabels(resolved, 'place.altitudeM'),
    })
  add({
    id: 'survey.barometer',
    label: 'Air pressure here',
    value: resolved.barometerKpa,
    dimension: 'pressure',
    formula: facts.place?.barometerKpa !== undefined ? 'as read' : 'p = 101.325 (T / 288.15)^5.25588',
    source: facts.place?.barometerKpa !== undefined ? 'the survey' : 'ISO 2533:1975, standard atmosphere',
    inputs: { altitudeM: facts.place?.altitudeM ?? 'not known' },
    assumed: assumedLabels(resolved, 'place.altitudeM'),
  })
  const circumferenceM = rollingCircumferenceM(facts.gearing ?? {})
  if (circumferenceM !== null && !facts.place?.onStand) {
    const size = facts.gearing?.tyreSize ? parseTyreSize(facts.gearing.tyreSize) : null
    add({
      id: 'survey.tyre',
      label: 'Tyre, rolling circumference',
      value: circumferenceM,
      dimension: 'distance',
      formula: facts.gearing?.tyreCircumferenceM !== undefined ? 'as entered' : tyreCircumference.formula,
      source: facts.gearing?.tyreCircumferenceM !== undefined ? 'the survey' : tyreCircumference.source,
      inputs:
        size?.kind === 'metric'
          ? { widthMm: size.widthMm, aspectPct: size.aspectPct, rimIn: size.rimIn }
          : { tyre: facts.gearing?.tyreSize ?? 'measured' },
    })
  }
  return numbers
}
