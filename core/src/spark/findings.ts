import { finding, type Context, type Rule } from '../job/context.ts'
import { latest, readingsOf, type StoredReading } from '../job/readings.ts'
import { dwell } from './dwell.ts'
import { firingIntervalDeg } from './firing-interval.ts'
import { defaultSweep } from './geometry.ts'
import { referenceWindow } from './reference-window.ts'
import { rotorPhase } from './rotor-phase.ts'
import { camSyncPosition } from './cam-sync-position.ts'
import { damperArc } from './damper-arc.ts'
import { tachFrequency } from '../tach/frequency.ts'
import { shown, type DerivedNumber } from '../job/finding.ts'
import { judgeTiming, type TimingVerdict } from './timing-fixes.ts'

/** Degrees by which a usual trigger jitters, taken off the lead (handbook 03). */
const JITTER_DEG = 2
const DEFAULT_LATENCY_US = 300
const THIN_OVERLAP_DIST_DEG = 1.5
const TARGET_COIL_A = 6.5
const BURN_MS = 1.2
const LOADED_BATTERY_V = 13.5

export const hasDistributor = ({ spark }: Pick<Context, 'spark'>): boolean =>
  spark.trigger === 'locked-magnetic' || spark.trigger === 'hall'
export const controlsTiming = ({ spark }: Pick<Context, 'spark'>): boolean =>
  spark.trigger !== undefined && spark.trigger !== 'speed-signal'

export const sweepOf = ({ spark }: Pick<Context, 'spark'>) => ({
  minAdvanceDeg: spark.minAdvanceDeg ?? defaultSweep.minAdvanceDeg,
  maxAdvanceDeg: spark.maxAdvanceDeg ?? defaultSweep.maxAdvanceDeg,
})

const windowOf = (c: Context) => {
  if (!controlsTiming(c) || c.spark.referenceDeg === undefined || c.resolved.cylinders === null) return null
  const input = { referenceDeg: c.spark.referenceDeg, ...sweepOf(c), cylinders: c.resolved.cylinders, maxRpm: c.resolved.redlineRpm }
  return { input, output: referenceWindow.run(input) }
}

export const phaseOf = (c: Context) => {
  if (!hasDistributor(c) || c.resolved.cylinders === null) return null
  const sweep = sweepOf(c)
  const input = {
    alignDegBtdc: c.spark.alignDegBtdc ?? (sweep.minAdvanceDeg + sweep.maxAdvanceDeg) / 2,
    ...sweep,
    cylinders: c.resolved.cylinders,
    rotorRadiusMm: c.resolved.rotorRadiusMm,
    tipWidthMm: c.resolved.rotorTipWidthMm,
    terminalWidthMm: c.resolved.terminalWidthMm,
  }
  return { input, output: rotorPhase.run(input) }
}

export const dwellOf = (c: Context) => {
  if (!controlsTiming(c) || c.resolved.cylinders === null) return null
  const input = {
    batteryV: LOADED_BATTERY_V,
    inductanceMh: c.resolved.coilInductanceMh,
    resistanceOhm: c.resolved.coilPrimaryOhm,
    targetA: c.spark.targetA ?? TARGET_COIL_A,
    rpm: c.resolved.redlineRpm,
    sparksPerRev: hasDistributor(c) ? c.resolved.cylinders / 2 : 0.5,
    burnMs: c.spark.burnMs ?? BURN_MS,
  }
  return { input, output: dwell.run(input) }
}

/** Light readings taken with the settings now in the unit; readings under other settings belong to the past. */
export function currentLight(c: Context): StoredReading<'spark.timing-light'>[] {
  const { referenceDeg, delayUs = 0 } = c.spark
  if (referenceDeg === undefined) return []
  return readingsOf(c.readings, 'spark.timing-light').filter(
    (r) => Math.abs(r.value.referenceDeg - referenceDeg) < 0.05 && Math.abs(r.value.delayUs - delayUs) < 0.5,
  )
}

/** The current light readings as speed and error: seen and corrected by the proven zero mark, less commanded. */
export function currentLightReadings(c: Context): { rpm: number; observedDeg: number }[] {
  const offset = latest(c.readings, 'spark.zero-mark')?.value.offsetDeg ?? 0
  return currentLight(c).map((r) => ({ rpm: r.value.rpm, observedDeg: r.value.observedDeg + offset - r.value.commandedDeg }))
}

/** Verdict on the current light readings; null without any. */
export function currentTiming(c: Context): TimingVerdict | null {
  if (!timings.has(c)) timings.set(c, judgeCurrentTiming(c))
  return timings.get(c)!
}
const timings = new WeakMap<Context, TimingVerdict | null>()

function judgeCurrentTiming(c: Context): TimingVerdict | null {
  const readings = currentLightReadings(c)
  if (c.spark.referenceDeg === undefined || readings.length === 0) return null
  return judgeTiming({
    commandedDeg: 0,
    readings,
    referenceDeg: c.spark.referenceDeg,
    delayUs: c.spark.delayUs ?? 0,
    rotation: c.facts.ignition?.rotation ?? 'clockwise',
    hasDistributor: hasDistributor(c),
    maxRpm: Math.min(4000, c.resolved.redlineRpm * 0.8),
  })
}

const n1 = (value: number) => value.toFixed(1)

export const sparkRules: Rule[] = [
  {
    id: 'spark.no-trigger',
    station: 'spark',
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
    station: 'spark',
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
    station: 'spark',
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
    station: 'spark',
    check: (c) => {
      const window = windowOf(c)
      if (!window) return null
      const latencyUs = c.spark.latencyUs ?? DEFAULT_LATENCY_US
      const leadUs = ((window.output.leadDeg - JITTER_DEG) / (6 * window.input.maxRpm)) * 1e6
      if (window.output.leadDeg <= 0)
        return finding(
          'stop',
          'The pulse comes after the spark is due',
          `Pulse at ${n1(window.input.referenceDeg)}°, most advance ${n1(window.input.maxAdvanceDeg)}°.`,
          `Set the reference to ${n1(window.input.maxAdvanceDeg + 10)}° or more.`,
        )
      return leadUs < latencyUs
        ? finding(
            'stop',
            'The pulse comes too late at high speed',
            `${n1(window.output.leadDeg)}° less ${JITTER_DEG}° jitter is ${leadUs.toFixed(0)} µs at ${window.input.maxRpm} rpm; the unit needs ${latencyUs} µs.`,
            `Set the reference to ${n1(window.input.maxAdvanceDeg + JITTER_DEG + 6e-6 * window.input.maxRpm * latencyUs + 0.5)}° or more, or command less advance up there.`,
          )
        : null
    },
  },
  {
    id: 'spark.room',
    station: 'spark',
    check: (c) => {
      const window = windowOf(c)
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
    id: 'spark.no-reference',
    station: 'spark',
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
    id: 'spark.phase',
    station: 'spark',
    check: (c) => {
      const phase = phaseOf(c)
      if (!phase) return null
      const { overlapDistDeg, bestAlignDegBtdc, crossFireMarginDistDeg, offsetAtMaxDistDeg, offsetAtMinDistDeg } = phase.output
      const shift = (phase.input.alignDegBtdc - bestAlignDegBtdc) / 2
      const worse = Math.abs(offsetAtMaxDistDeg) > Math.abs(offsetAtMinDistDeg) ? phase.input.maxAdvanceDeg : phase.input.minAdvanceDeg
      const remedy = `Best alignment is ${n1(bestAlignDegBtdc)}° BTDC: turn the cap ${n1(Math.abs(shift))}° ${shift < 0 ? 'against' : 'with'} rotation, or narrow the swept range.`
      if (overlapDistDeg <= 0 || crossFireMarginDistDeg <= 0)
        return finding(
          'stop',
          'The rotor leaves its terminal',
          `At ${n1(worse)}° BTDC the electrodes miss each other by ${n1(-overlapDistDeg)} distributor degrees; ${n1(crossFireMarginDistDeg)}° to the next tower.`,
          remedy,
        )
      return overlapDistDeg < THIN_OVERLAP_DIST_DEG
        ? finding(
            'warn',
            Math.abs(shift) < 0.5
              ? 'Little rotor overlap at the ends'
              : `Rotor aligned ${n1(Math.abs(shift * 2))}° ${shift < 0 ? 'late' : 'early'}`,
            `At ${n1(worse)}° BTDC only ${n1(overlapDistDeg)}° of overlap is left.`,
            remedy,
          )
        : null
    },
  },
  {
    id: 'spark.cam-sync',
    station: 'spark',
    check: (c) =>
      c.spark.trigger === 'crank-cam' && c.spark.camSyncWindows === undefined
        ? finding(
            'warn',
            'Cam sync position is not chosen',
            'Coil per cylinder needs one pulse a cycle, midway between two crank pulses.',
            'Choose half or one and a half intervals, as the unit’s sheet says.',
          )
        : null,
  },
  {
    id: 'spark.dwell',
    station: 'spark',
    check: (c) => {
      const d = dwellOf(c)
      if (!d) return null
      if (d.output.dwellMs === null)
        return finding(
          'stop',
          'The coil never reaches its current',
          `${d.input.batteryV} V over ${d.input.resistanceOhm} ohm is ${n1(d.input.batteryV / d.input.resistanceOhm)} A; ${d.input.targetA} A is wanted.`,
          'Take out the ballast or choose a coil of lower resistance.',
        )
      if (d.output.dwellMs > d.output.availableMs)
        return finding(
          'stop',
          'No time to charge the coil',
          `Dwell ${d.output.dwellMs.toFixed(2)} ms, available ${d.output.availableMs.toFixed(2)} ms at ${d.input.rpm} rpm.`,
          'A faster coil, less current, or more coils.',
        )
      return d.output.dwellMs > 0.9 * d.output.availableMs
        ? finding(
            'warn',
            'Coil charging is tight',
            `Dwell ${d.output.dwellMs.toFixed(2)} ms of ${d.output.availableMs.toFixed(2)} ms at ${d.input.rpm} rpm.`,
            'Expect weak sparks near the redline; a faster coil helps.',
          )
        : null
    },
  },
  {
    id: 'spark.zero-mark',
    station: 'spark',
    check: (c) =>
      controlsTiming(c) && !latest(c.readings, 'spark.zero-mark')
        ? finding(
            'warn',
            'The zero mark is not proven',
            'A damper ring can slip; every light reading hangs on it.',
            'Prove it with a piston stop from both directions and record the offset.',
          )
        : null,
  },
  {
    id: 'spark.timing-mistake',
    station: 'spark',
    check: (c) => {
      const verdict = currentTiming(c)
      return verdict?.mistake
        ? finding('warn', 'The timing readings contradict each other', verdict.mistake.message, 'Repeat them before anything is adjusted.')
        : null
    },
  },
  {
    id: 'spark.timing-error',
    station: 'spark',
    check: (c) => {
      const verdict = currentTiming(c)
      if (!verdict || verdict.mistake || verdict.worstErrorDeg <= 1) return null
      return finding(
        'warn',
        `Timing is off by up to ${n1(verdict.worstErrorDeg)}°`,
        `Reference error ${n1(verdict.referenceErrorDeg)}° ± ${n1(verdict.referenceErrorSeDeg)}°${verdict.delayErrorUs === null ? '' : `, delay error ${verdict.delayErrorUs.toFixed(0)} ± ${(verdict.delayErrorSeUs ?? 0).toFixed(0)} µs`}.`,
        verdict.fixes[0]?.title ?? 'Take readings at another speed.',
      )
    },
  },
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
  const assumed = (...paths: string[]) => c.resolved.assumptions.filter((a) => paths.includes(a.path)).map((a) => a.label)
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
  if (c.spark.trigger === 'crank-cam' && c.spark.referenceDeg !== undefined && c.resolved.cylinders !== null) {
    const input = { referenceDeg: c.spark.referenceDeg, cylinders: c.resolved.cylinders, windows: c.spark.camSyncWindows ?? 0.5 }
    const sync = camSyncPosition.run(input)
    add('spark.cam-sync', 'Cam sync pulse', sync.positionDegBtdc, 'angle', camSyncPosition, input)
    add('spark.cam-margin', 'Clear of crank pulses', sync.marginDeg, 'angle', camSyncPosition, input)
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
  if (c.resolved.cylinders !== null && c.spark.trigger) {
    const input = { rpm: 1000, pulsesPerRev: c.resolved.cylinders / 2 }
    add('tach.frequency', 'Tach signal at 1,000 rpm, Hz', tachFrequency.run(input).frequencyHz, 'number', tachFrequency, input)
  }
  return numbers
}
