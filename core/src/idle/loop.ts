import { rootBetween } from '../kernel/index.ts'
import { AIM_MARGIN_DEG } from './limits.ts'
import { even } from './measure.ts'
import { type Log, type Run } from './runs.ts'
import { usualStepS } from '../logfile/index.ts'
import { welch } from './spectrum.ts'
import type { Swing } from './measure.ts'

/**
 * The engine as its idle controller sees it, about the speed at which it swings: a valve that opens by 1 % makes the speed rise by so much each
 * second, so much later. With idle spark at work, it is the engine with that spark.
 */
export interface IdlePlant {
  /** the swing that it was found from, s */
  periodS: number
  /** rpm each second for 1 % of valve */
  rpmPerSPct: number
  delayS: number
}
/** What moves the valve: for 100 rpm of error, each second of it, and against 100 rpm a second. As the tune holds them. */
export interface IdleController {
  idleGainPct: number
  idleIntegralPctS: number
  idleDampingPct: number
}
/** shares of the swing's frequency: what is behind it is not known, so a new crossover stays under the half of it */
const MOST_CROSSOVER = 0.5
/** phase that the integral takes at the crossover, degrees */
const INTEGRAL_TAKES_DEG = 20
/** and what damping gives back there, degrees */
const DAMPING_GIVES_DEG = 15
/** torque that a degree makes at an idle some 14° after best, %: 1 - 2.5e-4 (advance - best)^2 (Heywood, section 15.3.1) */
const SPARK_PCT_PER_DEG = 0.74
/** more than this for 100 rpm shakes an engine, degrees */
const SPARK_MOST_DEG = 6
/** a crossover lies between these, rad/s */
const LOWEST_RAD_S = 1e-3
const HIGHEST_RAD_S = 100
const DEG = Math.PI / 180

/** Controller at a frequency: size, % for each rpm, and phase, radians. C = Kp + Ki / (i w) + Kd i w. */
function controllerAt(c: IdleController, omega: number): { size: number; phase: number } {
  const re = c.idleGainPct / 100
  const im = (c.idleDampingPct / 100) * omega - c.idleIntegralPctS / 100 / omega
  return { size: Math.hypot(re, im), phase: Math.atan2(im, re) }
}
/** Plant k e^(-i w L) / (i w): size, rpm for each %, and phase, radians. */
const plantAt = (p: IdlePlant, omega: number) => ({ size: p.rpmPerSPct / omega, phase: -Math.PI / 2 - omega * p.delayS })

/**
 * The engine from its own hunting: what speed and valve do at the frequency of the swing, by their cross spectrum; an integrator with a delay is laid
 * through that one point. Source: Astrom and Hagglund, Advanced PID Control, section 2.7 (methods from one point of the frequency curve).
 * @returns null when the speed does not swing with the valve, or what comes out is no engine
 */
export function identifyPlant(log: Log, runs: readonly Run[], swing: Swing): IdlePlant | null {
  const { rpm, idleValvePct } = log.channels
  if (!rpm || !idleValvePct || !(swing.valvePct && swing.valvePct > 0)) return null
  const stepS = Math.max(0.02, usualStepS(log.timeS))
  const traces = (values: Float32Array) => runs.map((run) => even(log.timeS, values, run, stepS))
  const longest = Math.max(...runs.map((run) => log.timeS[run.to - 1] - log.timeS[run.from]))
  const s = welch(traces(rpm), stepS, longest >= 21 ? 20 : 10, 3, traces(idleValvePct))
  const omega = (2 * Math.PI) / swing.periodS
  const step = s.frequencyHz[1] - s.frequencyHz[0]
  const at = Math.round(1 / swing.periodS / step) - 1
  if (!(at >= 0 && at < s.power.length)) return null
  let [re, im, valve] = [0, 0, 0]
  for (let k = Math.max(0, at - 1); k <= Math.min(s.power.length - 1, at + 1); k++) {
    re += s.crossRe![k]
    im += s.crossIm![k]
    valve += s.otherPower![k]
  }
  const size = Math.hypot(re, im) / valve
  // the phase of speed over valve lies between a quarter and half a turn behind, wherever it was counted from
  let phase = Math.atan2(im, re)
  while (phase > 0) phase -= 2 * Math.PI
  const delayS = Math.max(0, (-Math.PI / 2 - phase) / omega)
  if (!(size > 0) || phase < -1.5 * Math.PI) return null
  return { periodS: swing.periodS, rpmPerSPct: size * omega, delayS }
}

/** Degrees between the loop and its own swinging; under nothing it swings. Infinity: it never gets to a crossover. */
export function phaseMarginDeg(controller: IdleController, plant: IdlePlant): number {
  // loop gain falls with frequency: sought over its logarithm, since it runs over decades
  const gain = (omega: number) => controllerAt(controller, omega).size * plantAt(plant, omega).size
  const [low, high] = [Math.log(LOWEST_RAD_S), Math.log(HIGHEST_RAD_S)]
  if (gain(LOWEST_RAD_S) < 1) return Infinity
  const omega = Math.exp(rootBetween((x) => Math.log(gain(Math.exp(x))), low, high))
  return (Math.PI + controllerAt(controller, omega).phase + plantAt(plant, omega).phase) / DEG
}

export interface LoopMove extends IdleController {
  marginDeg: number
  /** what the controller of now has, degrees */
  wasMarginDeg: number
  crossoverRadS: number
  because: string
}
const two = (value: number): number => Number(value.toPrecision(2))
/**
 * Gain, integral and damping that leave the margin wanted: the crossover lies where the delay takes what the margin and the integral leave of a
 * quarter turn, never over half the frequency of the swing. Damping gives back some of that angle, so that the same margin is had at a higher
 * crossover: quicker back after a load, and more alive to a noisy speed.
 * Source: Astrom and Murray, Feedback Systems, section 11.3 (loop shaping: phase margin at the crossover, lead).
 */
export function loopMove(controller: IdleController, plant: IdlePlant, { damped = false, aimDeg = AIM_MARGIN_DEG } = {}): LoopMove {
  const omegaSwing = (2 * Math.PI) / plant.periodS
  const lead = damped ? DAMPING_GIVES_DEG : 0
  const left = (90 - aimDeg - INTEGRAL_TAKES_DEG + lead) * DEG
  const omega = Math.min(MOST_CROSSOVER * omegaSwing, plant.delayS > 0 ? left / plant.delayS : Infinity)
  // real part one, imaginary part the tangent of what integral and damping turn together: scaled so that the loop's gain is one at the crossover
  const net = Math.tan((lead - INTEGRAL_TAKES_DEG) * DEG)
  const integral = Math.tan(INTEGRAL_TAKES_DEG * DEG)
  const gain = ((100 * omega) / plant.rpmPerSPct) * Math.cos((lead - INTEGRAL_TAKES_DEG) * DEG)
  const next = {
    idleGainPct: two(gain),
    idleIntegralPctS: two(gain * integral * omega),
    idleDampingPct: damped ? two((gain * (net + integral)) / omega) : 0,
  }
  return {
    ...next,
    marginDeg: phaseMarginDeg(next, plant),
    wasMarginDeg: phaseMarginDeg(controller, plant),
    crossoverRadS: omega,
    because: `It swings every ${plant.periodS.toFixed(1)} s; 1 % of valve changes the speed by ${plant.rpmPerSPct.toFixed(0)} rpm each second, ${plant.delayS.toFixed(2)} s late.`,
  }
}

/**
 * Idle spark that holds the speed as fast as the valve does, for 100 rpm, degrees: what a degree does is what so much more air does, and the valve's
 * swing told what air does. Never over what shakes an engine.
 * @param valveSharePct what 1 % of valve is of the idle's air, %
 */
export function sparkMove(plant: IdlePlant, crossoverRadS: number, valveSharePct: number): number {
  const rpmPerSDeg = (plant.rpmPerSPct / valveSharePct) * SPARK_PCT_PER_DEG
  return two(Math.min(SPARK_MOST_DEG, (100 * crossoverRadS) / rpmPerSDeg))
}

/**
 * Speed of the closed loop of the mixture from its own hunting: an integrator over a delay swings at four times that delay, and keeps the margin
 * wanted at the share of its gain that the margin leaves. @returns % each second for 1 %
 */
export function mixtureLoopMove(loopGainPctS: number, periodS: number, aimDeg = AIM_MARGIN_DEG): number {
  const delayS = periodS / 4
  const byDelay = ((90 - aimDeg) * DEG) / delayS
  // at its own swing the loop gain was one
  const byGain = loopGainPctS * ((90 - aimDeg) / 90)
  return two(Math.min(byDelay, byGain))
}
