import type { Rule } from '../kernel/index.ts'
import { deliveryRules } from './delivery.ts'
import { flowRules } from './flow-findings.ts'
import { heatRules } from './heat-findings.ts'
import { layoutRules } from './layout-findings.ts'
import { proofRules } from './proof-findings.ts'

/** Every rule of the Fuel station: the proofs first, since a wet joint comes before any sum. */
export const fuelRules: readonly Rule[] = [...proofRules, ...deliveryRules, ...flowRules, ...heatRules, ...layoutRules]
