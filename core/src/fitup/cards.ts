import { type CautionId, cautions, type JudgedContext, mm, proved, readingsOf, type Said, say } from '../kernel/index.ts'
import { boxWords, jointWords } from './choices.ts'
import { engagementMm, jointTorque } from './bolts.ts'
import { boxesFor } from './boxes.ts'
import type { FitupEntryKind } from './entries.ts'
import { individual, fitupOf, hasPedalMotor, jointsFor, routeOf } from './fitup-of.ts'
import { tracksProved } from './gates.ts'
import {
  FLAT_MM,
  LIFT_MM,
  PASS_SHARES,
  RAIL_FLOAT_MM,
  SENSOR_DEG,
  SENSOR_FROM_END_MM,
  SENSOR_FROM_PORT_MM,
  SPRINGS,
  TRACKS_PCT,
} from './limits.ts'

/** Rooms of the station in which a card's drawing is. */
export type FitupRoom = 'cards' | 'bolts' | 'ports' | 'linkage' | 'bonnet' | 'sensor' | 'boxes' | 'balance' | 'pedal'
/** One step at the bench: what, why, with what, how tight, what to mind, what is read, when it is done. */
export interface BenchCard {
  id: string
  title: string
  does: Said
  why: string
  tools: string[]
  torque: string | null
  cautions: string[]
  /** what is recorded there */
  reads: FitupEntryKind | null
  /** subject of the record: which joint, box, tracks */
  of: string | null
  doneWhen: Said
  done: boolean
  room: FitupRoom | null
}
/** A card before its cautions are put in words. */
type Draft = Omit<BenchCard, 'cautions'> & { cautions: CautionId[] }
const recorded = (c: JudgedContext, kind: FitupEntryKind): boolean => readingsOf(c.readings, kind).length > 0
const stands = (c: JudgedContext, kind: FitupEntryKind): boolean => proved(c, kind) !== null

function boltCards(c: JudgedContext): Draft[] {
  return jointsFor(c).map((id) => {
    const joint = fitupOf(c).joints?.[id] ?? {}
    const torque = jointTorque(joint)
    const thread = engagementMm(joint)
    return {
      id: `bolts-${id}`,
      title: `Draw down: ${jointWords[id]}`,
      does: say`One gasket, dry. Bolts by hand, all of them; then ${PASS_SHARES.length.toString()} passes in the order drawn${thread === null ? '' : say`; ${mm(thread, 0)} of thread in the lug at least`}.`,
      why: 'a flange that goes down crooked cracks a lug or leaks',
      tools: ['torque wrench', 'feeler gauges'],
      torque: torque
        ? `${torque.passesNm.map((t) => t.toFixed(0)).join(', ')} Nm${torque.by === 'sheet' ? ', by the sheet' : ''}`
        : 'by its sheet, or tell thread and class',
      cautions: ['sheet'],
      reads: 'fitup.torqued',
      of: id,
      doneWhen: 'last pass recorded at its torque, in order',
      done: proved(c, 'fitup.torqued', (r) => r.value.joint === id) !== null,
      room: 'bolts',
    }
  })
}
function pedalCards(c: JudgedContext): Draft[] {
  if (!hasPedalMotor(c))
    return [
      {
        id: 'linkage',
        title: 'Linkage',
        does: `Pedal to plate, a second person at the plate: full with the pedal on the carpet, shuts by itself from anywhere, ${SPRINGS} springs that each shut it alone.`,
        why: 'a throttle that stays open kills',
        tools: ['protractor', 'second person'],
        torque: null,
        cautions: ['moving'],
        reads: 'fitup.linkage',
        of: null,
        doneWhen: 'recorded: full, shuts, springs, nothing binds',
        done: stands(c, 'fitup.linkage'),
        room: 'linkage',
      },
      ...(c.facts.gearing?.kickDown === 'cable' || c.facts.gearing?.kickDown === 'throttle-valve'
        ? [
            {
              id: 'kick-down',
              title: 'Gearbox cable',
              does: 'Set by the gearbox’s sheet: drawn all the way at full throttle, no slack shut; its lever moves through the angle it had on the carburettor.',
              why: 'shift points and line pressure follow it: a gearbox dies of a wrong cable',
              tools: ['pressure gauge'],
              torque: null,
              cautions: ['sheet' as const],
              reads: 'fitup.kick-down' as const,
              of: null,
              doneWhen: 'recorded: full at full, no slack shut',
              done: stands(c, 'fitup.kick-down'),
              room: 'linkage' as const,
            },
          ]
        : []),
    ]
  const card = (
    id: string,
    title: string,
    does: string,
    why: string,
    reads: FitupEntryKind,
    of: string | null,
    doneWhen: string,
    done: boolean,
  ): Draft => ({
    id,
    title,
    does,
    why,
    tools: reads === 'fitup.tracks' ? ['recorder on both tracks'] : ['second person'],
    torque: null,
    cautions: ['moving'],
    reads,
    of,
    doneWhen,
    done,
    room: 'pedal',
  })
  return [
    card(
      'brake-key',
      'Key and brake first',
      'Pedal held down, engine off: key off shuts the plate; brake sends it back. Before anything else of it is tried.',
      'a throttle that runs away can kill',
      'fitup.brake-key',
      null,
      'both recorded',
      stands(c, 'fitup.brake-key'),
    ),
    card(
      'tracks-pedal',
      'Tracks of the pedal',
      'Slowly from end to end and back, both tracks recorded.',
      `two tracks that differ by over ${TRACKS_PCT} % are a fault`,
      'fitup.tracks',
      'pedal',
      'sweep judged sound',
      tracksProved(c, 'pedal'),
    ),
    card(
      'tracks-plate',
      'Tracks of the plate',
      'The plate pushed by hand from end to end and back, key off, tracks recorded.',
      'the motor follows them',
      'fitup.tracks',
      'plate',
      'sweep judged sound',
      tracksProved(c, 'plate'),
    ),
    card(
      'limp',
      'Limp',
      'Key on, engine off, the pedal’s plug pulled: the plate goes to its default and stays.',
      'a lost pedal must not be full throttle',
      'fitup.limp',
      null,
      'recorded within its bounds',
      stands(c, 'fitup.limp'),
    ),
  ]
}
function manifoldCards(c: JudgedContext): Draft[] {
  if (routeOf(c) === 'throttle-body') return []
  return [
    {
      id: 'dry-fit',
      title: 'Manifold tried dry',
      does: say`Bolts by hand without gasket; a feeler at every port; injectors and rail in, ${mm(RAIL_FLOAT_MM.least)} to ${mm(RAIL_FLOAT_MM.most)} of end float; o-rings oiled, clips on.`,
      why: 'lengths and bosses differ from casting to casting',
      tools: ['feeler gauges', 'straightedge'],
      torque: null,
      cautions: [],
      reads: 'fitup.dry-fit',
      of: null,
      doneWhen: 'gap, bolts and float recorded',
      done: stands(c, 'fitup.dry-fit'),
      room: 'bolts',
    },
  ]
}
function coolantCards(c: JudgedContext): Draft[] {
  return [
    {
      id: 'coolant-sensor',
      title: 'Coolant sensor',
      does: 'In flowing coolant, on the engine’s side of the thermostat; thread sealant light, so that it grounds.',
      why: 'cold mixture and fan follow it',
      tools: [],
      torque: null,
      cautions: [],
      reads: 'fitup.coolant-sensor',
      of: null,
      doneWhen: 'recorded wet and before the thermostat',
      done: stands(c, 'fitup.coolant-sensor'),
      room: null,
    },
    ...(routeOf(c) === 'throttle-body'
      ? []
      : [
          {
            id: 'coolant-bled',
            title: 'Coolant filled and bled',
            does: 'Drained before the manifold came off; filled with the heater open, bled at the highest point, level looked at cold the day after.',
            why: 'a bubble at the sensor is a rich, cold engine',
            tools: ['funnel'],
            torque: null,
            cautions: [],
            reads: 'fitup.coolant-bled' as const,
            of: null,
            doneWhen: 'level held',
            done: stands(c, 'fitup.coolant-bled'),
            room: null,
          },
        ]),
  ]
}

/** The bench cards of this car in working order. */
export const benchCards = (c: JudgedContext): BenchCard[] =>
  drafts(c).map((card) => ({ ...card, cautions: card.cautions.map((id) => cautions.find((x) => x.id === id)!.text) }))
function drafts(c: JudgedContext): Draft[] {
  const plain = { torque: null, of: null, room: null, cautions: [] as CautionId[] }
  return [
    {
      ...plain,
      id: 'before',
      title: 'Before anything comes off',
      does: 'Photographs from every side; each vacuum hose marked with its port; pressure relieved, fuel drained; earthed terminal off.',
      why: 'nobody remembers eight hoses',
      tools: ['camera', 'tags'],
      cautions: ['earth-first', 'depressurise', 'vapour'],
      reads: 'fitup.photos',
      doneWhen: 'hoses counted and marked',
      done: recorded(c, 'fitup.photos'),
    },
    {
      ...plain,
      id: 'removal',
      title: 'Carburettor off',
      does: 'Ports covered with a lint-free cloth at once; gasket scraped away from the ports; straightedge along, across and both diagonals.',
      why: 'what falls in stays in',
      tools: ['scraper', 'straightedge', 'feeler gauges'],
      cautions: ['vapour'],
      reads: 'fitup.ports-covered',
      doneWhen: say`covered, and out of flat by ${mm(FLAT_MM)} at most`,
      done: recorded(c, 'fitup.ports-covered'),
    },
    ...manifoldCards(c),
    ...boltCards(c),
    {
      ...plain,
      id: 'ports',
      title: 'Vacuum hoses',
      does: 'Each hose on the port of the map; booster and crankcase ventilation full and large, the pressure sensor by itself, what is unused capped.',
      why: 'false air, dead brakes, or a load that lies',
      tools: ['clamps', 'caps'],
      reads: 'fitup.ports',
      doneWhen: 'each traced by hand; check valve blown against',
      done: stands(c, 'fitup.ports'),
      room: 'ports',
    },
    ...pedalCards(c),
    {
      ...plain,
      id: 'bonnet',
      title: 'Under the bonnet',
      does: say`Clay on the highest point, bonnet let down by hand: ${mm(fitupOf(c).liftMm ?? LIFT_MM, 0)} must be left for the engine’s lift.`,
      why: 'nobody wants to find out at the end',
      tools: ['modelling clay', 'rule'],
      reads: 'fitup.bonnet',
      doneWhen: 'clay measured',
      done: stands(c, 'fitup.bonnet'),
      room: 'bonnet',
    },
    {
      ...plain,
      id: 'sensor',
      title: 'Exhaust sensor',
      does: say`Behind the merge, ${mm(SENSOR_FROM_PORT_MM.least, 0)} to ${mm(SENSOR_FROM_PORT_MM.most, 0)} from the port, ${mm(SENSOR_FROM_END_MM, 0)} from the open end, turned up ${String(SENSOR_DEG.drains)}° or more; plugged until it has power.`,
      why: 'everything that is learned hangs on it; no silicone, no leaded fuel',
      tools: ['angle gauge', 'smoke or soap'],
      cautions: ['sensor'],
      reads: 'fitup.sensor',
      doneWhen: 'angle and tightness recorded',
      done: stands(c, 'fitup.sensor'),
      room: 'sensor',
    },
    ...coolantCards(c),
    {
      ...plain,
      id: 'air-sensor',
      title: 'Air temperature sensor',
      does: 'In the stream, away from metal that heats it.',
      why: 'it trims every gram of fuel',
      tools: [],
      reads: 'fitup.air-sensor',
      doneWhen: 'recorded',
      done: stands(c, 'fitup.air-sensor'),
    },
    ...boxesFor(c).map((id): Draft => ({
      ...plain,
      id: `box-${id}`,
      title: `Place the ${boxWords[id]}`,
      does: 'Cool, dry, on rubber feet, plugs down, leads within reach; hole with a grommet.',
      why: 'heat and water kill it slowly',
      tools: ['hole saw', 'grommet'],
      reads: 'fitup.box',
      of: id,
      doneWhen: 'recorded dry, cool, plugs down',
      done: proved(c, 'fitup.box', (r) => r.value.box === id) !== null,
      room: 'boxes',
    })),
    ...(individual(c)
      ? [
          {
            ...plain,
            id: 'balance',
            title: 'Throttles alike',
            does: 'Screws all at one setting now; balanced with the airflow gauge once it runs, at idle and at part throttle.',
            why: 'each cylinder breathes by its own plate',
            tools: ['airflow gauge'],
            cautions: ['moving' as const],
            reads: null,
            doneWhen: 'worked out as soon as a look is recorded',
            done: recorded(c, 'fitup.balance'),
            room: 'balance' as const,
          },
        ]
      : []),
    {
      ...plain,
      id: 'last-look',
      title: 'Last look',
      does: 'Fuel lines, wires, moving parts; every cloth counted out of the ports.',
      why: 'the next step puts power on it',
      tools: ['lamp'],
      reads: 'fitup.last-look',
      doneWhen: 'all four looked at',
      done: stands(c, 'fitup.last-look'),
    },
  ]
}
