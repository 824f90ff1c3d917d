import { bleedDown, designOf, leakState, pressureChecks } from '../fuel/index.ts'
import {
  alongCurve,
  amps,
  type BuildData,
  type Context,
  degC,
  type Dimension,
  type JudgedContext,
  kPa,
  latest,
  readingsOf,
  type Said,
  say,
  valueAt,
} from '../kernel/index.ts'
import { planSizes } from '../plan/index.ts'
import { currentTiming, sweepOf, triggerWays } from '../spark/index.ts'
import { allFacts, factAt, type FactPath, factSays, idleTargetRpm, type ResolvedFacts } from '../survey/index.ts'
import { bilinear, type TuneDocument } from '../tune/index.ts'
import { heldAnswers, temporaryAnswers, unreleased } from '../unit/index.ts'
import { fuseCard, harnessOf, keyedWire } from '../wiring/index.ts'
import { contextOf, evaluate } from './judgement.ts'

/** A line of the hand-over report; the reader's units are put in where it is printed. */
interface ReportLine {
  label: string
  text: Said
  note?: Said
}
export interface ReportSection {
  id: string
  title: string
  lines: ReportLine[]
  /** said when there is nothing to list */
  empty: string
}

/** A line, or none when there is nothing to say. */
const text = (label: string, value: Said | number | undefined | null, note?: Said): ReportLine[] =>
  value === undefined || value === null || value === '' ? [] : [{ label, text: typeof value === 'number' ? String(value) : value, note }]
const number = (label: string, value: number | undefined | null, dimension: Dimension, note?: Said, decimals?: number): ReportLine[] =>
  value === undefined || value === null ? [] : [{ label, text: say`${{ value, dimension, decimals }}`, note }]
/** A fact by its catalogue label; what was assumed stands in a section of its own. */
const fact = (facts: BuildData['facts'], path: FactPath): ReportLine[] => {
  const value = valueAt(facts, path)
  return value === undefined ? [] : text(factAt(path).label, factSays(path, value))
}

const route = { 'throttle-body': 'Throttle body', 'multi-port': 'Multi-port', 'individual-runner': 'Individual runner' } as const

/** What the owner must know, in words that hold for every conversion. */
const ownerCautions = [
  'Fuel in the lines is under pressure for hours after a run. Lines are opened only with the pressure relieved, the battery off, and an extinguisher at hand.',
  'Do not jump-start another car from this one with the engine running, and do not disconnect the battery while it runs.',
  'Do not wash the control unit, coil or connectors with a pressure washer.',
  'Unleaded fuel only: leaded fuel and silicone sealants ruin the mixture sensor.',
  'If the engine stops and the pump can still be heard after two seconds, switch the key off.',
  'A smell of fuel means: key off, find the leak first.',
  'Emissions, inspection and fuel-system rules differ from place to place; what local code or a licensed trade says goes before this sheet.',
] as const

/** The fuse card, and what the wiring was proved by. */
function wiringLines(c: JudgedContext): ReportLine[] {
  if (!c.build.choices.wiring?.laid) return []
  const cranked = latest(c.readings, 'wiring.crank-volts')
  return [
    ...fuseCard(harnessOf(c)).map(({ name, fuseA, relay }) => ({
      label: name,
      text: say`fuse of ${amps(fuseA)}`,
      ...(relay ? { note: 'with relay' } : {}),
    })),
    ...text('Keyed supply from', keyedWire(c) ?? undefined),
    ...number('Volts at the unit while cranking', cranked?.value.atUnitV, 'voltage', cranked?.takenAt.slice(0, 10)),
  ]
}

/** Checks that fall due after hand-over. */
const followUps = [
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
        ...fact(facts, 'engine.cylinders'),
        ...number(factAt('engine.displacementCc').label, resolved.displacementCc, 'displacement'),
        ...fact(facts, 'engine.firingOrder'),
        ...fact(facts, 'engine.compressionRatio'),
        ...number(factAt('engine.powerKw').label, resolved.powerKw, 'power'),
      ],
    },
    {
      id: 'surveyed',
      title: 'As it came in',
      empty: 'No facts entered.',
      lines: allFacts.filter(({ path }) => !TOLD_ABOVE.includes(path)).flatMap(({ path }) => fact(facts, path)),
    },
    {
      id: 'done',
      title: 'What was fitted and set',
      empty: 'Nothing chosen yet.',
      lines: [
        ...text('Injection', plan.route ? route[plan.route] : undefined),
        ...text(
          'Injectors',
          plan.injectors && plan.injectorCcMin && plan.injectorRatedKpa
            ? say`${plan.injectors} of ${plan.injectorCcMin} cc/min at ${kPa(plan.injectorRatedKpa)}`
            : undefined,
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
    { id: 'unit', title: 'The control unit', empty: 'Nothing told of the unit.', lines: unitLines(c) },
    {
      id: 'own-figures',
      title: 'Figures of a person in the place of a computed one',
      empty: 'None: every size stands as it was computed.',
      lines: planSizes(c)
        .filter((size) => size.reason !== null)
        .map(({ sizeId, label, value, dimension, reason }) => {
          const { who, at } = plan.overrides?.[sizeId] ?? {}
          return {
            label,
            text: say`${{ value: value ?? 0, dimension }}`,
            note: `“${reason}”${who ? `, ${who}` : ''}${at ? `, ${at.slice(0, 10)}` : ''}`,
          }
        }),
    },
    {
      id: 'tune',
      title: 'Tune in the car',
      empty: 'No tune is in the car.',
      lines: document ? tuneLines(document, resolved) : [],
    },
    {
      id: 'fuel',
      title: 'Fuel system',
      empty: 'The fuel system is not laid out.',
      lines: fuelLines(c),
    },
    { id: 'wiring', title: 'Fuses and wiring', empty: 'No harness was laid here.', lines: wiringLines(c) },
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
    { id: 'before-after', title: 'Before and after', empty: 'Not measured both before and after.', lines: beforeAfter(c) },
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
      lines: open.map((f) => ({
        label: `${f.station}, ${f.severity}`,
        text: f.said.message,
        note: say`${f.said.because} ${f.said.remedy}`,
      })),
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

/** What was measured on the carburettor, and again after: only where both were. */
function beforeAfter({ facts, readings }: Context): ReportLine[] {
  const after = latest(readings, 'handover.after')
  if (!after) return []
  return allFacts.flatMap(({ path, label }): ReportLine[] => {
    const [group, name] = path.split('.')
    const before = valueAt(facts, path)
    const now = (after.value as Record<string, unknown>)[name]
    return group === 'baseline' && before !== undefined && now !== undefined
      ? [{ label, text: say`${factSays(path, before)} before, ${factSays(path, now)} after` }]
      : []
  })
}

/** Facts that the head of the sheet tells already. */
const TOLD_ABOVE: readonly FactPath[] = [
  'car.year',
  'car.make',
  'car.model',
  'car.body',
  'car.owner',
  'engine.cylinders',
  'engine.displacementCc',
  'engine.firingOrder',
  'engine.compressionRatio',
  'engine.powerKw',
]

const layoutWords = { return: 'Return line', returnless: 'Returnless', 'lift-sump': 'Lift and sump', 'surge-tank': 'Surge tank' } as const

/** The fuel system as designed and as proved. */
function fuelLines(c: Context): ReportLine[] {
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
    ...number('Kept after ten minutes', bleed ? bleedDown(bleed.value, c.fuel.layout).keptPct : null, 'percent'),
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

const setByWords = { questions: 'questions on its display', tables: 'tables from a computer', both: 'questions and tables' } as const
const learnsWords = {
  itself: 'the unit, by itself',
  trim: 'only a trim that is forgotten',
  nobody: 'nobody: a person corrects the tables',
} as const
/** What the owner or the next workshop asks about the unit: how it is set, who learns, whether that is saved, what is still for the time being. */
function unitLines(c: Context): ReportLine[] {
  const { firmware, setBy, learns, whyLearns } = c.build.choices.unit ?? {}
  const held = heldAnswers(c)
  const saved = latest(c.readings, 'unit.saved')
  return [
    ...text('Unit', c.plan.unit?.name),
    ...text('Firmware', firmware),
    ...text('Set by', setBy && setByWords[setBy]),
    ...text('Who learns', learns && learnsWords[learns], whyLearns),
    ...(held.equal ? text('Answers read in it after a key-off', `${held.equal} of ${held.all.length} are what was meant`) : []),
    ...(saved?.value.stillThere ? text('Learned values saved', saved.takenAt.slice(0, 10)) : []),
    ...unreleased(c).flatMap(({ value: { what, value } }) =>
      text('For the time being', `${temporaryAnswers[what].label}${value === undefined ? '' : ` at ${value}`}, NOT released`),
    ),
  ]
}

/** The settings of a tune that an owner or the next workshop asks for, read from its tables at idle, cruise and full load. */
function tuneLines({ axes, tables, parameters: p }: TuneDocument, resolved: ResolvedFacts): ReportLine[] {
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
        say`${rpm.toFixed(0)} rpm, ${kPa(mapKpa)}`,
      ),
    ),
    ...number('Warm idle target', alongCurve(p.idleTargetRpm, 85), 'rpm'),
    ...number('Rev limit', p.revLimitRpm, 'rpm'),
    ...number('Injector flow at pressure', p.injectorCcMin, 'injectorFlow', say`${p.injectors} injectors at ${kPa(p.fuelPressureKpa)}`),
    ...text(
      'Closed loop',
      say`from ${degC(p.loopMinCoolantC)}, ${p.loopDelayS} s after start, within ±${p.loopAuthorityPct} %, below ${kPa(p.loopMaxMapKpa)}`,
    ),
    ...text('Fan', say`on at ${degC(p.fanOnC)}, off at ${degC(p.fanOffC)}`),
  ]
}
