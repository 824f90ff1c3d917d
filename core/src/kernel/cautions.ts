/** A caution, worded once: whether it is about a danger, a step order, or whose word goes before ours. Stations say which they show. */
export interface Caution {
  id: string
  kind: 'danger' | 'order' | 'defer'
  text: string
}

export const cautions = [
  {
    id: 'vapour',
    kind: 'danger',
    text: 'Fuel vapour burns from a spark across the garage: no flame, heater, grinder or switch near open fuel.',
  },
  {
    id: 'earth-first',
    kind: 'order',
    text: 'The earthed battery terminal comes off first and goes on last, before and after any work on fuel or wiring.',
  },
  {
    id: 'depressurise',
    kind: 'order',
    text: 'Engine cold, pressure relieved, work ventilated, before a line is opened. Eye protection on; a class B extinguisher open and at hand.',
  },
  {
    id: 'pit',
    kind: 'danger',
    text: 'Not over a pit: vapour is heavier than air and stays there. Drained fuel goes into approved cans.',
  },
  {
    id: 'crank',
    kind: 'order',
    text: 'Never crank before the unit holds a tune for this engine, the fuel pressure has been set, and a leak check at pressure has passed.',
  },
  {
    id: 'two-people',
    kind: 'order',
    text: 'Whoever turns the key and whoever looks for leaks are two people, and they have agreed a stop word.',
  },
  {
    id: 'flooded',
    kind: 'order',
    text: 'After flooding: pump off, plugs out, oil checked for fuel before the engine is turned. A cylinder full of liquid bends rods.',
  },
  {
    id: 'moving',
    kind: 'danger',
    text: 'Fans and belts catch sleeves, hair and leads. Wheels chocked, out of gear, brake on; exhaust gas led outside.',
  },
  {
    id: 'leak-spray',
    kind: 'danger',
    text: 'No cleaner or fuel sprayed at a running engine to find a leak: it burns. Smoke, or hoses clamped one at a time.',
  },
  {
    id: 'in-gear',
    kind: 'danger',
    text: 'An automatic in gear pulls: wheels chocked, hand brake and foot brake on, nobody before or behind the car.',
  },
  {
    id: 'sensor',
    kind: 'order',
    text: 'A heated exhaust sensor never sits in a running exhaust unpowered: plug the bung until the sensor is wired.',
  },
  {
    id: 'drive',
    kind: 'order',
    text: 'A passenger works the screen, or the log is read afterwards. Public-road limits hold; cells at high load go to a dyno.',
  },
  {
    id: 'tank-trade',
    kind: 'defer',
    text: 'Tank work, vents and evaporative gear follow local code; welding on a tank is for licensed trades.',
  },
  {
    id: 'law',
    kind: 'defer',
    text: 'Emissions, inspection and fuel-system rules differ from place to place. Ask the local authority or a licensed trade; what they say goes before this screen.',
  },
  {
    id: 'sheet',
    kind: 'defer',
    text: 'The sheet of the part in hand always wins over a figure here.',
  },
] as const satisfies readonly Caution[]
export type CautionId = (typeof cautions)[number]['id']
