import { engineFlow } from '../air/engine-flow.ts'
import { BSFC_NATURAL_G_KWH, fuels, MAX_DUTY_PCT, PUMP_MARGIN_PCT } from '../fuel/fuels.ts'
import { injectorFlowAtPressure } from '../fuel/injector-flow-at-pressure.ts'
import { injectorSize } from '../fuel/injector-size.ts'
import { pumpDemand } from '../fuel/pump-demand.ts'
import type { Context } from '../job/context.ts'
import { shown, type DerivedNumber } from '../job/finding.ts'
import { sweptCc } from './resolve.ts'
import { peakPowerRpm, vePeakPct } from '../tune/ve-model.ts'

/** Sizes that follow from the survey: shown in the docket, each with its working. */
export function surveyNumbers({ facts, resolved, plan }: Context): DerivedNumber[] {
  const numbers: DerivedNumber[] = []
  const assumed = (...paths: string[]) => resolved.assumptions.filter((a) => paths.includes(a.path)).map((a) => a.label)
  const { boreMm, strokeMm, cylinders } = facts.engine ?? {}
  if (boreMm && strokeMm && cylinders)
    numbers.push({
      id: 'survey.swept',
      station: 'survey',
      label: 'Swept volume, bore x stroke',
      value: sweptCc(boreMm, strokeMm, cylinders),
      dimension: 'displacement',
      formula: 'V = pi/4 x bore^2 x stroke x cylinders',
      source: 'Geometry of the cylinder',
      inputs: shown({ boreMm, strokeMm, cylinders }),
      assumed: [],
    })
  const fuel = fuels[resolved.fuelKind]
  if (resolved.displacementCc !== null) {
    const input = {
      displacementCc: resolved.displacementCc,
      rpm: peakPowerRpm(resolved.camClass, resolved.redlineRpm),
      vePct: vePeakPct(resolved.camClass, plan.route ?? 'throttle-body').power,
      pressureKpa: resolved.barometerKpa,
      temperatureC: 25,
    }
    numbers.push({
      id: 'survey.airflow',
      station: 'survey',
      label: 'Air at peak power',
      value: engineFlow.run(input).massGps,
      dimension: 'massFlow',
      formula: engineFlow.formula,
      source: engineFlow.source,
      inputs: shown(input),
      assumed: assumed('cam.class', 'engine.redlineRpm', 'place.altitudeM'),
    })
  }
  if (resolved.powerKw !== null) {
    const bsfcGKwh = BSFC_NATURAL_G_KWH * fuel.bsfcFactor
    numbers.push({
      id: 'survey.power',
      station: 'survey',
      label: 'Power planned for',
      value: resolved.powerKw,
      dimension: 'power',
      formula: facts.engine?.powerKw !== undefined ? 'as entered' : 'displacement x typical kW per litre of the cam class',
      source: facts.engine?.powerKw !== undefined ? 'the survey' : 'stated assumption, see findings',
      inputs: shown({ powerKw: resolved.powerKw }),
      assumed: assumed('engine.powerKw'),
    })
    const injectors = plan.injectors ?? null
    if (injectors !== null) {
      const input = {
        powerKw: resolved.powerKw,
        bsfcGKwh,
        injectors,
        maxDutyPct: plan.maxDutyPct ?? MAX_DUTY_PCT,
        fuelDensityKgL: fuel.densityKgL,
      }
      numbers.push({
        id: 'survey.injector',
        station: 'survey',
        label: 'Injector wanted, each',
        value: injectorSize.run(input).flowCcMin,
        dimension: 'injectorFlow',
        formula: injectorSize.formula,
        source: injectorSize.source,
        inputs: shown(input),
        assumed: assumed('engine.powerKw', 'fuel.kind'),
      })
      if (plan.injectorCcMin && plan.injectorRatedKpa && plan.fuelPressureKpa) {
        const flow = { ratedCcMin: plan.injectorCcMin, ratedKpa: plan.injectorRatedKpa, actualKpa: plan.fuelPressureKpa }
        numbers.push({
          id: 'survey.injector-chosen',
          station: 'survey',
          label: 'Injector chosen, at pressure',
          value: injectorFlowAtPressure.run(flow).flowCcMin,
          dimension: 'injectorFlow',
          formula: injectorFlowAtPressure.formula,
          source: injectorFlowAtPressure.source,
          inputs: shown(flow),
          assumed: [],
        })
      }
    }
    const pump = { powerKw: resolved.powerKw, bsfcGKwh, fuelDensityKgL: fuel.densityKgL, marginPct: PUMP_MARGIN_PCT }
    numbers.push({
      id: 'survey.pump',
      station: 'survey',
      label: 'Pump wanted at pressure',
      value: pumpDemand.run(pump).flowLph,
      dimension: 'pumpFlow',
      formula: pumpDemand.formula,
      source: pumpDemand.source,
      inputs: shown(pump),
      assumed: assumed('engine.powerKw', 'fuel.kind'),
    })
  }
  return numbers
}
