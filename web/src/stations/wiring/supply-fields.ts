import { factField, quantity } from '../../quantity/field.ts'

/** What the supply is worked out with: facts of the survey, and what only the wiring asks. */
export const fields = [
  factField('electrics.charging'),
  factField('electrics.chargingRatedA'),
  factField('electrics.chargingIdleA'),
  factField('electrics.crankingV'),
  quantity('choices.wiring.batteryAh', 'number', '50 Ah until told'),
  quantity('choices.wiring.resetV', 'voltage', '8 V until its sheet says'),
  quantity('choices.wiring.outputA', 'current', '2 A until its sheet says'),
  quantity('choices.wiring.injectorOhm', 'resistance', '14 Ω until measured'),
]
