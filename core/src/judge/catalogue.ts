import { airDensity, correctionFactor, engineFlow, standardAtmosphere } from '../air/index.ts'
import { voltageDrop, wireGauge, wiringNetwork } from '../electrics/index.ts'
import { boltTorque, plateOpenArea } from '../fitup/index.ts'
import { lineDrop, pumpDemand, surgeReserve } from '../fuel/index.ts'
import { injectorFlowAtPressure, injectorSize } from '../injection/index.ts'
import type { Calculation } from '../kernel/index.ts'
import { roadLoad, roadSpeed } from '../drive/index.ts'
import { camSyncPosition, damperArc, delayRetard, dwell, firingInterval, fitTiming, referenceWindow, rotorPhase } from '../spark/index.ts'
import { tyreCircumference } from '../survey/index.ts'
import { tachFrequency } from '../tach/index.ts'
import { lambdaCalculation } from '../tune/index.ts'

/** Every closed calculation of the core, in the order of the job. */
export const catalogue = [
  standardAtmosphere,
  airDensity,
  engineFlow,
  correctionFactor,
  tyreCircumference,
  injectorSize,
  injectorFlowAtPressure,
  pumpDemand,
  lineDrop,
  surgeReserve,
  firingInterval,
  referenceWindow,
  camSyncPosition,
  rotorPhase,
  damperArc,
  delayRetard,
  fitTiming,
  dwell,
  tachFrequency,
  wireGauge,
  voltageDrop,
  wiringNetwork,
  plateOpenArea,
  boltTorque,
  lambdaCalculation,
  roadLoad,
  roadSpeed,
] as unknown as readonly Calculation[]

const byId = new Map(catalogue.map((calculation) => [calculation.id, calculation]))
export const findCalculation = (id: string): Calculation | undefined => byId.get(id)
