import { BSFC_NATURAL_G_KWH, fuels, MAX_DUTY_PCT } from '../fuel/fuels.ts'
import { injectorFlowAtPressure } from '../fuel/injector-flow-at-pressure.ts'
import { injectorSize } from '../fuel/injector-size.ts'
import { finding, type Rule } from '../job/context.ts'

/** Judged in Survey until the Plan station is built: are the chosen injectors able to feed the engine? */
export const planRules: Rule[] = [
  {
    id: 'plan.injector-capacity',
    station: 'survey',
    check: ({ plan, resolved }) => {
      if (resolved.powerKw === null || !plan.injectors || !plan.injectorCcMin || !plan.injectorRatedKpa || !plan.fuelPressureKpa)
        return null
      const fuel = fuels[resolved.fuelKind]
      const wanted = injectorSize.run({
        powerKw: resolved.powerKw,
        bsfcGKwh: BSFC_NATURAL_G_KWH * fuel.bsfcFactor,
        injectors: plan.injectors,
        maxDutyPct: plan.maxDutyPct ?? MAX_DUTY_PCT,
        fuelDensityKgL: fuel.densityKgL,
      }).flowCcMin
      const have = injectorFlowAtPressure.run({
        ratedCcMin: plan.injectorCcMin,
        ratedKpa: plan.injectorRatedKpa,
        actualKpa: plan.fuelPressureKpa,
      }).flowCcMin
      return have < wanted
        ? finding(
            'stop',
            'The injectors are too small',
            `${plan.injectors} x ${have.toFixed(0)} cc/min at ${plan.fuelPressureKpa} kPa; ${resolved.powerKw.toFixed(0)} kW wants ${wanted.toFixed(0)} cc/min each at ${plan.maxDutyPct ?? MAX_DUTY_PCT} % duty.`,
            'Choose larger injectors, or more pressure within the maker’s limit.',
          )
        : null
    },
  },
]
