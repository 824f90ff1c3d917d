import { flagTitle } from '../start/fault-flags.ts'
import { takingWords } from '../tune/taking.ts'
import type { z } from 'zod'
import { symptomWords } from '../spark/interference.ts'
import type { readingKinds, ReadingKind } from './readings.ts'

const spaced = (id: string): string => id.replaceAll('-', ' ')
const wetOrDry = (dry: boolean, where?: string): string => (dry ? 'dry' : `WET${where ? ` at ${where}` : ''}`)

/** How each kind of reading reads in the logbook and on the page where it was taken; metric. */
const words: { [K in ReadingKind]: (value: z.infer<(typeof readingKinds)[K]>) => string } = {
  'spark.timing-light': (v) => `Timing light: ${v.observedDeg}° at ${v.rpm} rpm, ${v.commandedDeg}° commanded`,
  'spark.signal': (v) => `Pick-up signal: ${v.crankingV} V cranking over ${v.noiseV} V noise`,
  'spark.stroke': (v) => `Compression stroke by ${v.method}: ${v.inStep ? 'in step' : 'a whole crank turn OUT'}`,
  'spark.order': (v) => `Sparks seen in the order ${v.cylinders.join('-')}`,
  'spark.polarity': (v) => `Polarity of the sensor by ${v.method}: ${v.right ? 'right' : 'WRONG way round'}`,
  'spark.air-gap': (v) => `Air gap ${v.leastMm} to ${v.mostMm} mm in a turn`,
  'spark.fitted': (v) =>
    `Pick-up set at ${v.referenceDeg}° BTDC${v.alignDegBtdc === undefined ? '' : `, rotor in line at ${v.alignDegBtdc}°`}`,
  'spark.moved': (v) =>
    `${spaced(v.what)} moved: now ${Math.abs(v.laterDeg).toFixed(1)} crank degrees ${v.laterDeg < 0 ? 'earlier' : 'later'}`,
  'spark.phase-seen': (v) =>
    `Rotor seen ${Math.abs(v.beforeTerminalDeg)}° ${v.beforeTerminalDeg < 0 ? 'past' : 'before'} its terminal at ${v.advanceDeg}° BTDC`,
  'spark.slack': (v) => `Slack: ${v.crankDeg} crank degrees before the rotor follows`,
  'spark.cam-lamp': (v) => `Lamp of the cam sensor changes at ${v.crankDegBtdc}° BTDC`,
  'spark.coil-current': (v) => `Coil peaks at ${v.peakA} A, ${v.batteryV} V`,
  'spark.lead': (v) => `Lead ${v.cylinder}: ${v.ohm} ohm over ${v.lengthMm} mm`,
  'spark.scope': (v) =>
    `Scope at ${v.rpm.toFixed(0)} rpm: ${v.pulses} pulses, ${v.missing} missing, ${v.extra} extra${v.jitterDeg === null ? '' : `, jitter ${v.jitterDeg.toFixed(2)}°`}, polarity ${v.polarity}`,
  'spark.fit': (v) =>
    `Timing fit of ${v.readings} readings: reference error ${v.referenceErrorDeg.toFixed(1)} ± ${v.referenceErrorSeDeg.toFixed(1)}°${v.delayErrorUs === null ? '' : `, delay error ${v.delayErrorUs.toFixed(0)} µs`}; put right by ${spaced(v.fix)}`,
  'spark.done': (v) => `Done: ${spaced(v.step)}`,
  'tach.step': (v) => `Tachometer followed from ${v.fromRpm} to ${v.toRpm} rpm`,
  'spark.symptom': (v) => `${symptomWords[v.symptom]}: ${v.seen ? 'yes' : 'no longer'}`,
  'spark.interference': (v) => `Interference, ${spaced(v.suspect)}: ${v.found ? 'found' : 'clear'}`,
  'tach.reading': (v) => `Tachometer shows ${v.shownRpm} at ${v.trueRpm} rpm`,
  'spark.zero-mark': (v) =>
    `Zero mark by ${spaced(v.method)}: offset ${v.offsetDeg}°${v.dealt === 'stored' ? ', stored' : v.dealt === 're-marked' ? ', marked anew' : ''}`,
  'spark.lock-out': (v) => (v.moves ? 'Hand-twist test: the rotor still moves' : 'Hand-twist test: nothing moves'),
  'survey.old-timing': (v) => `Old timing ${v.observedDeg}° at ${v.rpm} rpm, vacuum can ${v.vacuumCan ? 'on' : 'off'}`,
  'fuel.isolated': () => 'Battery earth off, pressure relieved, engine cold, ventilated, extinguisher at hand',
  'fuel.arrows': (v) => (v.right ? 'Flow arrows of pump, filter and check valve: right' : 'A flow arrow points the WRONG way'),
  'fuel.prime': (v) => `Primed ${v.cycles} times; pump ${v.pumpStops ? 'stops by itself' : 'does NOT stop'}`,
  'fuel.joint': (v) => `Joint ${v.jointId}: ${v.dry ? 'dry' : `WET${v.note ? `, ${v.note}` : ''}`}`,
  'fuel.proof': (v) => `Proof test ${v.pressureKpa} kPa for ${v.minutes} min: ${v.held ? 'held' : 'did NOT hold'}`,
  'fuel.pressure': (v) => `Fuel pressure ${v.pressureKpa.toFixed(0)} kPa${v.engineRunning ? ', engine running' : ''}`,
  'fuel.bleed-down': (v) => `Bleed-down ${v.at0Kpa}, ${v.at1Kpa}, ${v.at5Kpa}, ${v.at10Kpa} kPa after 0, 1, 5, 10 min`,
  'fuel.pump-draw': (v) => `Pump draws ${v.currentA} A at ${v.pressureKpa} kPa and ${v.voltageV} V`,
  'fuel.pump-volts': (v) => `${v.atPumpV} V at the pump, ${v.supplyV} V at the battery`,
  'fuel.recheck': (v) => `Leak check ${v.when === 'hot' ? 'hot' : 'after the first week'}: ${wetOrDry(v.dry, v.where)}`,
  'fuel.leak-check': (v) => `Leak check at pressure: ${wetOrDry(v.dry, v.where)}`,
  'tune.taking': (v) =>
    `Tune ${takingWords[v.step]}${v.differences ? `: NOT, ${v.differences} values differ` : ''}${v.revLimitRpm === undefined ? '' : `, rev limit ${v.revLimitRpm} rpm`}`,
  'start.throttle': (v) =>
    `Throttle pressed twice: ${v.shutPct.toFixed(1)} to ${v.openPct.toFixed(0)} %${v.problems.length ? `; ${v.problems.join('; ')}` : ', smooth'}`,
  'start.injectors': (v) =>
    `Injectors that click: ${v.clicked.join(', ') || 'none'}${v.silent.length ? `; SILENT: ${v.silent.join(', ')}` : ''}${v.spraySeen === undefined ? '' : v.spraySeen ? '; prime spray seen' : '; NO prime spray'}${v.primes === undefined ? '' : `; primed ${v.primes} times`}`,
  'start.flag': (v) => `Unit’s flag ${flagTitle(v.flag)}: ${v.clearedBy === undefined ? 'seen' : `cleared by ${v.clearedBy}`}`,
  'start.safety': (v) => `Extinguisher at hand, helper ready, stop word "${v.stopWord}"`,
  'start.prepared': () => 'Battery charged, connector list done, wheels chocked and out of gear',
  'start.sanity': (v) => (v.passed ? 'Key-on checks passed' : 'Key-on checks did not pass'),
  'start.dry-crank': (v) =>
    `Cranked without fuel at ${v.rpm.toFixed(0)} rpm, ${v.dropouts} dropouts, ${v.spikes} spikes${v.lightDeg === undefined ? '' : `, light ${v.lightDeg.toFixed(1)}° of ${v.commandedDeg ?? '?'}° commanded`}${v.oilKpa === undefined ? '' : `, oil ${v.oilKpa.toFixed(0)} kPa`}`,
  'start.attempt': (v) =>
    `Cranked ${v.seconds.toFixed(1)} s at ${v.rpm.toFixed(0)} rpm${v.pressureKpa === undefined ? '' : `, ${v.pressureKpa.toFixed(0)} kPa`}${v.batteryV === undefined ? '' : `, ${v.batteryV.toFixed(1)} V lowest`}: ${spaced(v.branch)}${v.heard && v.heard !== 'nothing' ? `, heard: ${v.heard}` : ''}${v.plugs ? `, plugs ${v.plugs}` : ''}`,
  'start.flooded': (v) => `Flooded${v.note ? `: ${v.note}` : ''}`,
  'start.flood-cleared': (v) =>
    v.oilClean ? 'After flooding: pump off, plugs out, no fuel in the oil' : 'After flooding: FUEL IN THE OIL',
  'start.ran': (v) => `Engine fired after ${v.secondsToFire.toFixed(1)} s and idles at ${v.idleRpm.toFixed(0)} rpm`,
  'learn.result': (v) =>
    `Log solved: ${v.provenTimePct === null ? 'nothing' : `${v.provenTimePct.toFixed(0)} % of the time`} proven, ${v.unsafeCells} unsafe cells`,
  'handover.signed': (v) => `Hand-over signed by ${v.name}`,
  note: (v) => v.text,
}

/** One line for people about a reading; `value` must be of its kind's schema. */
export const readingWords = (kind: ReadingKind, value: unknown): string => words[kind](value as never)
