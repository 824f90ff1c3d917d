import type { StationId } from './finding.ts'

/** A caution, worded once: which screens show it, and whether it is about a danger, a step order, or whose word goes before ours. */
export interface Caution {
  id: string
  stations: readonly StationId[]
  kind: 'danger' | 'order' | 'defer'
  text: string
}

export const cautions: readonly Caution[] = [
  {
    id: 'vapour',
    stations: ['fuel', 'start'],
    kind: 'danger',
    text: 'Fuel vapour burns from a spark across the garage: no flame, heater, grinder or switch near open fuel.',
  },
  {
    id: 'earth-first',
    stations: ['fuel', 'spark'],
    kind: 'order',
    text: 'The earthed battery terminal comes off first and goes on last, before and after any work on fuel or wiring.',
  },
  {
    id: 'depressurise',
    stations: ['fuel'],
    kind: 'order',
    text: 'Engine cold, pressure relieved, work ventilated, before a line is opened. Eye protection on; a class B extinguisher open and at hand.',
  },
  {
    id: 'pit',
    stations: ['fuel'],
    kind: 'danger',
    text: 'Not over a pit: vapour is heavier than air and stays there. Drained fuel goes into approved cans.',
  },
  {
    id: 'crank',
    stations: ['fuel', 'start'],
    kind: 'order',
    text: 'Never crank before the unit holds a tune for this engine, the fuel pressure has been set, and a leak check at pressure has passed.',
  },
  {
    id: 'two-people',
    stations: ['fuel', 'start'],
    kind: 'order',
    text: 'Whoever turns the key and whoever looks for leaks are two people, and they have agreed a stop word.',
  },
  {
    id: 'flooded',
    stations: ['start'],
    kind: 'order',
    text: 'After flooding: pump off, plugs out, oil checked for fuel before the engine is turned. A cylinder full of liquid bends rods.',
  },
  {
    id: 'moving',
    stations: ['start', 'spark'],
    kind: 'danger',
    text: 'Fans and belts catch sleeves, hair and leads. Wheels chocked, out of gear, brake on; exhaust gas led outside.',
  },
  {
    id: 'sensor',
    stations: ['plan', 'start'],
    kind: 'order',
    text: 'A heated exhaust sensor never sits in a running exhaust unpowered: plug the bung until the sensor is wired.',
  },
  {
    id: 'drive',
    stations: ['learn'],
    kind: 'order',
    text: 'A passenger works the screen, or the log is read afterwards. Public-road limits hold; cells at high load go to a dyno.',
  },
  {
    id: 'tank-trade',
    stations: ['plan', 'fuel'],
    kind: 'defer',
    text: 'Tank work, vents and evaporative gear follow local code; welding on a tank is for licensed trades.',
  },
  {
    id: 'law',
    stations: ['survey', 'plan', 'fuel'],
    kind: 'defer',
    text: 'Emissions, inspection and fuel-system rules differ from place to place. Ask the local authority or a licensed trade; what they say goes before this screen.',
  },
  {
    id: 'sheet',
    stations: ['plan', 'fuel', 'spark'],
    kind: 'defer',
    text: 'The sheet of the part in hand always wins over a figure here.',
  },
]

export const cautionsFor = (station: StationId): Caution[] => cautions.filter((c) => c.stations.includes(station))
