import { at, type Context, finding, readingsOf, type Rule, weightedLine } from '../kernel/index.ts'
import { firesCapacitive } from '../plan/index.ts'
import type { TachChoices } from './choices.ts'
import { drivenTach } from './driven.ts'
import { SHOWN_TOLERANCE, SLOW_NEEDLE_S } from './limits.ts'

/** Pulses per crank turn at the source (handbook 03): one coil sparks for each firing, a paired coil once a turn, an own coil every other. */
export function sourcePulsesPerRev(tach: TachChoices, cylinders: number): number | null {
  switch (tach.source) {
    case 'single-coil':
      return cylinders / 2
    case 'paired-coil':
      return 1
    case 'coil-per-cylinder':
      return 0.5
    case 'unit-output':
      return tach.unitPulsesPerRev ?? null
    default:
      return null
  }
}
/** Crank degrees between pulses at the tachometer's source; null while source or cylinders are not known. */
export function tachPulsesDegOf({ tach, resolved }: Pick<Context, 'tach' | 'resolved'>): number | null {
  const pulses = resolved.cylinders === null ? null : sourcePulsesPerRev(tach, resolved.cylinders)
  return pulses === null ? null : 360 / pulses
}
/** How much the tachometer shows of the truth: pulses it gets over pulses it was made for. */
export const tachRatio = (pulsesPerRev: number, setCylinders: number): number => pulsesPerRev / (setCylinders / 2)

/** A loop in one coil's feed counts that coil alone. */
const loopCounts = (tach: TachChoices): boolean => tach.source !== 'paired-coil' && tach.source !== 'coil-per-cylinder'

export interface Adapter {
  needed: string | null
  stop: boolean
}
/** What must stand between source and tachometer, by what one gives and the other was made for. */
export function tachAdapter(
  gives: NonNullable<TachChoices['level']>,
  wants: NonNullable<TachChoices['wants']>,
  capacitive: boolean,
): Adapter {
  // the coil's own feed through it, as it was built: an inductive coil drives it, and nothing else does
  if (gives === 'coil-current' && wants === 'current-loop' && !capacitive) return { needed: null, stop: false }
  if (gives === 'coil-current' && wants !== 'current-loop')
    return {
      needed: `no current: this tachometer counts ${wants === 'coil-spike' ? 'spikes: take coil minus' : 'a square wave: take the unit’s own output'}`,
      stop: false,
    }
  if (wants === 'current-loop')
    return capacitive
      ? { needed: 'a current-loop tachometer cannot stand in the feed of a capacitive box: it burns out', stop: true }
      : { needed: 'a converter that drives the loop, or the movement rebuilt for a square wave', stop: false }
  if (gives === wants) return { needed: null, stop: false }
  if (gives === 'coil-spike') return { needed: 'a divider that brings hundreds of volts down to the square wave', stop: false }
  if (wants === 'coil-spike') return { needed: 'a spike generator: a relay coil or a converter box that makes the high pulse', stop: false }
  return { needed: gives === 'square-5v' ? 'a pull-up or level shifter to 12 V' : 'a resistor divider to 5 V', stop: false }
}

/** The adapter this build needs; null while source or tachometer are not known. */
export function adapterOf(c: Context): Adapter | null {
  const { tach } = c
  if (!tach.level || !tach.wants) return null
  if (tach.level === 'coil-current' && tach.wants === 'current-loop' && !loopCounts(tach))
    return { needed: 'the feed of all coils together through it: in one coil’s feed it counts that coil alone', stop: false }
  return tachAdapter(tach.level, tach.wants, firesCapacitive(c))
}

/** How fast a usual needle rises and falls, s, for the picture of it until a step has been measured. */
export const USUAL_NEEDLE_S = { rise: 0.18, fall: 0.32 } as const

/** Ratios of wrong cylinder settings worth a name. */
const settings = [4, 6, 8, 12].flatMap((set) =>
  [4, 6, 8, 12].filter((true_) => true_ !== set).map((true_) => ({ set, true: true_, gain: true_ / set })),
)
const SAME_GAIN = 0.03
/** No tachometer is made for fewer: an engine of four, 2 pulses a turn. */
const LEAST_TACH_PPR = 1.5

export interface TachFit {
  gain: number
  offsetRpm: number
  worstRpm: number
  /** the wrong cylinder setting that would give this gain; null when it is right or nothing fits */
  setting: { set: number; true: number } | null
}
const settingOf = (named: (typeof settings)[number] | undefined) => (named ? { set: named.set, true: named.true } : null)

/**
 * Gain and offset of a tachometer from what it shows and what is true. One reading gives the gain alone.
 * @returns null without readings
 * @source least squares line
 */
export function fitTach(readings: readonly { trueRpm: number; shownRpm: number }[], cylinders: number | null = null): TachFit | null {
  if (!readings.length) return null
  const speeds = new Set(readings.map((r) => Math.round(r.trueRpm / 100)))
  const line =
    speeds.size < 2
      ? { a: 0, b: readings.reduce((s, r) => s + r.shownRpm / r.trueRpm, 0) / readings.length }
      : weightedLine(
          readings.map((r) => r.trueRpm),
          readings.map((r) => r.shownRpm),
          readings.map(() => 1),
        )
  const named = settings.filter((s) => Math.abs(s.gain / line.b - 1) < SAME_GAIN)
  return {
    gain: line.b,
    offsetRpm: line.a,
    worstRpm: Math.max(...readings.map((r) => Math.abs(r.shownRpm - r.trueRpm))),
    // a gain that this engine's cylinders cannot give is another fault, whatever setting it looks like
    setting: settingOf(cylinders === null ? named[0] : named.find((s) => s.true === cylinders)),
  }
}

export interface StepFit {
  /** time constant, s */
  tauS: number
  /** time before it moves at all, s; null while too few points tell it from a slow needle */
  deadS: number | null
  /** shown over true; null likewise */
  gain: number | null
}
type Shown = readonly { timeS: number; rpm: number }[]
/** Points from which gain and dead time are told apart from the lag. */
const STEP_POINTS = 4

/** Sum of squares and gain of `shown = gain x (to + (from - to) exp(-(t - dead)/tau))` at a dead time and a time constant. */
function missOf(fromRpm: number, toRpm: number, shown: Shown, deadS: number, tauS: number): { miss: number; gain: number } {
  const model = shown.map(({ timeS }) => toRpm + (fromRpm - toRpm) * Math.exp(-Math.max(0, timeS - deadS) / tauS))
  const gain = shown.reduce((s, p, i) => s + p.rpm * model[i], 0) / model.reduce((s, m) => s + m * m, 0)
  return { miss: shown.reduce((s, p, i) => s + (p.rpm - gain * model[i]) ** 2, 0), gain }
}

/**
 * How a display follows a step of speed, from what it showed at given times after the step: dead time, lag and gain, which are told apart from four
 * points on; fewer give a time constant alone, as of a needle that starts at once and ends right.
 * @returns null when fewer than two of the points lie between start and end
 * @source first-order lag with dead time; least squares, the gain in closed form, dead time and time constant by a search that halves its grid
 */
export function fitStep(fromRpm: number, toRpm: number, shown: Shown): StepFit | null {
  const moving = shown
    .map(({ timeS, rpm }) => ({ timeS, left: (toRpm - rpm) / (toRpm - fromRpm) }))
    .filter((p) => p.timeS > 0 && p.left > 0.02 && p.left < 0.98)
  if (moving.length < 2) return null
  if (shown.length < STEP_POINTS) {
    const tt = moving.reduce((s, p) => s + p.timeS * p.timeS, 0)
    const tl = moving.reduce((s, p) => s - p.timeS * Math.log(p.left), 0)
    return tl > 0 ? { tauS: tt / tl, deadS: null, gain: null } : null
  }
  const lastS = Math.max(...shown.map((p) => p.timeS))
  let [dead, tau] = [lastS / 4, lastS / 3]
  let [deadSpan, tauRatio] = [lastS / 2, 20]
  for (let pass = 0; pass < 22; pass++) {
    let best = { miss: Infinity, dead, tau }
    for (let i = -8; i <= 8; i++)
      for (let j = -8; j <= 8; j++) {
        const d = Math.max(0, dead + (i / 8) * deadSpan)
        const t = Math.max(0.005, tau * tauRatio ** (j / 8))
        const { miss } = missOf(fromRpm, toRpm, shown, d, t)
        if (miss < best.miss) best = { miss, dead: d, tau: t }
      }
    ;({ dead, tau } = best)
    deadSpan /= 2
    tauRatio = Math.sqrt(tauRatio)
  }
  return { tauS: tau, deadS: dead, gain: missOf(fromRpm, toRpm, shown, dead, tau).gain }
}
/** Time constant alone, s. */
export const lagOf = (fromRpm: number, toRpm: number, shown: Shown): number | null => fitStep(fromRpm, toRpm, shown)?.tauS ?? null

/** How fast this build's needle rises and falls, s, from the last step of each kind it was watched at; usual values where none was. */
export function needleOf(c: Pick<Context, 'readings'>): { rise: number; fall: number; measured: { rise: boolean; fall: boolean } } {
  const found = { rise: null as number | null, fall: null as number | null }
  for (const { value } of readingsOf(c.readings, 'tach.step')) {
    const tau = lagOf(
      value.fromRpm,
      value.toRpm,
      value.points.map((p) => ({ timeS: p.timeS, rpm: p.shownRpm })),
    )
    if (tau !== null) found[value.toRpm > value.fromRpm ? 'rise' : 'fall'] = tau
  }
  return {
    rise: found.rise ?? USUAL_NEEDLE_S.rise,
    fall: found.fall ?? USUAL_NEEDLE_S.fall,
    measured: { rise: found.rise !== null, fall: found.fall !== null },
  }
}

/** What a needle is sent at power-up: up to the top of its span and back, evenly. */
export const selfTestRpm = (sinceS: number, topRpm: number, seconds: number): number =>
  sinceS >= seconds ? 0 : topRpm * (1 - Math.abs((2 * sinceS) / seconds - 1))

/** Where a needle stands that follows the speed with a lag, one step on: some fall more slowly than they rise. */
export const needleStep = (needleRpm: number, shownRpm: number, stepS: number, riseS: number, fallS: number): number =>
  shownRpm + (needleRpm - shownRpm) * Math.exp(-stepS / Math.max(1e-6, shownRpm > needleRpm ? riseS : fallS))

export const tachReadings = (c: Context) => readingsOf(c.readings, 'tach.reading').map((r) => r.value)

export const tachRules: Rule[] = [
  {
    id: 'tach.slow',
    where: at('spark', 'tach'),
    check: (c) => {
      const { rise, fall, measured } = needleOf(c)
      const slow = Math.max(measured.rise ? rise : 0, measured.fall ? fall : 0)
      return slow > SLOW_NEEDLE_S
        ? finding(
            'note',
            'The tachometer follows slowly',
            `Time constant ${slow.toFixed(1)} s ${measured.fall && fall === slow ? 'falling' : 'rising'}.`,
            'Read steady speeds from it only; use the live speed for anything quick. In a chain of displays log each: the one that lags shows.',
          )
        : null
    },
  },
  {
    id: 'tach.ratio',
    where: at('spark', 'tach', 'choices.tach.setCylinders'),
    check: ({ tach, resolved }) => {
      const ppr = resolved.cylinders === null ? null : sourcePulsesPerRev(tach, resolved.cylinders)
      if (ppr === null || !tach.setCylinders) return null
      const ratio = tachRatio(ppr, tach.setCylinders)
      return Math.abs(ratio - 1) > 0.001
        ? finding(
            'warn',
            'The tachometer counts another number of pulses',
            `${ppr} pulses a turn come, set to ${tach.setCylinders} cylinders it wants ${tach.setCylinders / 2}: it shows ${(100 * ratio).toFixed(0)} % of the speed.`,
            ppr < LEAST_TACH_PPR
              ? `One coil alone is not enough: sum the coils through a combiner with a diode from each, or take the unit’s own output at ${tach.setCylinders / 2} pulses a turn.`
              : `Set it to ${2 * ppr} cylinders, or have the unit put out ${tach.setCylinders / 2} pulses a turn.`,
          )
        : null
    },
  },
  {
    id: 'tach.adapter',
    where: at('spark', 'tach', 'choices.tach.wants'),
    check: (c) => {
      const adapter = adapterOf(c)
      if (!adapter?.needed) return null
      const { level, wants } = c.tach
      return finding(
        adapter.stop ? 'stop' : 'warn',
        adapter.stop ? 'This tachometer and a capacitive box do not go together' : 'The tachometer needs an adapter',
        `The source gives ${level!.replace('-', ' ')}, the tachometer was made for ${wants!.replace('-', ' ')}.`,
        adapter.stop ? `Another drive: ${adapter.needed}.` : `Between them: ${adapter.needed}.`,
      )
    },
  },
  {
    id: 'tach.driven-wrong',
    where: at('spark', 'tach'),
    check: (c) => {
      const settings = drivenTach(c)
      const last = settings?.at(-1)
      if (!settings || !last || last.worstShare <= SHOWN_TOLERANCE) return null
      const right = settings.find((s) => s.worstShare <= SHOWN_TOLERANCE)
      const made = c.tach.setCylinders ?? c.resolved.cylinders
      return finding(
        'warn',
        'Driven alone, the tachometer does not show its frequency',
        `${last.setting[0].toUpperCase()}${last.setting.slice(1)}: ${last.gain.toFixed(2)} times what it should${last.countsLike === null || last.countsLike === made ? '' : `, as one set to ${last.countsLike} cylinders`}.`,
        right
          ? `It read right at “${right.setting}”: go back to that.`
          : 'Try the next setting of its switch or converter, and write down what it shows. If none is right, the movement or its own electronics are.',
      )
    },
  },
  {
    id: 'tach.reads-wrong',
    where: at('spark', 'tach'),
    check: (c) => {
      const fit = fitTach(tachReadings(c), c.resolved.cylinders)
      if (!fit || (Math.abs(fit.gain - 1) < SHOWN_TOLERANCE && Math.abs(fit.offsetRpm) < 150)) return null
      return finding(
        'warn',
        'The tachometer reads wrong',
        `It shows ${fit.gain.toFixed(3)} times the speed${Math.abs(fit.offsetRpm) >= 20 ? `, ${fit.offsetRpm > 0 ? '+' : ''}${fit.offsetRpm.toFixed(0)} rpm` : ''}${fit.setting ? `: as one set to ${fit.setting.set} cylinders on an engine of ${fit.setting.true}` : ''}.`,
        // driven alone it is right: then what it is given is wrong
        drivenTach(c)?.some((s) => s.proved)
          ? 'Driven alone it reads right: what comes from the source is wrong. Look at its level, at the adapter between, and at the pulses a turn.'
          : fit.setting
            ? `Set it to ${fit.setting.true} cylinders and read again.`
            : 'Drive it alone from a known frequency: that tells whether it or its source is wrong.',
      )
    },
  },
]
