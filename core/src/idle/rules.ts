import type { IdleCause, IdleCauseId, IdleOptions, IdleVerdictCode } from './answer.ts'
import {
  AT_LIMIT_WITHIN_PCT,
  CORRECTION_OFF_PCT,
  FAR_OVER_RPM,
  FLICKER_LAMBDA,
  FOOLED_OVER_PCT,
  HUNT_RPM,
  LEAST_AUTHORITY_PCT,
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
} from './limits.ts'
import type { IdleMeasures } from './measure.ts'

/** Against what an idle is judged. */
export interface Judged extends IdleMeasures {
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
export type IdleRule = (m: Judged) => Found | null

export const likely = (cause: IdleCauseId, likelihood: number, evidence: string, test: string): IdleCause => ({
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
const throttleOpen: IdleRule = (m) => {
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
const farOver: IdleRule = (m) => (m.overRpm !== null && m.overRpm > FAR_OVER_RPM ? tooMuchAir(m, m.overRpm / FAR_OVER_RPM) : null)
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
const valveShut: IdleRule = (m) =>
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
const hunting: IdleRule = (m) => {
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
const misfires: IdleRule = (m) => {
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
const valveWide: IdleRule = (m) => {
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
const atLimit: IdleRule = (m) => {
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
const offTarget: IdleRule = (m) => {
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
/** how sure it is that a loop at its limit has not enough */
const PEGGED_MARGIN = 1.2
/** The loop adds all it may and still reads lean. */
const isPegged = (m: Judged): boolean =>
  m.authorityPct >= LEAST_AUTHORITY_PCT && m.saturatedShare > 0.7 && m.leanBy !== null && m.leanBy > 0.02
const pegged: IdleRule = (m) => (isPegged(m) ? fooled(m) : null)
const fooled: IdleRule = (m) => {
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
const mixture: IdleRule = (m) => {
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
export const idleRulesInOrder: readonly IdleRule[] = [
  throttleOpen,
  farOver,
  hunting,
  misfires,
  pegged,
  valveShut,
  valveWide,
  atLimit,
  offTarget,
  fooled,
  mixture,
]
