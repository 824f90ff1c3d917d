import { LINEAR_LIMIT_MS, MAX_DUTY_PCT } from '../injection/index.ts'
import { airM3Min, at, finding, gramsPerSecond, type JudgedContext, kPa, kW, type Rule, say, sayAll } from '../kernel/index.ts'
import { boosted, HOT_TO_KPA } from '../survey/index.ts'
import { atLeast, type UnitFunction } from './contribution.ts'
import { toolsOf } from './tools.ts'
import { stressed } from './aims.ts'
import { AIR_AGREES_SHARE, INJECTORS_PER_OUTPUT, THROTTLE_DROP_KPA } from './limits.ts'
import { idlePulseMs } from './route-reasons.ts'
import { routeTitles } from './routes.ts'
import { injectorChosen, injectorWanted, peakAir, planSizes, throttleFlowAt } from './sizes.ts'

/** Things that a unit switches beside injectors and coils; one with a fan output of its own has that already. */
const spareOutputs = ({ facts, plan, fuel }: JudgedContext): string[] => [
  'pump relay',
  ...(plan.electronicThrottle ? [] : ['idle valve']),
  ...(facts.electrics?.fan === 'electric' && plan.unit?.fanOutput !== true ? ['fan'] : []),
  ...(facts.gearing?.kickDown === 'electric' ? ['kick-down'] : []),
  ...(facts.fuel?.canister ? ['purge valve'] : []),
  ...(fuel.liftPump?.kind === 'electric' ? ['lift pump'] : []),
]

/** Functions this car and plan ask of a control unit, each with why; stations add theirs. */
export function neededFunctions(c: JudgedContext): UnitFunction[] {
  const { plan, facts, resolved } = c
  const need: UnitFunction[] = []
  const add = (id: string, label: string, why: string, offered: UnitFunction['offered']): void =>
    void need.push({ id, label, why, offered })
  const injectors = plan.injectors ?? 0
  const shared = Math.max(2, Math.ceil(injectors / INJECTORS_PER_OUTPUT))
  if (plan.phased)
    add('injector-outputs', `${injectors} injector outputs`, 'phased: one for each', (u) => atLeast(u.injectorOutputs, injectors))
  else if (injectors)
    add('injector-outputs', `${shared} injector outputs or more`, 'four injectors at most to an output', (u) =>
      atLeast(u.injectorOutputs, shared),
    )
  if (plan.phased) add('phased', 'Phased injection', facts.engine?.siamesedInlets ? 'shared inlet ports' : 'chosen', (u) => u.phased)
  if (plan.timingControl) add('timing', 'Timing control', 'chosen', (u) => u.timingControl)
  need.push(...c.contributed('unitFunctions'))
  if (plan.route === 'individual-runner' || resolved.camClass === 'wild')
    add(
      'throttle-load',
      'Load from throttle position',
      plan.route === 'individual-runner' ? 'a throttle per cylinder' : 'wild cam',
      (u) => u.throttleLoad,
    )
  if (plan.electronicThrottle) add('etb', 'Electronic throttle', 'chosen', (u) => u.electronicThrottle)
  if (boosted(c)) add('boost', 'Boost', 'blown engine', (u) => u.boost)
  if (facts.electrics?.fan === 'electric') add('fan', 'Fan output', 'electric fan', (u) => u.fanOutput)
  const spares = spareOutputs(c)
  if (spares.length)
    add(
      'spare-outputs',
      `${spares.length} ${spares.length === 1 ? 'output' : 'outputs'} beside injectors and coils`,
      spares.join(', '),
      (u) => atLeast(u.spareOutputs, spares.length),
    )
  add('logging', 'Logging', 'learning is proven on logs', (u) => u.logging)
  if (plan.experience === 'first') add('support', 'A maker who answers', 'the first conversion of these hands', (u) => u.support)
  return need
}

export const planRules: Rule[] = [
  {
    id: 'plan.injector-capacity',
    where: at('plan', 'sizes', 'choices.plan.injectorCcMin'),
    check: (c) => {
      const { plan, resolved } = c
      const have = injectorChosen(c)
      if (have === null || !plan.injectors || !plan.fuelPressureKpa) return null
      const computed = injectorWanted(c, plan.injectors)?.flowCcMin
      const own = plan.overrides?.injector
      // a figure of one's own moves the number, up or down; it does not silence a stop
      const wanted = Math.max(computed ?? 0, own?.value ?? 0)
      const overridden =
        own && computed !== undefined && own.value < computed
          ? ` Overridden to ${own.value.toFixed(0)} cc/min: “${own.reason}”${own.who ? `, ${own.who}` : ''}.`
          : ''
      return have < wanted
        ? finding(
            'stop',
            'The injectors are too small',
            say`${plan.injectors} x ${have.toFixed(0)} cc/min at ${kPa(plan.fuelPressureKpa)}; ${resolved.sizing === null ? '?' : say`${kW(resolved.sizing.injectorKw)}`} wants ${wanted.toFixed(0)} cc/min each at ${plan.maxDutyPct ?? MAX_DUTY_PCT} % duty.${overridden}`,
            'Choose larger injectors, or more pressure within the maker’s limit.',
          )
        : null
    },
  },
  {
    id: 'plan.injector-large',
    where: at('plan', 'sizes', 'choices.plan.injectorCcMin'),
    check: (c) => {
      const have = injectorChosen(c)
      const { plan } = c
      if (have === null || !plan.injectors || !plan.route) return null
      const pulse = idlePulseMs(c, plan.route, plan.injectors, have)
      if (pulse === null || pulse >= LINEAR_LIMIT_MS[1]) return null
      return finding(
        pulse < LINEAR_LIMIT_MS[0] ? 'stop' : 'warn',
        'The injectors are too large for the idle',
        `${pulse.toFixed(2)} ms at warm idle; below ${LINEAR_LIMIT_MS[0]}-${LINEAR_LIMIT_MS[1]} ms they no longer meter evenly.`,
        'Smaller injectors, or the maker’s data for short pulses in the unit.',
      )
    },
  },
  {
    id: 'plan.injector-count',
    where: at('plan', 'sizes', 'choices.plan.injectors'),
    check: ({ plan, resolved }) =>
      plan.route && plan.route !== 'throttle-body' && plan.injectors && resolved.cylinders && plan.injectors % resolved.cylinders !== 0
        ? finding(
            'stop',
            'Not an injector for each port',
            `${plan.injectors} injectors on ${resolved.cylinders} cylinders; ${routeTitles[plan.route].toLowerCase()} wants one at each, or two.`,
            'Correct the number of injectors, or choose the throttle body.',
          )
        : null,
  },
  {
    id: 'plan.throttle-small',
    where: at('plan', 'sizes', 'choices.plan.throttleM3Min'),
    check: (c) => {
      const { plan } = c
      if (!plan.throttleM3Min || !plan.throttleRatedKpa || !plan.route) return null
      const air = peakAir(c, plan.route)
      const drop = plan.throttleDropKpa ?? THROTTLE_DROP_KPA
      const have = throttleFlowAt(plan.throttleM3Min, plan.throttleRatedKpa, drop)
      return air && have < air.volumeM3Min
        ? finding(
            'warn',
            'The throttle is small for the power',
            say`It passes ${airM3Min(have)} at ${kPa(drop)} (${airM3Min(plan.throttleM3Min)} at ${kPa(plan.throttleRatedKpa)}); the engine takes ${airM3Min(air.volumeM3Min)}.`,
            'A larger throttle, or accept the loss at full speed.',
          )
        : null
    },
  },
  {
    id: 'plan.air-power',
    where: at('plan', 'sizes', 'facts.engine.powerKw'),
    check: (c) => {
      const { plan, resolved } = c
      const air = resolved.powerSpread === 0 ? peakAir(c, plan.route ?? 'throttle-body') : null
      if (!air || air.byDisplacementGps === null) return null
      const off = air.massGps / air.byDisplacementGps - 1
      return Math.abs(off) > AIR_AGREES_SHARE
        ? finding(
            'warn',
            'Power and displacement do not ask for the same air',
            say`${kW(air.input.powerKw)} burns ${gramsPerSecond(air.massGps)}; the cylinders take about ${gramsPerSecond(air.byDisplacementGps)} at the speed of peak power with this cam. Sizes go by the power.`,
            off > 0
              ? 'Check the power, the redline and the cam: one of them is better than the others say.'
              : 'Check the power and the redline: a tired or throttled engine, or a redline it never reaches.',
          )
        : null
    },
  },
  {
    id: 'plan.timing-needed',
    where: at('plan', 'route', 'choices.plan.timingControl'),
    check: (c) =>
      c.plan.timingControl === false && (boosted(c) || c.facts.induction?.nitrous)
        ? finding(
            'stop',
            'This engine needs timing control',
            c.facts.induction?.nitrous
              ? 'Nitrous burns faster: the old advance would be early.'
              : say`Boost of ${c.facts.induction?.boostKpa === undefined ? 'unknown height' : say`${kPa(c.facts.induction.boostKpa)}`}: the old advance would be early under it.`,
            'Let the unit time the spark.',
          )
        : null,
  },
  {
    id: 'plan.mixture-spread',
    where: at('plan', 'route'),
    check: ({ facts, plan, resolved }) =>
      plan.route === 'throttle-body' && resolved.cylinders !== 1 && stressed({ facts, resolved })
        ? finding(
            'warn',
            'Uneven mixture is less forgiven here',
            say`A throttle body cannot correct cylinders singly, and this engine stands near its knock or heat limit: ${boosted({ facts }) ? 'boost' : `${resolved.compressionRatio}:1`}${resolved.powerKw === null ? '' : say`, ${kW(resolved.powerKw)}`}.`,
            'Hold full load a little richer, read every plug, or choose multi-port.',
          )
        : null,
  },
  {
    id: 'plan.siamesed',
    where: at('plan', 'route', 'choices.plan.phased'),
    check: ({ facts, plan }) =>
      facts.engine?.siamesedInlets && plan.route && plan.route !== 'throttle-body' && !plan.phased
        ? finding(
            'warn',
            'Shared inlet ports with an injector to each port',
            'Two cylinders draw from one port at unequal times, so equal pulses give unequal mixtures.',
            'Use phased injection with a cam signal, or the throttle body.',
          )
        : null,
  },
  {
    id: 'plan.runner-vacuum',
    where: at('plan', 'route', 'choices.plan.brakeBooster'),
    check: ({ plan }) =>
      plan.route === 'individual-runner' && plan.brakeBooster !== false
        ? finding(
            'warn',
            'The brake booster has no steady vacuum',
            'With a throttle per cylinder no port holds a steady vacuum.',
            'A reservoir with a check valve or a collector; test the brakes before the road.',
          )
        : null,
  },
  {
    id: 'plan.wild-idle',
    where: at('plan', 'route'),
    check: ({ plan, resolved }) =>
      plan.route && plan.route !== 'individual-runner' && resolved.camClass === 'wild'
        ? finding(
            'note',
            'Load at idle by throttle position',
            say`MAP at idle is ${kPa(resolved.idleMapKpa)}, above ${kPa(HOT_TO_KPA)}: speed-density alone is poor there.`,
            'A unit that blends throttle position in at idle.',
          )
        : null,
  },
  {
    id: 'plan.alternator',
    where: at('survey', undefined, 'facts.electrics.chargingRatedA'),
    check: (c) => {
      const rated = c.facts.electrics?.chargingRatedA
      const need = planSizes(c).find((s) => s.sizeId === 'alternator')?.value
      return c.facts.electrics?.charging === 'alternator' && rated !== undefined && need && rated < need
        ? finding(
            'warn',
            'The alternator is small',
            `${rated} A rated; the loads want ${need.toFixed(0)} A with a fifth in hand.`,
            'A larger alternator, or fewer loads at once.',
          )
        : null
    },
  },
  {
    id: 'plan.unit',
    where: at('plan', 'unit'),
    check: (c) => {
      if (!c.plan.unit) return null
      const missing = neededFunctions(c).filter((f) => f.offered(c.plan.unit!) === false)
      return missing.length
        ? finding(
            'stop',
            'The control unit lacks what this car needs',
            missing.map((f) => `${f.label} (${f.why})`).join('; ') + '.',
            'Another unit, or a plan that does without.',
          )
        : null
    },
  },
  {
    id: 'plan.pairs',
    where: at('plan', 'unit'),
    check: (c) => {
      if (!c.plan.supply) return null
      const pairs = c.contributed('pairs')
      const apart = pairs.filter((p) => p.fit === 'no' || p.fit === 'work')
      const open = pairs.filter((p) => p.fit === 'open')
      if (apart.length)
        return finding(
          apart.some((p) => p.fit === 'no') ? 'stop' : 'warn',
          c.plan.supply === 'separate' ? 'Parts that do not go together' : 'The matched set does not match this car',
          say`${sayAll(apart.map((p) => say`${p.label}: ${p.text}`))}.`,
          'Change one of the two before anything is ordered.',
        )
      return open.length && c.plan.supply === 'separate'
        ? finding(
            'note',
            'Not all parts are known to go together',
            say`${sayAll(open.map((p) => say`${p.label}: ${p.text}`))}.`,
            'Ask the sheets before ordering.',
          )
        : null
    },
  },
  {
    id: 'plan.tools',
    where: at('plan', 'tools'),
    check: (c) => {
      const missing = toolsOf(c).filter((t) => t.status !== 'have')
      return missing.length && c.plan.tools
        ? finding(
            'note',
            `${missing.length} tools are not at hand`,
            `${missing.map((t) => t.name).join(', ')}.`,
            'Borrow, make or buy them before the day they are wanted.',
          )
        : null
    },
  },
  {
    id: 'plan.baseline',
    where: at('survey', undefined, 'facts.baseline.idleRpm'),
    check: ({ facts, plan, readings }) =>
      plan.route &&
      facts.baseline === undefined &&
      facts.place?.startsFrom !== 'half-finished' &&
      !readings.some((r) => r.kind === 'start.ran')
        ? finding(
            'note',
            'Nothing is recorded of how it drives now',
            'Without it “better” is an opinion: idle, cold start, hot restart after 20 minutes, fuel use, and the driver’s five marks.',
            'Measure before anything is taken off.',
          )
        : null,
  },
  {
    id: 'plan.deferred',
    where: at('survey', undefined, 'facts.intake.deferred'),
    check: ({ facts }) =>
      facts.intake?.deferred
        ? finding(
            'note',
            'Jobs put off to later',
            `${facts.intake.deferred}.`,
            'Ask again when the schedule has room: what is off the car anyway is done in half the time now. They stand on the hand-over sheet.',
          )
        : null,
  },
  {
    id: 'plan.approval',
    where: at('survey', undefined, 'facts.intake.approvedBy'),
    check: ({ facts, plan }) =>
      plan.route && facts.intake?.complaint && !facts.intake.approvedBy
        ? finding(
            'note',
            'Nobody has approved the work',
            `It came in with: ${[facts.intake.complaint, facts.intake.testDrive].filter((x) => x !== undefined).join('; seen on the drive: ')}.`,
            'Walk the owner through route, cost span and hours, and enter who approved it.',
          )
        : null,
  },
  {
    id: 'plan.expectations',
    where: at('plan', 'route'),
    check: ({ facts, plan }) =>
      plan.route
        ? finding(
            'note',
            'What to expect',
            `${routeTitles[plan.route]}: cold and hot start, drivability and economy gain; a good carburettor may equal the peak power.${facts.baseline?.faults ? ` Felt now: ${facts.baseline.faults}. What comes of fuel goes; what comes of worn parts stays.` : ''}`,
            'Rate pull-away, part throttle, acceleration, restart and smell in Survey now, and by the same driver afterwards.',
          )
        : null,
  },
]
