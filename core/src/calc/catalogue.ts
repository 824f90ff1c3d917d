import { airDensity } from '../air/density.ts'
import { correctionFactor } from '../air/correction-factor.ts'
import { engineFlow } from '../air/engine-flow.ts'
import { standardAtmosphere } from '../air/standard-atmosphere.ts'
import { injectorFlowAtPressure } from '../fuel/injector-flow-at-pressure.ts'
import { injectorSize } from '../fuel/injector-size.ts'
import { lineDrop } from '../fuel/line-drop.ts'
import { pumpDemand } from '../fuel/pump-demand.ts'
import { surgeReserve } from '../fuel/surge-reserve.ts'
import { roadSpeed } from '../learn/road-speed.ts'
import { camSyncPosition } from '../spark/cam-sync-position.ts'
import { damperArc } from '../spark/damper-arc.ts'
import { delayRetard } from '../spark/delay-retard.ts'
import { dwell } from '../spark/dwell.ts'
import { firingInterval } from '../spark/firing-interval.ts'
import { fitTiming } from '../spark/fit-timing.ts'
import { referenceWindow } from '../spark/reference-window.ts'
import { rotorPhase } from '../spark/rotor-phase.ts'
import { tachFrequency } from '../tach/frequency.ts'
import { lambdaCalculation } from '../tune/lambda.ts'
import { wireGauge } from '../wiring/gauge.ts'
import { tyreCircumference } from '../survey/tyre.ts'
import { voltageDrop } from '../wiring/voltage-drop.ts'
import type { Calculation } from './calculation.ts'

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
  lambdaCalculation,
  roadSpeed,
] as unknown as readonly Calculation[]

const byId = new Map(catalogue.map((calculation) => [calculation.id, calculation]))
export const findCalculation = (id: string): Calculation | undefined => byId.get(id)
