import { at, type Context, type DerivedNumber, finding, latest, type Rule, shown } from '../kernel/index.ts'
import { assumedLabels, type FactPath } from '../survey/index.ts'
import { sourcePulsesPerRev, tachFrequency } from '../tach/index.ts'
import { camSyncPosition } from './cam-sync-position.ts'
import { coilRules, dwellOf } from './coil.ts'
import { damperArc } from './damper-arc.ts'
import { delayDeg } from './delay-retard.ts'
import { dwell } from './dwell.ts'
import { firingIntervalDeg } from './firing-interval.ts'
import { camSyncOf, fittingRules } from './fitting.ts'
import { SPARE_LEAD_DEG, TRIGGER_JITTER_DEG } from './limits.ts'
import { ownCurveRules } from './own-curve.ts'
import { phaseOf, phaseRules, sweepOf, tuneSweepOf } from './phase.ts'
import { plannedSparkDeg } from './planned-advance.ts'
import { plugRules } from './plugs.ts'
import { timingProofRules } from './proofs.ts'
import { degreesToUs, referenceWindow } from './reference-window.ts'
import { rotorPhase } from './rotor-phase.ts'
import { scopeRules } from './scope/findings.ts'
import { edgeRules } from './sensor-edge.ts'
import { timingRules } from './timing.ts'
import { signalRules } from './trigger-signal.ts'
import { controlsTiming, hasCamSignal, hasDistributor, wayOf } from './ways.ts'

const DEFAULT_LATENCY_US = 300
const tenth = (value: number): number => Math.round(value * 10) / 10

const windowOf = (c: Context) => {
  if (!controlsTiming(c) || c.spark.referenceDeg === undefined || c.resolved.cylinders === null) return null
  const input = { referenceDeg: c.spark.referenceDeg, ...sweepOf(c), cylinders: c.resolved.cylinders, maxRpm: c.resolved.redlineRpm }
  return { input, output: referenceWindow.run(input) }
}

/**
 * The speed at which the pulse leaves the unit least time before the most advance commanded there. Over the manifold pressures the base tune
 * would command its most at light load; the swept range bounds it.
 */
export function tightestLead(c: Context): { rpm: number; advanceDeg: number; leadUs: number } | null {
  const { referenceDeg } = c.spark
  if (!controlsTiming(c) || referenceDeg === undefined) return null
  const { redlineRpm, barometerKpa } = c.resolved
  const { maxAdvanceDeg } = sweepOf(c)
  let tightest: { rpm: number; advanceDeg: number; leadUs: number } | null = null
  for (let share = 0.1; share <= 1.001; share += 0.1) {
    const rpm = Math.round((share * redlineRpm) / 10) * 10
    const planned = Math.max(...[0.35, 0.6, 1].map((load) => plannedSparkDeg(c.resolved, rpm, load * barometerKpa)))
    // without a range of its own the plan is what will be commanded; a range entered is meant
    const commanded = c.spark.maxAdvanceDeg !== undefined || tuneSweepOf(c) !== null
    const advanceDeg = commanded ? maxAdvanceDeg : Math.min(planned, maxAdvanceDeg)
    const leadUs = degreesToUs(referenceDeg - advanceDeg - TRIGGER_JITTER_DEG, rpm)
    if (!tightest || leadUs < tightest.leadUs) tightest = { rpm, advanceDeg, leadUs }
  }
  return tightest
}

const n1 = (value: number) => value.toFixed(1)

const triggerRules: Rule[] = [
  {
    id: 'spark.no-trigger',
    where: at('spark', 'trigger'),
    check: ({ spark }) =>
      spark.trigger === undefined
        ? finding(
            'warn',
            'No trigger chosen',
            'The unit needs a speed signal before anything can be timed.',
            'Choose how the unit will see the crank.',
          )
        : null,
  },
  {
    id: 'spark.points-control',
    where: at('spark', 'trigger'),
    check: (c) =>
      controlsTiming(c) && c.facts.ignition?.kind === 'points' && c.spark.trigger === 'locked-magnetic'
        ? finding(
            'stop',
            'Points cannot time the spark for the unit',
            'They bounce and wear, so the pulse wanders by degrees.',
            'Use them for a speed signal only, or change to a magnetic, Hall or crank trigger.',
          )
        : null,
  },
  {
    id: 'spark.advance-moves',
    where: at('spark', 'steps', 'lock-out'),
    check: (c) => {
      if (c.spark.trigger !== 'locked-magnetic') return null
      const test = latest(c.readings, 'spark.lock-out')
      if (test?.value.moves || (c.facts.ignition?.advanceLocked === false && !test))
        return finding(
          'stop',
          'Advance weights still move',
          test ? 'The hand-twist test found movement.' : 'The survey says the advance is not locked.',
          'The unit times from this pulse. Lock weights and plate, then record the hand-twist test.',
        )
      return test
        ? null
        : finding(
            'warn',
            'Lock-out is not proven',
            'No hand-twist test is recorded; hidden weights can sit under the plate.',
            'Twist the rotor by hand: nothing may move. Record it.',
          )
    },
  },
  {
    id: 'spark.lead',
    where: at('spark', 'trigger', 'choices.spark.referenceDeg'),
    check: (c) => {
      const window = windowOf(c)
      const tight = tightestLead(c)
      if (!window || !tight) return null
      const latencyUs = c.spark.latencyUs ?? DEFAULT_LATENCY_US
      const { referenceDeg } = window.input
      if (referenceDeg <= tight.advanceDeg)
        return finding(
          'stop',
          'The pulse comes after the spark is due',
          `Pulse at ${n1(referenceDeg)}°, most advance ${n1(tight.advanceDeg)}°.`,
          `Set the reference to ${n1(tight.advanceDeg + 10)}° or more.`,
          at('spark', 'trigger', 'choices.spark.referenceDeg', tenth(tight.advanceDeg + 10)),
        )
      const enoughDeg = tight.advanceDeg + TRIGGER_JITTER_DEG + delayDeg(tight.rpm, latencyUs) + SPARE_LEAD_DEG
      return tight.leadUs < latencyUs
        ? finding(
            'stop',
            'The pulse comes too late at high speed',
            `${n1(referenceDeg - tight.advanceDeg)}° less ${TRIGGER_JITTER_DEG}° jitter is ${tight.leadUs.toFixed(0)} µs at ${tight.rpm} rpm; the unit needs ${latencyUs} µs.`,
            `Set the reference to ${n1(enoughDeg)}° or more, or command less advance up there.`,
            at('spark', 'trigger', 'choices.spark.referenceDeg', tenth(enoughDeg)),
          )
        : null
    },
  },
  {
    id: 'spark.room',
    where: at('spark', 'trigger', 'choices.spark.referenceDeg'),
    check: (c) => {
      // a wheel tells its teeth apart by the gap: no other cylinder's pulse can be taken for this one
      const window = c.spark.trigger === 'toothed-wheel' ? null : windowOf(c)
      return window && window.output.roomDeg <= 0
        ? finding(
            'stop',
            'The next cylinder’s pulse comes first',
            `Reference ${n1(window.input.referenceDeg)}° less ${n1(window.input.minAdvanceDeg)}° is over the ${n1(firingIntervalDeg(window.input.cylinders))}° between pulses.`,
            'Lower the reference angle.',
          )
        : null
    },
  },
  {
    id: 'spark.rotation',
    where: at('survey', undefined, 'facts.ignition.rotation'),
    check: (c) =>
      hasDistributor(c) && c.facts.ignition?.rotation === undefined
        ? finding(
            'warn',
            'Which way the rotor turns is not known',
            'Order of the towers, direction of every correction and phase hang on it; none is drawn or told by a guess.',
            'Cap off, touch the starter, look from above, and say it.',
          )
        : null,
  },
  {
    id: 'spark.odd-targets',
    where: at('spark', 'trigger', 'choices.spark.trigger'),
    check: ({ spark, resolved }) =>
      spark.trigger === 'crank-cam' && resolved.cylinders !== null && resolved.cylinders % 2 === 1
        ? finding(
            'stop',
            'A pulse for each firing does not go on this crank',
            `${resolved.cylinders} cylinders fire ${(resolved.cylinders / 2).toFixed(1)} times in a turn: that many targets cannot stand on a crank wheel.`,
            'Targets on the cam or in the distributor, one for each cylinder, or a toothed wheel with a cam signal.',
          )
        : null,
  },
  {
    id: 'spark.no-reference',
    where: at('spark', 'trigger', 'choices.spark.referenceDeg'),
    check: (c) =>
      controlsTiming(c) && c.spark.referenceDeg === undefined
        ? finding(
            'warn',
            'Reference angle is not set',
            'The unit counts from it.',
            'Choose one between 40° and 65°, then set the pick-up to it.',
          )
        : null,
  },
  {
    id: 'spark.cam-sync',
    where: at('spark', 'trigger', 'choices.spark.camSyncWindows'),
    check: (c) =>
      hasCamSignal(c) && c.spark.trigger !== 'toothed-wheel' && c.spark.camSyncWindows === undefined
        ? finding(
            'warn',
            'Cam sync position is not chosen',
            'The cam signal gives one pulse a cycle; it belongs midway between two crank pulses.',
            'Choose half or one and a half intervals, as the unit’s sheet says.',
          )
        : null,
  },
]

/** Every rule of the station but those of interference and tachometer. */
export const sparkRules: Rule[] = [
  ...triggerRules,
  ...fittingRules,
  ...timingProofRules,
  ...edgeRules,
  ...signalRules,
  ...scopeRules,
  ...phaseRules,
  ...ownCurveRules,
  ...coilRules,
  ...plugRules,
  ...timingRules,
]

export function sparkNumbers(c: Context): DerivedNumber[] {
  const numbers: DerivedNumber[] = []
  const add = (
    id: string,
    label: string,
    value: number | null,
    dimension: DerivedNumber['dimension'],
    calc: { formula: string; source: string },
    input: Record<string, unknown>,
    assumed: string[] = [],
  ) =>
    numbers.push({
      id,
      station: 'spark',
      label,
      value,
      dimension,
      formula: calc.formula,
      source: calc.source,
      inputs: shown(input),
      assumed,
    })
  const assumed = (...paths: FactPath[]) => assumedLabels(c.resolved, ...paths)
  const window = windowOf(c)
  if (window) {
    add(
      'spark.reference',
      'Reference angle',
      window.input.referenceDeg,
      'angle',
      { formula: 'as set in the unit', source: 'choice at this station' },
      { referenceDeg: window.input.referenceDeg },
    )
    add(
      'spark.lead',
      `Lead at ${window.input.maxRpm} rpm`,
      window.output.leadUs,
      'timeUs',
      referenceWindow,
      window.input,
      assumed('engine.redlineRpm'),
    )
    add('spark.room', 'Room to the next pulse', window.output.roomDeg, 'angle', referenceWindow, window.input)
  }
  const phase = phaseOf(c)
  if (phase) {
    const rotor = assumed('ignition.rotorRadiusMm', 'ignition.rotorTipWidthMm', 'ignition.terminalWidthMm')
    add('spark.overlap', 'Overlap, worst end', phase.output.overlapDistDeg, 'angle', rotorPhase, phase.input, rotor)
    add('spark.cross-fire', 'Clear of next tower', phase.output.crossFireMarginDistDeg, 'angle', rotorPhase, phase.input, rotor)
    add('spark.best-align', 'Best alignment', phase.output.bestAlignDegBtdc, 'angle', rotorPhase, phase.input)
  }
  const sync = camSyncOf(c)
  if (sync) {
    add('spark.cam-sync', 'Cam sync pulse', sync.output.positionDegBtdc, 'angle', camSyncPosition, sync.input)
    add('spark.cam-margin', 'Clear of crank pulses', sync.output.marginDeg, 'angle', camSyncPosition, sync.input)
  }
  const d = dwellOf(c)
  if (d)
    add(
      'spark.dwell',
      'Dwell, charging volts',
      d.output.dwellMs,
      'timeMs',
      dwell,
      d.input,
      assumed('ignition.coilPrimaryOhm', 'ignition.coilInductanceMh'),
    )
  if (c.resolved.damperDiameterMm !== null && c.spark.referenceDeg !== undefined) {
    const input = { damperDiameterMm: c.resolved.damperDiameterMm, angleDeg: c.spark.referenceDeg }
    add('spark.damper-arc', 'Reference mark along the rim', damperArc.run(input).arcMm, 'length', damperArc, input)
  }
  if (c.resolved.cylinders !== null && wayOf(c)) {
    const input = { rpm: 1000, pulsesPerRev: sourcePulsesPerRev(c.tach, c.resolved.cylinders) ?? c.resolved.cylinders / 2 }
    add('tach.frequency', 'Tach signal at 1,000 rpm, Hz', tachFrequency.run(input).frequencyHz, 'number', tachFrequency, input)
  }
  return numbers
}
