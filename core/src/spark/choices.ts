import { z } from 'zod'

/** How the unit sees the crank (handbook 03). */
export const TriggerWay = z.enum(['speed-signal', 'locked-magnetic', 'hall', 'crank-cam', 'own-curve', 'toothed-wheel'])
export type TriggerWay = z.infer<typeof TriggerWay>
export const SensorKind = z.enum(['magnetic', 'hall', 'optical'])
export type SensorKind = z.infer<typeof SensorKind>

const deg = (low: number, high: number) => z.number().min(low).max(high)
const CurvePoint = z.strictObject({ rpm: z.number().min(0).max(15000), deg: deg(-20, 70) })
const LoadPoint = z.strictObject({ mapKpa: z.number().min(5).max(350), deg: deg(-40, 40) })

/** A capacitive box as its sheet says. */
export const CapacitiveBox = z.strictObject({
  capacitanceUf: z.number().min(0.1).max(10).optional().describe('of its store, µF'),
  chargeV: z.number().min(100).max(800).optional().describe('to which it charges, V'),
  secondChargeV: z.number().min(100).max(800).optional().describe('of the second energy level, V'),
  secondBy: z.enum(['speed', 'wire', 'load']).optional().describe('what selects the second level'),
  triggerMs: z.number().min(0.05).max(10).optional().describe('width of the trigger it wants, ms'),
})
export type CapacitiveBox = z.infer<typeof CapacitiveBox>

/** What was decided about trigger and ignition. */
export const SparkChoices = z.strictObject({
  trigger: TriggerWay.optional(),
  signalFrom: z.enum(['coil-negative', 'tach-output']).optional().describe('where the speed signal is taken'),
  sensor: SensorKind.optional(),
  output: z.enum(['low', 'high']).optional().describe('of the sensor while the target is present'),
  setOn: z.enum(['arriving', 'leaving']).optional().describe('the pick-up was set with the target arriving or leaving'),
  edge: z.enum(['falling', 'rising']).optional().describe('edge the unit is told to take'),
  tapeThicknessMm: z.number().min(0).max(3).optional().describe('paper and glue of the tape on the damper, mm'),
  targetWidthDeg: deg(0.5, 120).optional().describe('width of the target on its own shaft, degrees'),
  lobeDeg: deg(0.5, 60).optional().describe('width of one lobe of a magnetic pulse on its own shaft, degrees'),
  wheel: z
    .strictObject({
      teeth: z.int().min(4).max(120).optional().describe('places round the wheel, missing ones counted'),
      missing: z.int().min(0).max(3).optional(),
      toothAtTdc: z.int().min(0).max(119).optional().describe('tooth at the sensor with number one at top centre'),
      referenceTooth: z.int().min(0).max(119).optional(),
      remainderDeg: deg(0, 90).optional().describe('left within that tooth, crank degrees'),
    })
    .optional(),
  camSignal: z.boolean().optional(),
  coils: z.enum(['paired', 'per-cylinder']).optional(),
  gear: z.enum(['cast-iron', 'melonised-steel', 'bronze', 'composite']).optional().describe('drive gear of the distributor'),
  referenceDeg: deg(0, 360).optional().describe('crank degrees BTDC at which the pulse arrives, as set in the unit'),
  minAdvanceDeg: deg(-20, 60).optional(),
  maxAdvanceDeg: deg(0, 70).optional(),
  alignDegBtdc: deg(-60, 120).optional().describe('crank angle at which rotor and terminal are in line'),
  camSyncWindows: z.union([z.literal(0.5), z.literal(1.5)]).optional(),
  coilChannels: z.enum(['by-cylinder', 'by-firing-order']).optional(),
  delayUs: z.number().min(0).max(2000).optional().describe('signal delay compensated by the unit, microseconds'),
  staticDeg: deg(-10, 40).optional().describe('static timing of the old ignition, crank degrees BTDC'),
  coilDrive: z.enum(['built-in', 'inductive-driver', 'capacitive']).optional(),
  targetA: z.number().min(1).max(30).optional().describe('coil current wanted, A'),
  coilLimitA: z.number().min(1).max(40).optional().describe('most current the coil or driver bears by its sheet, A'),
  burnMs: z.number().min(0.1).max(5).optional().describe('spark duration, ms'),
  lightLatencyUs: z
    .number()
    .min(0)
    .max(300)
    .optional()
    .describe('time between the trigger of the timing light and its flash, microseconds'),
  latencyUs: z.number().min(0).max(2000).optional().describe('time the unit needs between pulse and spark, microseconds'),
  box: CapacitiveBox.optional(),
  plugGapMm: z.number().min(0.2).max(2).optional(),
  towerOne: deg(0, 360).optional().describe('place of tower one on the cap, degrees clockwise from the top of the drawing'),
  ownCurve: z
    .strictObject({
      points: z.array(CurvePoint).max(24).optional().describe('advance of the distributor’s own electronics over speed'),
      load: z.array(LoadPoint).max(24).optional().describe('degrees added over manifold pressure'),
    })
    .optional(),
  lossPerDeg2: z.number().min(0).max(0.002).optional().describe('torque lost per square degree from best timing'),
  knock: z.strictObject({ place: z.enum(['block-middle', 'block-end', 'head', 'bracket']).optional() }).optional(),
})
export type SparkChoices = z.infer<typeof SparkChoices>

declare module '../kernel/told.ts' {
  interface ChoiceTable {
    spark?: SparkChoices
  }
}
