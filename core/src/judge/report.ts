import { bleedDown, designOf, leakState, pressureChecks } from '../fuel/index.ts'
import { alongCurve, type BuildData, type Context, type Dimension, latest, readingsOf, type Said } from '../kernel/index.ts'
import { currentTiming, sweepOf, triggerWays } from '../spark/index.ts'
import { idleTargetRpm, type ResolvedFacts } from '../survey/index.ts'
import { bilinear, type TuneDocument } from '../tune/index.ts'
import { contextOf, evaluate } from './judgement.ts'

/** A line of the hand-over report: a plain text value, or a metric number the screen shows in the reader's units. */
export interface ReportLine {
  label: string
  text?: Said
  number?: { value: number; dimension: Dimension; decimals?: number }
  note?: Said
}
export interface ReportSection {
  id: string
  title: string
  lines: ReportLine[]
  /** said when there is nothing to list */
  empty: string
}

const route = { 'throttle-body': 'Throttle body', 'multi-port': 'Multi-port', 'individual-runner': 'Individual runner' } as const

/** What the owner must know, in words that hold for every conversion. */
export const ownerCautions = [
  'Fuel in the lines is under pressure for hours after a run. Lines are opened only with the pressure relieved, the battery off, and an extinguisher at hand.',
  'Do not jump-start another car from this one with the engine running, and do not disconnect the battery while it runs.',
  'Do not wash the control unit, coil or connectors with a pressure washer.',
  'Unleaded fuel only: leaded fuel and silicone sealants ruin the mixture sensor.',
  'If the engine stops and the pump can still be heard after two seconds, switch the key off.',
  'A smell of fuel means: key off, find the leak first.',
  'Emissions, inspection and fuel-system rules differ from place to place; what local code or a licensed trade says goes before this sheet.',
] as const

/** Checks that fall due after hand-over. */
export const followUps = [
  'Leak check, hot, after the first drive and after the first week',
  'Plugs read and flange bolts checked after 500 km',
  'A log brought after 500 km, to see that the mixture still holds',
  'Leaks, hoses and battery looked at when the car comes out of winter',
] as const

/**
 * The hand-over report of a build: everything from its data, nothing from a template.
 * @param document the tune in the car, for its settings; left out, the section says that none is
 */
export function handoverReport(build: BuildData, document: TuneDocument | null = null): ReportSection[] {
  const c = contextOf(build)
  const { facts, resolved, plan, spark } = c
  const evaluation = evaluate(build)
  const text = (label: string, value: string | number | undefined | null, note?: string): ReportLine[] =>
    value === undefined || value === null || value === '' ? [] : [{ label, text: String(value), note }]
  const number = (label: string, value: number | undefined | null, dimension: Dimension, note?: string, decimals?: number): ReportLine[] =>
    value === undefined || value === null ? [] : [{ label, number: { value, dimension, decimals }, note }]
  const car = facts.car ?? {}
  const tune = build.tunes.find((t) => t.status === 'in-car')
  const timing = currentTiming(c)
  const sweep = sweepOf(c)
  const ran = latest(c.readings, 'start.ran')
  const learn = latest(c.readings, 'learn.result')
  const light = readingsOf(c.readings, 'spark.timing-light')
  const open = evaluation.stations.flatMap((s) => s.findings.filter((f) => f.severity !== 'note').map((f) => ({ station: s.title, ...f })))
  return [
    {
      id: 'car',
      title: 'The car',
      empty: 'No facts entered.',
      lines: [
        ...text('Car', [car.year, car.make, car.model, car.body].filter(Boolean).join(' ')),
        ...text('Owner', car.owner),
        ...text('Cylinders', resolved.cylinders),
        ...number('Displacement', resolved.displacementCc, 'displacement'),
        ...text('Firing order', facts.engine?.firingOrder?.join('-')),
        ...text('Compression', `${resolved.compressionRatio}:1`),
        ...number('Power', resolved.powerKw, 'power'),
      ],
    },
    {
      id: 'done',
      title: 'What was fitted and set',
      empty: 'Nothing chosen yet.',
      lines: [
        ...text('Injection', plan.route ? route[plan.route] : undefined),
        ...text(
          'Injectors',
          plan.injectors ? `${plan.injectors} of ${plan.injectorCcMin ?? '?'} cc/min at ${plan.injectorRatedKpa ?? '?'} kPa` : undefined,
        ),
        ...number('Fuel pressure planned', plan.fuelPressureKpa, 'pressure'),
        ...text('Trigger', spark.trigger ? triggerWays[spark.trigger].title : undefined),
        ...number('Reference angle', spark.referenceDeg, 'angle', 'crank degrees BTDC'),
        ...number('Signal delay', spark.delayUs, 'timeUs'),
        ...number('Rotor in line at', spark.alignDegBtdc, 'angle', 'crank degrees BTDC'),
        ...(spark.trigger && spark.trigger !== 'speed-signal'
          ? text('Swept range', `${sweep.minAdvanceDeg}° to ${sweep.maxAdvanceDeg}° BTDC`)
          : []),
        ...text(
          'Tune in the car',
          tune ? `version ${tune.number}, ${tune.name}, since ${(tune.inCarSince ?? tune.createdAt).slice(0, 10)}` : undefined,
        ),
      ],
    },
    {
      id: 'tune',
      title: 'Tune in the car',
      empty: 'No tune is in the car.',
      lines: document ? tuneLines(document, resolved, number, text) : [],
    },
    {
      id: 'fuel',
      title: 'Fuel system',
      empty: 'The fuel system is not laid out.',
      lines: fuelLines(c, number, text),
    },
    {
      id: 'measured',
      title: 'What was measured',
      empty: 'No readings recorded.',
      lines: [
        ...number('Fired after', ran?.value.secondsToFire, 'timeS', ran ? ran.takenAt.slice(0, 10) : undefined),
        ...number('Idle after start', ran?.value.idleRpm, 'rpm'),
        ...(timing
          ? number(
              'Timing error left',
              timing.worstErrorDeg,
              'angle',
              `from ${light.length} light readings; reference ± ${timing.referenceErrorSeDeg.toFixed(1)}°`,
            )
          : []),
      ],
    },
    {
      id: 'learned',
      title: 'Mixture',
      empty: 'No log has been solved.',
      lines: learn
        ? [
            ...number('Driving time in proven cells', learn.value.provenTimePct, 'percent'),
            ...number('Error left, rms', learn.value.errorRmsPct, 'percent'),
            ...number('Time used', learn.value.usedSeconds, 'timeS', undefined, 0),
            ...text('Unsafe cells', learn.value.unsafeCells),
          ]
        : [],
    },
    {
      id: 'open',
      title: 'Open points',
      empty: 'None.',
      lines: open.map((f) => ({ label: `${f.station}, ${f.severity}`, text: f.message, note: `${f.because} ${f.remedy}` })),
    },
    {
      id: 'assumed',
      title: 'Assumed, not measured',
      empty: 'Nothing had to be assumed.',
      lines: resolved.assumptions.map((a) => ({ label: a.label, text: a.value, note: a.reason })),
    },
    { id: 'cautions', title: 'For the owner', empty: '', lines: ownerCautions.map((text) => ({ label: '', text })) },
    { id: 'followups', title: 'What falls due', empty: '', lines: followUps.map((text) => ({ label: '', text })) },
  ]
}

const layoutWords = { return: 'Return line', returnless: 'Returnless', 'lift-sump': 'Lift and sump', 'surge-tank': 'Surge tank' } as const

/** The fuel system as designed and as proved. */
function fuelLines(
  c: Context,
  number: (label: string, value: number | undefined | null, dimension: Dimension, note?: string, decimals?: number) => ReportLine[],
  text: (label: string, value: string | undefined, note?: string) => ReportLine[],
): ReportLine[] {
  if (!c.fuel.layout) return []
  const full = designOf(c)?.solutions.find((s) => s.state === 'full')
  const leaks = leakState(c)
  const bleed = latest(c.readings, 'fuel.bleed-down')
  const draw = latest(c.readings, 'fuel.pump-draw')
  const checks = readingsOf(c.readings, 'fuel.recheck')
  return [
    ...text('Layout', layoutWords[c.fuel.layout]),
    ...number('Regulator set to', c.fuel.regulator?.setKpa, 'pressure', 'over its port'),
    ...number('Pump margin at full power, computed', full?.marginPct, 'percent'),
    ...pressureChecks(c).flatMap((p) => number(p.running ? 'Pressure at idle' : 'Pressure, engine off', p.pressureKpa, 'pressure')),
    ...number('Kept after ten minutes', bleed ? bleedDown(bleed.value).keptPct : null, 'percent'),
    ...number('Pump draws', draw?.value.currentA, 'current'),
    ...text(
      'Joints under pressure',
      leaks.passed ? 'all dry' : leaks.wet.length ? `wet: ${leaks.wet.join(', ')}` : undefined,
      leaks.lastAt?.slice(0, 10),
    ),
    ...checks.flatMap((r) =>
      text(r.value.when === 'hot' ? 'Leak check, hot' : 'Leak check, first week', r.value.dry ? 'dry' : 'wet', r.takenAt.slice(0, 10)),
    ),
  ]
}

/** The settings of a tune that an owner or the next workshop asks for, read from its tables at idle, cruise and full load. */
function tuneLines(
  { axes, tables, parameters: p }: TuneDocument,
  resolved: ResolvedFacts,
  number: (label: string, value: number, dimension: Dimension, note?: string, decimals?: number) => ReportLine[],
  text: (label: string, value: string, note?: string) => ReportLine[],
): ReportLine[] {
  const idleRpm = idleTargetRpm(resolved)
  const points = [
    { name: 'idle', rpm: idleRpm, mapKpa: resolved.idleMapKpa },
    { name: 'cruise', rpm: 0.45 * resolved.redlineRpm, mapKpa: 0.5 * resolved.barometerKpa },
    { name: 'full load', rpm: 0.6 * resolved.redlineRpm, mapKpa: resolved.barometerKpa },
  ]
  return [
    ...points.flatMap(({ name, rpm, mapKpa }) =>
      text(
        `At ${name}`,
        `spark ${bilinear(axes, tables.spark, rpm, mapKpa).toFixed(0)}° BTDC, target lambda ${bilinear(axes, tables.lambdaTarget, rpm, mapKpa).toFixed(2)}, VE ${bilinear(axes, tables.ve, rpm, mapKpa).toFixed(0)} %`,
        `${rpm.toFixed(0)} rpm, ${mapKpa.toFixed(0)} kPa`,
      ),
    ),
    ...number('Warm idle target', alongCurve(p.idleTargetRpm, 85), 'rpm'),
    ...number('Rev limit', p.revLimitRpm, 'rpm'),
    ...number('Injector flow at pressure', p.injectorCcMin, 'injectorFlow', `${p.injectors} injectors at ${p.fuelPressureKpa} kPa`),
    ...text(
      'Closed loop',
      `from ${p.loopMinCoolantC} °C, ${p.loopDelayS} s after start, within ±${p.loopAuthorityPct} %, below ${p.loopMaxMapKpa} kPa`,
    ),
    ...text('Fan', `on at ${p.fanOnC} °C, off at ${p.fanOffC} °C`),
  ]
}
