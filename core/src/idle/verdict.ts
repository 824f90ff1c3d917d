import { z } from 'zod'
import { CoreError } from '../kernel/index.ts'
import { usualStepS } from '../logfile/index.ts'
import {
  AT_LIMIT_WITHIN_PCT,
  CATCHES_PCT,
  COMES_DOWN_S,
  HELD_PCT,
  RESTS_WITHIN_PCT,
  CORRECTION_OFF_PCT,
  CORRECTION_SAID_PCT,
  FAR_OVER_RPM,
  FLICKER_LAMBDA,
  FOOLED_OVER_PCT,
  HUNT_RPM,
  MAX_STEP_S,
  MIN_TOTAL_S,
  MIXTURE_OFF,
  OFF_TARGET_RPM,
  ROUGH_ALONE_RPM,
  ROUGH_RPM,
  SHUT_PCT,
  STICKS_PCT,
  SWING_LAMBDA,
  SWING_VALVE_PCT,
  VALVE_SHUT_PCT,
  VALVE_WIDE_PCT,
  WARM_C,
} from './limits.ts'
import { deviation, type IdleMeasures, mean, measureIdle } from './measure.ts'
import { identifyPlant } from './loop.ts'
import { overTarget } from './over-target.ts'
import { idleRuns, type Log, type Run } from './runs.ts'

export const IdleVerdictCode = z.enum([
  'good',
  'high-valve-shut',
  'low-valve-wide',
  'off-target-high',
  'off-target-low',
  'adaptation-at-limit',
  'throttle-sticks',
  'hunting-valve',
  'hunting-mixture',
  'rich',
  'lean',
  'misfire',
  'loop-fooled',
  'not-enough-data',
])
export type IdleVerdictCode = z.infer<typeof IdleVerdictCode>

/** What may be behind a verdict, each with the test that would tell. */
export const IdleCauseId = z.enum([
  'screw-open',
  'screw-shut',
  'vacuum-leak',
  'plate-sticks',
  'throttle-zero',
  'valve-stuck',
  'controller-gain',
  'valve-slow',
  'loop-gain',
  'dead-cylinder',
  'mixture-lean',
  'mixture-rich',
  'exhaust-leak',
  'overlap',
  'timing-late',
  'target-unlike',
])
export type IdleCauseId = z.infer<typeof IdleCauseId>
export const idleCauseWords: Record<IdleCauseId, string> = {
  'screw-open': 'the screw stands too far open',
  'screw-shut': 'the screw stands too far shut',
  'vacuum-leak': 'air leaks in behind the throttle',
  'plate-sticks': 'the throttle does not come back to its stop',
  'throttle-zero': 'the zero of the throttle is stale',
  'valve-stuck': 'the idle valve does not move',
  'controller-gain': 'the valve is moved too hard',
  'valve-slow': 'the idle valve is slow',
  'loop-gain': 'the correction is too fast',
  'dead-cylinder': 'a cylinder misses',
  'mixture-lean': 'the mixture is lean',
  'mixture-rich': 'the mixture is rich',
  'exhaust-leak': 'the exhaust leaks before the sensor',
  overlap: 'overlap of the cam sends air to the sensor',
  'timing-late': 'the spark is late',
  'target-unlike': 'the unit holds another target',
}
const IdleCause = z.object({
  cause: IdleCauseId,
  likelihood: z.number().min(0).max(1),
  evidence: z.string(),
  test: z.string().describe('what would tell it from the others'),
})
type IdleCause = z.infer<typeof IdleCause>
const IdleSeen = z.object({
  fromS: z.number(),
  toS: z.number(),
  warm: z.boolean(),
  meanRpm: z.number(),
  rpmStdDev: z.number(),
  valveMeanPct: z.number().nullable(),
  mapMeanKpa: z.number().nullable(),
  lambdaMean: z.number().nullable(),
  coolantMeanC: z.number().nullable(),
})
type IdleSeen = z.infer<typeof IdleSeen>

export const IdleVerdict = z.object({
  verdict: IdleVerdictCode,
  meanRpm: z.number().nullable(),
  rpmStdDev: z.number().nullable(),
  periodS: z.number().nullable().describe('dominant period of engine speed; null when there is none'),
  amplitudeRpm: z.number().nullable().describe('half of peak to peak of the dominant swing'),
  valveMeanPct: z.number().nullable(),
  lambdaMean: z.number().nullable(),
  correctionMeanPct: z.number().nullable(),
  seconds: z.number(),
  targetRpm: z.number().nullable().describe('what it was judged against; null: nobody said'),
  sureness: z.number().min(0).max(1),
  causes: z.array(IdleCause).describe('most likely first'),
  wants: z.array(z.string()).describe('what would make it surer'),
  notes: z.array(z.string()).describe('seen beside it'),
  idles: z.array(IdleSeen).describe('every idle found, one by one'),
  loop: z
    .object({ periodS: z.number(), rpmPerSPct: z.number(), delayS: z.number() })
    .nullable()
    .describe('the engine as its idle controller sees it, found from its hunting; null: it does not hunt with its valve'),
  next: z.string(),
})
export type IdleVerdict = z.infer<typeof IdleVerdict>

export interface IdleOptions {
  targetRpm?: number
  /** what the unit adds to the target with the fan on and in gear, rpm */
  offsetsRpm?: readonly number[]
  /** correction the loop may make, %; found from the log when left out */
  authorityPct?: number
  /** where the unit starts the valve when warm, and how far it may move it from there, % */
  reach?: { startPct: number; mostPct: number }
}

/** Against what an idle is judged. */
interface Judged extends IdleMeasures {
  /** speed over the nearest target that may be meant, rpm; null: no target */
  overRpm: number | null
  reach: IdleOptions['reach']
  /** rests of the throttle that lie furthest apart, % */
  restsApartPct: number
}
/** How far over a threshold a thing is, as a factor: 1 at the threshold. */
interface Found {
  verdict: IdleVerdictCode
  margin: number
  causes: IdleCause[]
  next: string
}
type Rule = (m: Judged) => Found | null

const likely = (cause: IdleCauseId, likelihood: number, evidence: string, test: string): IdleCause => ({
  cause,
  likelihood,
  evidence,
  test,
})
const rpmOf = (value: number): string => `${value.toFixed(0)} rpm`
const againstTarget = (m: Judged): string =>
  m.overRpm === null
    ? rpmOf(m.meanRpm)
    : `${rpmOf(m.meanRpm)}, ${Math.abs(m.overRpm).toFixed(0)} ${m.overRpm > 0 ? 'over' : 'under'} its target`

/** Speed is right on a smooth idle only while there is a way to hold it: a throttle that does not rest at zero has none. */
const throttleOpen: Rule = (m) => {
  const { restsAtPct, restsApartPct, overRpm } = m
  const apart = restsApartPct >= STICKS_PCT
  if (!apart && (restsAtPct === null || restsAtPct <= SHUT_PCT)) return null
  // a plate that really stands open lets air in; a stale zero does not
  const fast = overRpm !== null && overRpm > OFF_TARGET_RPM
  const sticks = apart ? 0.9 : fast ? 0.7 : 0.15
  const causes = [
    likely(
      'plate-sticks',
      sticks,
      apart ? `it rests at places ${restsApartPct.toFixed(1)} % apart` : `it rests at ${restsAtPct!.toFixed(1)} %`,
      'Press the lever shut by hand: the speed falls when plate, shaft, cable or return spring hold it open.',
    ),
    likely(
      'throttle-zero',
      1 - sticks,
      `a shut throttle reads ${restsAtPct!.toFixed(1)} %`,
      'Key off and on, throttle untouched, learn its zero: it reads 0 when that was all.',
    ),
  ].sort((a, b) => b.likelihood - a.likelihood)
  return {
    verdict: 'throttle-sticks',
    margin: apart ? restsApartPct / STICKS_PCT : restsAtPct! / SHUT_PCT,
    causes,
    next:
      causes[0].cause === 'plate-sticks'
        ? 'Find out why the throttle does not come back to its stop: shaft, spring, cable, pedal, carpet. Then learn its zero again.'
        : 'Learn the throttle’s zero again: until it reads 0 the unit does not take this for idle.',
  }
}
/** Far too fast, whatever else it does: air comes in that nobody holds. */
const farOver: Rule = (m) => (m.overRpm !== null && m.overRpm > FAR_OVER_RPM ? tooMuchAir(m, m.overRpm / FAR_OVER_RPM) : null)
function tooMuchAir(m: Judged, margin: number): Found {
  const shut = m.valveMeanPct !== null && m.valveMeanPct <= VALVE_SHUT_PCT
  const evidence = `${againstTarget(m)}${m.valveMeanPct === null ? '' : `, valve at ${m.valveMeanPct.toFixed(0)} %`}`
  // one cylinder that gets the leak's air runs lean and rough, and a loop that adds fuel sees it
  const leans = (m.leanBy !== null && m.leanBy > MIXTURE_OFF) || (m.flicker !== null && m.flicker > FLICKER_LAMBDA)
  const causes = [
    likely(
      'vacuum-leak',
      leans ? 0.6 : 0.42,
      leans ? `${evidence}; some cylinders are lean` : evidence,
      'Clamp hoses one at a time, then smoke: a leak changes the speed or shows.',
    ),
    likely(
      'screw-open',
      leans ? 0.25 : 0.43,
      evidence,
      'Valve port blocked, screw shut: the speed falls well under the target when the screw was it.',
    ),
    likely('plate-sticks', 0.15, evidence, 'Press the lever shut by hand.'),
  ].sort((a, b) => b.likelihood - a.likelihood)
  return {
    verdict: shut ? 'high-valve-shut' : 'off-target-high',
    margin,
    causes,
    next: shut
      ? `${evidence}: the plate or a leak passes too much air, and nothing is left to take away. Turn the throttle screw a quarter turn shut, learn its zero, look again; if it does not fall, look for a leak.`
      : `${evidence}: more air comes in than the unit takes for an idle, so it does not hold it. Block the valve’s port with the screw shut: still fast means a leak; then clamp hoses one at a time.`,
  }
}
const valveShut: Rule = (m) =>
  m.valveMeanPct !== null && m.valveMeanPct <= VALVE_SHUT_PCT && (m.overRpm === null || m.overRpm > -OFF_TARGET_RPM)
    ? tooMuchAir(m, 1 + (VALVE_SHUT_PCT - m.valveMeanPct) / VALVE_SHUT_PCT + Math.max(0, m.overRpm ?? 0) / OFF_TARGET_RPM)
    : null

/** Which of the two drives a swing: how large each is against one that weighs alike. */
function drivenBy({ swing }: Judged): 'mixture' | 'valve' {
  const { lambda, correctionPct, valvePct } = swing!
  const stillLoop = correctionPct !== null && correctionPct < 2 && (valvePct ?? 0) > 2
  const mixture = ((lambda ?? 0) / SWING_LAMBDA) * (stillLoop ? 0.3 : 1)
  return mixture >= 1 && mixture > (valvePct ?? 0) / SWING_VALVE_PCT ? 'mixture' : 'valve'
}
const hunting: Rule = (m) => {
  const { swing } = m
  if (!swing || swing.amplitudeRpm < HUNT_RPM) return null
  const margin = swing.amplitudeRpm / HUNT_RPM
  const how = `±${swing.amplitudeRpm.toFixed(0)} rpm every ${swing.periodS.toFixed(1)} s`
  if (drivenBy(m) === 'mixture')
    return {
      verdict: 'hunting-mixture',
      margin,
      causes: [
        likely(
          'loop-gain',
          0.75,
          `lambda swings ±${swing.lambda!.toFixed(3)} with the speed`,
          'Hold the correction (closed loop off): it stands still when the loop drove it.',
        ),
        likely('mixture-lean', 0.25, `${how}, with the mixture`, 'Add 8 % with the loop off: a lean idle steadies.'),
      ],
      next: `Lambda swings by ±${swing.lambda!.toFixed(3)} with the speed, ${how}: slow the closed loop at idle (half its speed of correction) before touching the valve.`,
    }
  return {
    verdict: 'hunting-valve',
    margin,
    causes: [
      likely(
        'controller-gain',
        0.7,
        `${how}${swing.valvePct === null ? '' : `, valve ±${swing.valvePct.toFixed(1)} %`}`,
        'Hold the valve still: a speed that stands then was driven by it.',
      ),
      likely('valve-slow', 0.3, how, 'Command the valve from 10 to 50 %: a sound one has moved the speed within half a second.'),
    ],
    next: `Speed swings ${how}${swing.valvePct === null ? '' : ` with the valve (±${swing.valvePct.toFixed(0)} %)`} while the mixture does not drive it. Controller works out gain and damping from this swing; halve the valve’s gain if you have only the display.`,
  }
}
const misfires: Rule = (m) => {
  // without a mixture that flickers only much roughness tells
  const flickers = m.flicker === null ? 0 : Math.min(m.roughRpm / ROUGH_RPM, m.flicker / FLICKER_LAMBDA)
  const rough = Math.max(m.roughRpm / ROUGH_ALONE_RPM, flickers)
  // a mixture too thin to burn misses too: that is named first by what it is
  if (
    rough < 1 ||
    (m.leanBy !== null && m.leanBy > 3 * MIXTURE_OFF && (m.correctionMeanPct ?? 0) < CORRECTION_OFF_PCT / 2 && m.authorityPct < 1)
  )
    return null
  return {
    verdict: 'misfire',
    margin: rough,
    causes: [
      likely(
        'dead-cylinder',
        0.8,
        `speed jumps ${m.roughRpm.toFixed(0)} rpm from reading to reading${m.flicker === null ? '' : `, lambda by ${m.flicker.toFixed(3)}`}`,
        'Touch or measure the exhaust ports, or cut one cylinder at a time: the one that changes nothing is it.',
      ),
      likely('mixture-lean', 0.2, 'a thin mixture misses too', 'Add 8 % with the correction held: a lean engine smooths.'),
    ],
    next: `It runs rough without a rhythm (${m.roughRpm.toFixed(0)} rpm from reading to reading): a cylinder misses. Unburnt oxygen makes the mixture read lean, so leave the fuel alone. Check plugs, leads, injector and firing order, one cylinder at a time.`,
  }
}
const valveWide: Rule = (m) => {
  if (m.valveMeanPct === null || m.valveMeanPct < VALVE_WIDE_PCT) return null
  const low = m.overRpm !== null && m.overRpm < -OFF_TARGET_RPM
  return {
    verdict: 'low-valve-wide',
    margin: m.valveMeanPct / VALVE_WIDE_PCT,
    causes: [
      likely(
        'screw-shut',
        low ? 0.5 : 0.85,
        `valve at ${m.valveMeanPct.toFixed(0)} %`,
        'Screw a quarter turn open: valve or speed follows at once.',
      ),
      likely(
        'valve-stuck',
        low ? 0.4 : 0.05,
        low ? `${againstTarget(m)} with the valve told to open` : 'the speed is held, so the valve moves',
        'Command the valve 40 % further: under 50 rpm it does not move or gets no current.',
      ),
      likely('timing-late', 0.1, 'late spark wants more air', 'Timing light at a fixed command.'),
    ],
    next: `The valve stands ${m.valveMeanPct.toFixed(0)} % open, ${againstTarget(m)}: it has little left to add. Turn the throttle screw a quarter turn open, learn its zero, look again.`,
  }
}
const atLimit: Rule = (m) => {
  const { reach, valveMeanPct, valveStdDevPct } = m
  if (!reach || valveMeanPct === null || valveStdDevPct === null) return null
  const moved = valveMeanPct - reach.startPct
  // past its reach the valve still leans a little on the error, and stands still
  const at = Math.abs(moved) > reach.mostPct - AT_LIMIT_WITHIN_PCT
  if (!at || valveMeanPct <= VALVE_SHUT_PCT) return null
  const low = moved > 0
  return {
    verdict: 'adaptation-at-limit',
    margin: 1 + Math.abs(m.overRpm ?? 0) / OFF_TARGET_RPM,
    causes: low
      ? [
          likely(
            'screw-shut',
            0.7,
            `the valve was moved ${moved.toFixed(0)} % from its start, all it may`,
            'Screw a quarter turn open, zero learned: the valve comes back.',
          ),
          likely('timing-late', 0.2, 'late spark wants more air', 'Timing light at a fixed command.'),
          likely('valve-stuck', 0.1, 'a valve that hardly moves', 'Command it 40 % further: under 50 rpm it does not move.'),
        ]
      : [
          likely(
            'screw-open',
            0.5,
            `the valve was moved ${moved.toFixed(0)} % from its start, all it may`,
            'Screw a quarter turn shut, zero learned: the valve comes back.',
          ),
          likely('vacuum-leak', 0.5, againstTarget(m), 'Clamp hoses one at a time, then smoke.'),
        ],
    next: `The unit has moved the valve by ${moved > 0 ? '+' : ''}${moved.toFixed(0)} %, all that it may (${reach.mostPct.toFixed(0)} %), ${againstTarget(m)}. That is a ${low ? 'screw too far shut, late timing or a weak valve' : 'screw too far open or a leak'}, not an idle: mend the cause, then clear what it adapted.`,
  }
}
const offTarget: Rule = (m) => {
  const { overRpm } = m
  if (overRpm === null || Math.abs(overRpm) <= OFF_TARGET_RPM) return null
  if (overRpm > 0) return tooMuchAir(m, overRpm / OFF_TARGET_RPM)
  return {
    verdict: 'off-target-low',
    margin: -overRpm / OFF_TARGET_RPM,
    causes: [
      likely('screw-shut', 0.4, againstTarget(m), 'Screw a quarter turn open: the speed rises.'),
      likely('target-unlike', 0.25, 'the unit may hold another target', 'Read the target back from the unit.'),
      likely('valve-stuck', 0.2, 'the valve does not open further', 'Command it 40 % further: it moves the speed by 200 rpm or more.'),
      likely('timing-late', 0.15, 'late spark wants more air', 'Timing light at a fixed command.'),
    ],
    next: `${againstTarget(m)}, and the valve does not open further: see that the unit is in its idle mode (throttle reads 0) and holds this target, then turn the screw a quarter turn open.`,
  }
}
/** a loop that may do less says nothing by standing at its limit, %; and how sure that limit is */
const LEAST_AUTHORITY_PCT = 8
const PEGGED_MARGIN = 1.2
/** The loop adds all it may and still reads lean. */
const isPegged = (m: Judged): boolean =>
  m.authorityPct >= LEAST_AUTHORITY_PCT && m.saturatedShare > 0.7 && m.leanBy !== null && m.leanBy > 0.02
const pegged: Rule = (m) => (isPegged(m) ? fooled(m) : null)
const fooled: Rule = (m) => {
  const { correctionMeanPct: correction, correctionDrivenPct: driven } = m
  if (correction === null || correction < CORRECTION_OFF_PCT) return null
  const pegged = isPegged(m)
  const onlyIdle = driven !== null && correction - driven > FOOLED_OVER_PCT
  if (!onlyIdle && !pegged) return null
  const evidence = `the loop adds ${correction.toFixed(0)} %${driven === null ? '' : ` here and ${driven.toFixed(0)} % with the throttle open`}`
  const share = onlyIdle && pegged ? 0.85 : 0.65
  return {
    verdict: 'loop-fooled',
    margin: onlyIdle ? (correction - driven) / FOOLED_OVER_PCT : 1.3,
    causes: [
      likely(
        'exhaust-leak',
        0.6 * share,
        evidence,
        'Smoke or soapy water at every joint before the sensor; a helper holds a rag to the tail pipe.',
      ),
      likely(
        'overlap',
        0.4 * share,
        'a cam with much overlap sends fresh air to the sensor',
        'Correction held, add 8 %, valve held: pressure rises when it was rich already.',
      ),
      likely('mixture-lean', 1 - share, evidence, 'Correction held, add 8 %, valve held: pressure falls when it was truly lean.'),
    ],
    next: `${evidence[0].toUpperCase()}${evidence.slice(1)}. Air at the sensor fools it: look for a leak before the sensor; with much overlap run idle open loop on the base map.`,
  }
}
const mixture: Rule = (m) => {
  const correction = m.correctionMeanPct ?? 0
  const leanBy = m.leanBy ?? 0
  const pegged = m.authorityPct >= LEAST_AUTHORITY_PCT && m.saturatedShare > 0.7 ? PEGGED_MARGIN : 0
  const margin = Math.max(Math.abs(leanBy) / MIXTURE_OFF, Math.abs(correction) / CORRECTION_OFF_PCT, pegged)
  if (margin <= 1) return null
  const lean = Math.abs(leanBy) / MIXTURE_OFF >= Math.abs(correction) / CORRECTION_OFF_PCT ? leanBy > 0 : correction > 0
  const short = 100 * ((1 + leanBy / Math.max(0.5, (m.lambdaMean ?? 1) - leanBy)) * (1 + correction / 100) - 1)
  const evidence = `lambda ${Math.abs(leanBy).toFixed(2)} ${leanBy >= 0 ? 'over' : 'under'} its target${m.correctionMeanPct === null ? '' : `, correction ${correction.toFixed(0)} %`}`
  return lean
    ? {
        verdict: 'lean',
        margin,
        causes: [
          likely('mixture-lean', 0.5, evidence, 'Correction held, add 8 %, valve held: pressure falls when it was truly lean.'),
          likely(
            'exhaust-leak',
            0.3,
            evidence,
            'Smoke at every joint before the sensor; at 2,500 rpm the correction goes when air fooled it.',
          ),
          likely('vacuum-leak', 0.2, evidence, 'Clamp hoses one at a time, then smoke.'),
        ],
        next: `Idle wants ${short.toFixed(0)} % more fuel (${evidence}). Look for a leak first, then let Learn correct the idle cells.`,
      }
    : {
        verdict: 'rich',
        margin,
        causes: [likely('mixture-rich', 0.85, evidence, 'Fuel pressure at idle, then the answer for injector flow and dead time.')],
        next: `Idle has ${(-short).toFixed(0)} % too much fuel (${evidence}). Fuel pressure and dead time first, then let Learn correct the idle cells.`,
      }
}
/** In the order they are asked: what makes all that follows worthless comes first. */
const rules: readonly Rule[] = [throttleOpen, farOver, hunting, misfires, pegged, valveShut, valveWide, atLimit, offTarget, fooled, mixture]

/** How far above its lowest rest the throttle was left at the end, %. */
function restsApart(runs: readonly Run[]): number {
  const levels = runs.flatMap((run) => (run.restsAtPct === null ? [] : [run.restsAtPct]))
  const apart = levels.length < 2 ? 0 : levels.at(-1)! - Math.min(...levels)
  return Math.max(0, apart)
}
/** What the loop holds at a good idle is Learn's to put into the table. */
const heldByLoop = ({ correctionMeanPct: correction }: Judged): string[] =>
  correction !== null && Math.abs(correction) > CORRECTION_SAID_PCT
    ? [
        `The loop ${correction > 0 ? 'adds' : 'takes'} ${Math.abs(correction).toFixed(0)} % to hold the mixture: Learn puts that into the table.`,
      ]
    : []
/** openings of the throttle that tell whether it catches, and readings no further apart than this, s */
const OPENINGS = 4
const CATCH_STEP_S = 0.11
/** A throttle that leaves its rest in a jump, time after time, catches: at its linkage, its shaft, or the plate in its bore. */
function catches({ timeS, channels: { throttlePct } }: Log): string[] {
  if (!throttlePct || usualStepS(timeS) > CATCH_STEP_S) return []
  const jumps: number[] = []
  let restedS = 0
  for (let i = 1; i < timeS.length; i++) {
    const step = throttlePct[i] - throttlePct[i - 1]
    const still = Math.abs(step) < RESTS_WITHIN_PCT / 2
    if (!still && step > 0 && restedS > COMES_DOWN_S && throttlePct[i - 1] <= HELD_PCT) jumps.push(step)
    restedS = still ? restedS + timeS[i] - timeS[i - 1] : 0
  }
  const large = jumps.filter((jump) => jump > CATCHES_PCT).length
  return jumps.length >= OPENINGS && large > jumps.length / 2
    ? [
        `${large} of ${jumps.length} times the throttle left its rest by more than ${CATCHES_PCT} % in one reading: it catches, or was kicked open each time. Open it slowly; if it still jumps, look at linkage, shaft and plate.`,
      ]
    : []
}
const seenOf = (log: Log, run: Run): IdleSeen => {
  const m = measureIdle(log, [run])
  return {
    fromS: log.timeS[run.from],
    toS: log.timeS[run.to - 1],
    warm: run.warm,
    meanRpm: m.meanRpm,
    rpmStdDev: m.rpmStdDev,
    valveMeanPct: m.valveMeanPct,
    mapMeanKpa: m.mapMeanKpa,
    lambdaMean: m.lambdaMean,
    coolantMeanC: m.coolantMeanC,
  }
}
/** seconds of idle that double the sureness of a verdict, and what a channel that is not there takes from a "good" */
const SURER_IN_S = 20
const BLIND = { valve: 0.7, lambda: 0.75, target: 0.6, throttle: 0.85 }

/** What would make the verdict surer. */
function wantsOf(m: Judged): string[] {
  return [
    ...(m.overRpm === null ? ['the target speed'] : []),
    ...(m.valveMeanPct === null ? ['the idle valve’s position'] : []),
    ...(m.lambdaMean === null ? ['the mixture'] : []),
    ...(m.restsAtPct === null ? ['the throttle’s position'] : []),
    ...(m.seconds < 2 * MIN_TOTAL_S ? [`${(2 * MIN_TOTAL_S - m.seconds).toFixed(0)} s more of it`] : []),
    ...(m.correctionMeanPct !== null && m.correctionMeanPct > CORRECTION_OFF_PCT && m.correctionDrivenPct === null
      ? ['ten seconds held at 2,500 rpm']
      : []),
  ]
}
/** A thing twice its threshold is nearly certain, one at it is a toss. */
const sureOf = (margin: number): number => 1 - 0.5 * 2 ** (-3 * Math.max(0, margin - 1))
/** How far a good idle stays from every threshold, worst first, times what it cannot see. */
function sureGood(m: Judged): number {
  const shares = [
    Math.abs(m.overRpm ?? 0) / OFF_TARGET_RPM,
    (m.swing?.amplitudeRpm ?? 0) / HUNT_RPM,
    Math.abs(m.leanBy ?? 0) / MIXTURE_OFF,
    Math.abs(m.correctionMeanPct ?? 0) / CORRECTION_OFF_PCT,
    m.flicker === null ? 0 : Math.min(m.roughRpm / ROUGH_RPM, m.flicker / FLICKER_LAMBDA),
  ]
  const nearest = Math.max(...shares)
  const seen =
    (m.overRpm === null ? BLIND.target : 1) *
    (m.valveMeanPct === null ? BLIND.valve : 1) *
    (m.lambdaMean === null ? BLIND.lambda : 1) *
    (m.restsAtPct === null ? BLIND.throttle : 1)
  return seen * (1 - 0.5 * Math.min(1, nearest) ** 3)
}

/**
 * What kind of idle a log or the last of a stream shows (handbook 06), how sure that is, what may be behind it, and the next move.
 * @throws CoreError COLUMN_MISSING when there is no engine speed
 */
export function judgeIdle(log: Log, options: IdleOptions = {}): IdleVerdict {
  const { timeS, channels } = log
  if (!channels.rpm) throw new CoreError('COLUMN_MISSING', 'engine speed')
  const all = idleRuns(log, options.targetRpm)
  const runs = all.filter((run) => run.warm)
  const seconds = runs.reduce((sum, run) => sum + timeS[run.to - 1] - timeS[run.from], 0)
  const stepS = usualStepS(timeS)
  const tooSlow = stepS > MAX_STEP_S
  const idles = all.map((run) => seenOf(log, run))
  const coldC = idles.at(-1)?.warm === false ? idles.at(-1)!.coolantMeanC : null
  const targetRpm = options.targetRpm ?? null
  if (seconds < MIN_TOTAL_S || tooSlow)
    return {
      verdict: 'not-enough-data',
      meanRpm: null,
      rpmStdDev: null,
      periodS: null,
      amplitudeRpm: null,
      valveMeanPct: null,
      lambdaMean: null,
      correctionMeanPct: null,
      seconds,
      targetRpm,
      sureness: 1,
      causes: [],
      wants: [tooSlow ? `rows at most ${MAX_STEP_S} s apart` : `${(MIN_TOTAL_S - seconds).toFixed(0)} s more of warm idle`],
      notes: [],
      idles,
      loop: null,
      next: tooSlow
        ? `The rows stand ${stepS.toFixed(1)} s apart: a swing of one second does not show. Log at least ${1 / MAX_STEP_S} rows a second; 10 are better.`
        : coldC !== null && seconds === 0
          ? `It idles, but cold: ${coldC.toFixed(0)} °C now, and warm begins at ${WARM_C} °C. Let it warm up.`
          : `Only ${seconds.toFixed(0)} s of warm idle with the throttle at rest; log ${MIN_TOTAL_S} s or more without touching anything.`,
    }
  const measures = measureIdle(log, runs, options.authorityPct)
  const m: Judged = {
    ...measures,
    overRpm: targetRpm === null ? null : overTarget(measures.meanRpm, targetRpm, options.offsetsRpm ?? []),
    reach: options.reach,
    restsApartPct: restsApart(all),
  }
  const base = {
    meanRpm: m.meanRpm,
    rpmStdDev: m.rpmStdDev,
    periodS: m.swing?.periodS ?? null,
    amplitudeRpm: m.swing?.amplitudeRpm ?? m.rpmStdDev * Math.SQRT2,
    valveMeanPct: m.valveMeanPct,
    lambdaMean: m.lambdaMean,
    correctionMeanPct: m.correctionMeanPct,
    seconds,
    targetRpm,
    idles,
    loop: m.swing ? identifyPlant(log, runs, m.swing) : null,
    wants: wantsOf(m),
    notes: [...catches(log), ...heldByLoop(m)],
  }
  return { ...base, ...judged(m, 1) }
}

/** The first rule that finds something, or a good idle. @param seen share of the sureness that the way of looking leaves */
function judged(m: Judged, seen: number): Pick<IdleVerdict, 'verdict' | 'causes' | 'next' | 'sureness'> {
  const enough = seen * (1 - 0.5 * 2 ** (-m.seconds / SURER_IN_S))
  for (const rule of rules) {
    const found = rule(m)
    if (found) {
      const { verdict, causes, next, margin } = found
      return { verdict, causes, next, sureness: enough * sureOf(margin) }
    }
  }
  const unsaid = m.overRpm === null ? ' Say its target speed: whether it is on it cannot be told without.' : ' Nothing to do.'
  return {
    verdict: 'good',
    causes: [],
    sureness: enough * sureGood(m),
    next: `Idle is steady${m.valveMeanPct === null ? '' : ' and the valve has room both ways'}.${unsaid}`,
  }
}

/** What a person read from the unit's display at a warm idle. */
export interface ShownIdle {
  rpm: number
  valvePct: number
  mapKpa: number
}
export const LOOKS_WANTED = 3
/** a look at a display is worth so many seconds of a log, and a display shows no swing and no roughness */
const LOOK_S = 10
const DISPLAY_SEES = 0.7
/**
 * The idle from three looks at a display, a few seconds apart: speed, valve, reach. A display does not show mixture over time or roughness.
 * @throws CoreError DATA_TOO_SHORT with fewer looks
 */
export function judgeShown(looks: readonly ShownIdle[], options: IdleOptions = {}): IdleVerdict {
  if (looks.length < LOOKS_WANTED)
    throw new CoreError(
      'FACT_MISSING',
      `${LOOKS_WANTED} looks at the display; there ${looks.length === 1 ? 'is one' : `are ${looks.length}`}`,
    )
  const of = (key: keyof ShownIdle) => looks.map((look) => look[key])
  const spread = (values: number[]) => (Math.max(...values) - Math.min(...values)) / 2
  const amplitudeRpm = spread(of('rpm'))
  const meanRpm = mean(of('rpm'))
  const targetRpm = options.targetRpm ?? null
  const m: Judged = {
    seconds: looks.length * LOOK_S,
    meanRpm,
    rpmStdDev: deviation(of('rpm')),
    roughRpm: 0,
    swing:
      amplitudeRpm >= HUNT_RPM ? { periodS: NaN, amplitudeRpm, lambda: null, correctionPct: null, valvePct: spread(of('valvePct')) } : null,
    valveMeanPct: mean(of('valvePct')),
    valveStdDevPct: deviation(of('valvePct')),
    lambdaMean: null,
    flicker: null,
    leanBy: null,
    correctionMeanPct: null,
    authorityPct: options.authorityPct ?? 0,
    saturatedShare: 0,
    correctionDrivenPct: null,
    mapMeanKpa: mean(of('mapKpa')),
    mapStdDevKpa: null,
    advanceMeanDeg: null,
    coolantMeanC: null,
    restsAtPct: null,
    overRpm: targetRpm === null ? null : overTarget(meanRpm, targetRpm, options.offsetsRpm ?? []),
    reach: options.reach,
    restsApartPct: 0,
  }
  const hunts = m.swing !== null && (m.overRpm === null || m.overRpm <= FAR_OVER_RPM)
  return {
    ...(hunts
      ? {
          verdict: 'hunting-valve' as const,
          causes: [
            likely(
              'controller-gain',
              0.5,
              `the looks lie ${(2 * amplitudeRpm).toFixed(0)} rpm apart`,
              'Hold the valve still, or log half a minute.',
            ),
          ],
          sureness: 0.4,
          next: `The speed was not the same at each look (±${amplitudeRpm.toFixed(0)} rpm): it swings. Log half a minute, so that period and cause can be told.`,
        }
      : judged({ ...m, swing: null }, DISPLAY_SEES)),
    meanRpm,
    rpmStdDev: m.rpmStdDev,
    periodS: null,
    amplitudeRpm,
    valveMeanPct: m.valveMeanPct,
    lambdaMean: null,
    correctionMeanPct: null,
    seconds: m.seconds,
    targetRpm,
    notes: [],
    idles: [],
    loop: null,
    wants: ['half a minute of log, for swings, roughness and mixture', ...(targetRpm === null ? ['the target speed'] : [])],
  }
}
