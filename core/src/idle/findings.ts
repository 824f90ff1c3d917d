import { at, type Context, finding, latest, readingsOf, type Rule, spaced, tuneInCar } from '../kernel/index.ts'
import { hoseLeaks, regimeWords } from './entries.ts'
import { idleMoves, warmDays } from './history.ts'
import { LEAST_MARGIN_DEG, SAME_RPM, SAME_VALVE_PCT, WARM_IDLES } from './limits.ts'
import { dropAllowedRpm } from './load-drop.ts'
import { loopMove, phaseMarginDeg } from './loop.ts'
import { controllerOf } from './options.ts'
import { idleCauseWords } from './answer.ts'

/** Whether the unit adapts its idle by itself, as far as was told. */
export const learnsIdle = (c: Pick<Context, 'build'>): boolean => !['nothing', undefined].includes(c.build.choices.unit?.idleLearns)

export const idleRules: Rule[] = [
  {
    id: 'idle.worse',
    where: at('idle', 'air'),
    check: (c) => {
      const last = idleMoves(c).at(-1)
      if (!last || last.better !== false) return null
      const from = `${last.before!.rpm.toFixed(0)} rpm${last.before!.valvePct === null ? '' : ` and ${last.before!.valvePct.toFixed(0)} %`}`
      const to = `${last.after!.rpm.toFixed(0)} rpm${last.after!.valvePct === null ? '' : ` and ${last.after!.valvePct.toFixed(0)} %`}`
      return finding(
        'warn',
        'The last move made the idle worse',
        `${last.what[0].toUpperCase()}${last.what.slice(1)}: from ${from} to ${to}.`,
        last.turns === null
          ? 'Put the version before back into the car, then look again.'
          : `Take it back first: ${Math.abs(last.turns).toFixed(2)} turns ${last.turns > 0 ? 'shut' : 'open'}, zero learned, and look again.`,
        last.turns === null ? at('tune') : at('idle', 'air', undefined, -last.turns),
      )
    },
  },
  {
    id: 'idle.not-good',
    where: at('idle', 'trace'),
    check: (c) => {
      const bad = (['neutral', 'in-gear', 'loads'] as const)
        .map((regime) =>
          readingsOf(c.readings, 'idle.verdict')
            .filter((r) => (r.value.regime ?? 'neutral') === regime)
            .at(-1),
        )
        .find((r) => r && r.value.verdict !== 'good' && r.value.verdict !== 'not-enough-data')
      if (!bad) return null
      const { verdict, meanRpm, cause, next, regime } = bad.value
      return finding(
        'warn',
        `The idle is not good: ${spaced(verdict)}`,
        `${regimeWords[regime ?? 'neutral'][0].toUpperCase()}${regimeWords[regime ?? 'neutral'].slice(1)}${meanRpm === null ? '' : `, ${meanRpm.toFixed(0)} rpm`}${cause === undefined ? '' : `; most likely ${idleCauseWords[cause]}`}.`,
        next ?? 'Look at the trace, and follow what it says.',
        /^(high|low|off)/.test(verdict) ? at('idle', 'air') : verdict.startsWith('hunting') ? at('idle', 'controller') : undefined,
      )
    },
  },
  {
    id: 'idle.zero-stale',
    where: at('idle', 'air'),
    check: (c) => {
      const turned = latest(c.readings, 'idle.screw')
      const learned = latest(c.readings, 'idle.zero')
      return turned && !(learned && c.readings.indexOf(learned) > c.readings.indexOf(turned))
        ? finding(
            'warn',
            'The zero of the throttle is to be learned again',
            `The screw was turned on ${turned.takenAt.slice(0, 10)} and the zero not learned since.`,
            'Key on, engine off, foot off: learn the zero. Without it the unit leaves its idle mode, and what it shows is no idle.',
          )
        : null
    },
  },
  {
    id: 'idle.hose-leaks',
    where: at('idle', 'leaks'),
    check: (c) => {
      const last = new Map(readingsOf(c.readings, 'idle.hose').map((r) => [r.value.hose.toLowerCase(), r.value]))
      const leaking = [...last.values()].filter(hoseLeaks)
      return leaking.length
        ? finding(
            'warn',
            `Air comes in at ${leaking.map((v) => v.hose).join(', ')}`,
            leaking.map((v) => `${v.beforeRpm.toFixed(0)} to ${v.afterRpm.toFixed(0)} rpm as ${v.hose} was clamped`).join('; '),
            'Renew the hose or what it leads to (a brake booster leaks inside), clamp it once more, and go on to the next.',
          )
        : null
    },
  },
  {
    id: 'idle.drop',
    where: at('idle', 'loads'),
    check: (c) => {
      const last = new Map(readingsOf(c.readings, 'idle.load').map((r) => [r.value.load, r.value]))
      const deep = [...last.values()].find((v) => v.dropRpm > dropAllowedRpm(v.load))
      if (!deep) return null
      const parameter = deep.load === 'gear' ? 'Valve opens in gear by' : 'Valve opens with the fan by'
      return finding(
        'warn',
        `The idle falls too far ${deep.load === 'gear' ? 'as a gear goes in' : `with the ${deep.load}`}`,
        `${deep.dropRpm.toFixed(0)} rpm; ${dropAllowedRpm(deep.load)} rpm at most.`,
        deep.load === 'gear' || deep.load === 'fan'
          ? `Let the valve open before the speed falls: “${parameter}”, 2 % more, then look again.`
          : 'A little more valve at the warm idle, or a higher target, then look again.',
        deep.load === 'gear' || deep.load === 'fan' ? at('tune') : undefined,
      )
    },
  },
  {
    id: 'idle.gain',
    where: at('idle', 'controller'),
    check: (c) => {
      const plant = readingsOf(c.readings, 'idle.verdict').findLast((r) => r.value.loop)?.value.loop
      const controller = controllerOf(tuneInCar(c.build)?.figures ?? {})
      if (!plant || !controller) return null
      const marginDeg = phaseMarginDeg(controller, plant)
      if (marginDeg >= LEAST_MARGIN_DEG) return null
      const move = loopMove(controller, plant)
      return finding(
        'warn',
        'The idle controller is too hot for this engine',
        `Phase margin ${marginDeg.toFixed(0)}°; ${LEAST_MARGIN_DEG}° at least, or it rings. ${move.because}`,
        `Gain ${move.idleGainPct} % for 100 rpm and integral ${move.idleIntegralPctS} %/s leave ${move.marginDeg.toFixed(0)}°: try them on the bench, then send them.`,
      )
    },
  },
  {
    id: 'idle.days-apart',
    where: at('idle', 'days'),
    check: (c) => {
      const { days, rpmApart, valveApart, agree } = warmDays(c.readings)
      return learnsIdle(c) && days >= WARM_IDLES && !agree
        ? finding(
            'warn',
            'Warm idles of different days do not agree',
            `The last ${days} lie ${rpmApart.toFixed(0)} rpm and ${valveApart.toFixed(1)} % of valve apart; ${SAME_RPM} rpm and ${SAME_VALVE_PCT} % at most.`,
            'It still learns, or something changes: a plate that sticks, a leak that opens with heat. Look at it warm on another day before anything is turned.',
          )
        : null
    },
  },
]
