/** where a cause is worked at */
export type CauseStation = 'fuel' | 'spark' | 'tune' | 'survey' | 'start'

/** What can be seen, heard or read of an attempt to start, each with the values it can take. */
export const signValues = {
  stream: ['whole', 'gaps', 'ended'],
  turns: ['well', 'slowly'],
  speed: ['steady', 'ragged', 'none'],
  pulse: ['there', 'none'],
  pressure: ['right', 'low', 'none', 'high'],
  fired: ['never', 'sputters', 'died', 'rough', 'runs'],
  idles: ['at target', 'high', 'low'],
  vacuum: ['seen', 'none'],
  still: ['barometer', 'off'],
  throttle: ['zero', 'off'],
  cold: ['agrees', 'reads hot', 'reads cold'],
  mixture: ['burns', 'lean', 'rich'],
  heard: ['nothing', 'inlet', 'exhaust', 'kick'],
  plugs: ['dry', 'wet'],
  light: ['right', 'early', 'late', 'wanders', 'dark'],
  clicks: ['all', 'some', 'none'],
  valve: ['moves', 'stuck'],
  ports: ['even', 'some cool'],
  glass: ['fuel', 'water'],
} as const
export type Sign = keyof typeof signValues
export type SignValue<S extends Sign = Sign> = (typeof signValues)[S][number]
export type Signs = { [S in Sign]?: SignValue<S> }

/** How a sign is got that the stream does not give: what to do, and the minutes it takes with careful hands. */
export const tests: { [S in Sign]?: { step: string; minutes: number; station: CauseStation } } = {
  heard: { step: 'Crank again and listen at the body and at the tail pipe', minutes: 1, station: 'start' },
  valve: { step: 'Key off and on with an ear at the idle valve: is it heard to step?', minutes: 1, station: 'start' },
  clicks: { step: 'Open the injectors one by one with the engine still: which click?', minutes: 3, station: 'fuel' },
  light: { step: 'Crank without fuel with the light on the damper: ten flashes', minutes: 4, station: 'spark' },
  ports: { step: 'Infrared thermometer along the exhaust ports, half a minute after it fired', minutes: 3, station: 'start' },
  glass: { step: 'A sample from the rail into a glass: does it part into two layers?', minutes: 6, station: 'fuel' },
  plugs: { step: 'Take a plug out: wet or dry?', minutes: 8, station: 'start' },
}

export type CauseId =
  | 'signal'
  | 'ragged-signal'
  | 'interference'
  | 'feed'
  | 'battery'
  | 'pump'
  | 'pressure-low'
  | 'return'
  | 'injector-plug'
  | 'injector-small'
  | 'injector-large'
  | 'flooded'
  | 'coolant-hot'
  | 'coolant-cold'
  | 'map-hose'
  | 'map-sensor'
  | 'idle-valve'
  | 'air-short'
  | 'air-leak'
  | 'throttle-zero'
  | 'clearing'
  | 'stroke'
  | 'order'
  | 'crossed'
  | 'early'
  | 'late'
  | 'rotor'
  | 'weak-spark'
  | 'dead-coil'
  | 'one-cylinder-spark'
  | 'one-cylinder-fuel'
  | 'water'
  | 'exhaust'
  | 'cam'
  | 'no-command'

export interface Cause {
  id: CauseId
  /** what to look at, as a person does it */
  look: string
  station: CauseStation
  /** of the test that settles it (handbook 09) */
  minutes: number
  /** relative weight before anything was seen (handbook 09, section 2) */
  prior: number
  /** how often each sign shows each value with this cause; a sign left out is as on a sound car */
  shows: { [S in Sign]?: Partial<Record<SignValue<S>, number>> }
}
/** What a sound car shows. */
export const soundShows: { [S in Sign]: Partial<Record<SignValue<S>, number>> } = {
  stream: { whole: 0.98, gaps: 0.01, ended: 0.01 },
  turns: { well: 0.98, slowly: 0.02 },
  speed: { steady: 0.96, ragged: 0.03, none: 0.01 },
  pulse: { there: 0.98, none: 0.02 },
  pressure: { right: 0.96, low: 0.02, none: 0.01, high: 0.01 },
  fired: { never: 0.25, sputters: 0.2, died: 0.2, rough: 0.15, runs: 0.2 },
  idles: { 'at target': 0.9, high: 0.05, low: 0.05 },
  vacuum: { seen: 0.96, none: 0.04 },
  still: { barometer: 0.98, off: 0.02 },
  throttle: { zero: 0.97, off: 0.03 },
  cold: { agrees: 0.96, 'reads hot': 0.02, 'reads cold': 0.02 },
  mixture: { burns: 0.8, lean: 0.1, rich: 0.1 },
  heard: { nothing: 0.94, inlet: 0.02, exhaust: 0.03, kick: 0.01 },
  plugs: { dry: 0.6, wet: 0.4 },
  light: { right: 0.94, early: 0.015, late: 0.015, wanders: 0.015, dark: 0.015 },
  clicks: { all: 0.98, some: 0.01, none: 0.01 },
  valve: { moves: 0.98, stuck: 0.02 },
  ports: { even: 0.93, 'some cool': 0.07 },
  glass: { fuel: 0.99, water: 0.01 },
}

const neverFires = { never: 0.8, sputters: 0.15, died: 0.03, rough: 0.01, runs: 0.01 }
const someCylinders = { never: 0.05, sputters: 0.1, died: 0.15, rough: 0.45, runs: 0.25 }

/** What keeps an engine from starting or running well, as a trade's list: what each shows, and where it is looked at. */
export const causes: Cause[] = [
  {
    id: 'signal',
    look: 'Scope at the sensor while cranking: is there a signal, over its threshold, the right way round? Then its plug, its wires, its air gap',
    station: 'spark',
    minutes: 10,
    prior: 6,
    shows: {
      speed: { none: 0.95, ragged: 0.04, steady: 0.01 },
      pulse: { none: 0.9, there: 0.1 },
      fired: { never: 0.97, sputters: 0.03 },
      plugs: { dry: 0.95, wet: 0.05 },
      light: { dark: 0.9, right: 0.1 },
    },
  },
  {
    id: 'ragged-signal',
    look: 'Pick-up: gap, threshold, shield, a broken or doubled target',
    station: 'spark',
    minutes: 10,
    prior: 5,
    shows: {
      speed: { ragged: 0.95, steady: 0.05 },
      fired: { never: 0.15, sputters: 0.2, died: 0.2, rough: 0.3, runs: 0.15 },
      ports: { even: 0.6, 'some cool': 0.4 },
      light: { right: 0.6, wanders: 0.4 },
    },
  },
  {
    id: 'interference',
    look: 'Loom away from plug leads and coil; resistive leads and plugs: what resets the unit?',
    station: 'spark',
    minutes: 15,
    prior: 5,
    shows: {
      stream: { gaps: 0.75, whole: 0.22, ended: 0.03 },
      speed: { ragged: 0.85, steady: 0.15 },
      fired: { never: 0.1, sputters: 0.2, died: 0.25, rough: 0.25, runs: 0.2 },
    },
  },
  {
    id: 'feed',
    look: 'Unit fed from the battery post, not from a terminal that the key drops while cranking; its ground; 9 V or more at the unit',
    station: 'spark',
    minutes: 4,
    prior: 8,
    shows: {
      stream: { ended: 0.93, gaps: 0.06, whole: 0.01 },
      fired: { never: 0.9, sputters: 0.1 },
      pulse: { none: 0.6, there: 0.4 },
      speed: { none: 0.4, ragged: 0.3, steady: 0.3 },
    },
  },
  {
    id: 'battery',
    look: 'Battery charged and tested, its posts, the engine’s ground strap',
    station: 'survey',
    minutes: 5,
    prior: 6,
    shows: {
      turns: { slowly: 0.97, well: 0.03 },
      speed: { steady: 0.6, ragged: 0.1, none: 0.3 },
      pulse: { there: 0.6, none: 0.4 },
      pressure: { right: 0.5, low: 0.35, none: 0.15 },
      fired: { never: 0.6, sputters: 0.25, died: 0.05, rough: 0.02, runs: 0.08 },
      light: { right: 0.5, dark: 0.5 },
    },
  },
  {
    id: 'pump',
    look: 'Is the pump heard? Relay, fuse, cut-off, volts at the pump, fuel in the tank',
    station: 'fuel',
    minutes: 6,
    prior: 6,
    shows: { pressure: { none: 0.97, low: 0.03 }, fired: neverFires, plugs: { dry: 0.95, wet: 0.05 } },
  },
  {
    id: 'pressure-low',
    look: 'Pressure at the gauge against what is set: filter, volts at the pump, regulator, lines the right way round',
    station: 'fuel',
    minutes: 10,
    prior: 6,
    shows: {
      pressure: { low: 0.95, none: 0.03, right: 0.02 },
      fired: { never: 0.2, sputters: 0.25, died: 0.25, rough: 0.1, runs: 0.2 },
      plugs: { dry: 0.85, wet: 0.15 },
      mixture: { lean: 0.8, burns: 0.2 },
    },
  },
  {
    id: 'return',
    look: 'Return line into a can: does the pressure come down? Bore, kink, regulator hose',
    station: 'fuel',
    minutes: 15,
    prior: 4,
    shows: {
      pressure: { high: 0.95, right: 0.05 },
      mixture: { rich: 0.7, burns: 0.3 },
      plugs: { wet: 0.6, dry: 0.4 },
      fired: { never: 0.1, sputters: 0.1, died: 0.15, rough: 0.2, runs: 0.45 },
    },
  },
  {
    id: 'injector-plug',
    look: 'Injectors: plugs, their feed with the key on, the wire to the unit',
    station: 'fuel',
    minutes: 5,
    prior: 5,
    shows: { clicks: { none: 0.95, some: 0.04, all: 0.01 }, fired: neverFires, plugs: { dry: 0.95, wet: 0.05 } },
  },
  {
    id: 'injector-small',
    look: 'Flow of the injectors fitted against the tune: smaller ones, or blocked',
    station: 'tune',
    minutes: 5,
    prior: 4,
    shows: {
      fired: { never: 0.5, sputters: 0.25, died: 0.2, rough: 0.04, runs: 0.01 },
      plugs: { dry: 0.9, wet: 0.1 },
      mixture: { lean: 0.9, burns: 0.1 },
    },
  },
  {
    id: 'injector-large',
    look: 'Flow of the injectors fitted against the tune: larger ones, or stuck open',
    station: 'tune',
    minutes: 5,
    prior: 4,
    shows: {
      fired: { never: 0.25, sputters: 0.2, died: 0.35, rough: 0.15, runs: 0.05 },
      plugs: { wet: 0.85, dry: 0.15 },
      mixture: { rich: 0.93, burns: 0.07 },
    },
  },
  {
    id: 'flooded',
    look: 'Clear it: throttle wide open, no fuel; plugs out and dried, oil looked at',
    station: 'start',
    minutes: 20,
    prior: 6,
    shows: { plugs: { wet: 0.97, dry: 0.03 }, fired: { never: 0.75, sputters: 0.2, died: 0.05 }, mixture: { rich: 0.9, burns: 0.1 } },
  },
  {
    id: 'coolant-hot',
    look: 'Coolant sensor: a cold engine that reads hot gets no cranking fuel. Thermometer beside it, its plug, its curve',
    station: 'survey',
    minutes: 6,
    prior: 5,
    shows: {
      cold: { 'reads hot': 0.96, agrees: 0.04 },
      fired: { never: 0.3, sputters: 0.2, died: 0.35, rough: 0.05, runs: 0.1 },
      plugs: { dry: 0.8, wet: 0.2 },
      mixture: { lean: 0.7, burns: 0.3 },
    },
  },
  {
    id: 'coolant-cold',
    look: 'Coolant sensor: it reads colder than the engine is, and floods it. Thermometer beside it, its plug, its curve',
    station: 'survey',
    minutes: 6,
    prior: 5,
    shows: {
      cold: { 'reads cold': 0.96, agrees: 0.04 },
      fired: { never: 0.15, sputters: 0.1, died: 0.25, rough: 0.2, runs: 0.3 },
      plugs: { wet: 0.7, dry: 0.3 },
      mixture: { rich: 0.8, burns: 0.2 },
    },
  },
  {
    id: 'map-hose',
    look: 'Hose of the pressure sensor: on, whole, not pinched; its port under the plates, not above them, and not on one runner alone',
    station: 'fuel',
    minutes: 4,
    prior: 6,
    shows: {
      vacuum: { none: 0.96, seen: 0.04 },
      fired: { never: 0.03, sputters: 0.07, died: 0.55, rough: 0.25, runs: 0.1 },
      plugs: { wet: 0.8, dry: 0.2 },
      mixture: { rich: 0.9, burns: 0.1 },
    },
  },
  {
    id: 'map-sensor',
    look: 'Pressure sensor: with the engine still it must read the barometer; its plug, its values in the tune',
    station: 'tune',
    minutes: 4,
    prior: 5,
    shows: {
      still: { off: 0.95, barometer: 0.05 },
      vacuum: { none: 0.8, seen: 0.2 },
      fired: { never: 0.2, sputters: 0.25, died: 0.35, rough: 0.1, runs: 0.1 },
    },
  },
  {
    id: 'idle-valve',
    look: 'Idle valve: does it open with the key? Its plug, its seat; a little throttle keeps the engine alive',
    station: 'start',
    minutes: 3,
    prior: 5,
    shows: {
      valve: { stuck: 0.95, moves: 0.05 },
      fired: { never: 0.02, sputters: 0.05, died: 0.55, rough: 0.15, runs: 0.23 },
      idles: { low: 0.8, 'at target': 0.15, high: 0.05 },
    },
  },
  {
    id: 'air-short',
    look: 'Idle air: throttle screw shut too far, a blocked port',
    station: 'start',
    minutes: 5,
    prior: 4,
    shows: {
      fired: { never: 0.02, sputters: 0.06, died: 0.62, rough: 0.15, runs: 0.15 },
      idles: { low: 0.85, 'at target': 0.1, high: 0.05 },
    },
  },
  {
    id: 'air-leak',
    look: 'Too much air: throttle screw open, plate not home, a leak at flange or hose. Block the valve’s port, clamp hoses one by one',
    station: 'start',
    minutes: 8,
    prior: 7,
    shows: { idles: { high: 0.93, 'at target': 0.07 }, fired: { never: 0.02, sputters: 0.03, died: 0.05, rough: 0.2, runs: 0.7 } },
  },
  {
    id: 'throttle-zero',
    look: 'Throttle zero: shut must read 0 %. Learn it again with the foot off',
    station: 'start',
    minutes: 1,
    prior: 6,
    shows: {
      throttle: { off: 0.97, zero: 0.03 },
      fired: { never: 0.02, sputters: 0.03, died: 0.1, rough: 0.15, runs: 0.7 },
      idles: { high: 0.4, 'at target': 0.4, low: 0.2 },
    },
  },
  {
    id: 'clearing',
    look: 'Throttle wide open: the unit clears a flooded engine and gives no fuel. Foot off, zero learned',
    station: 'start',
    minutes: 1,
    prior: 2,
    shows: { pulse: { none: 0.97, there: 0.03 }, throttle: { off: 0.97, zero: 0.03 }, fired: neverFires },
  },
  {
    id: 'no-command',
    look: 'Unit: cam signal or sync, security or limit, cranking table',
    station: 'tune',
    minutes: 8,
    prior: 3,
    shows: { pulse: { none: 0.95, there: 0.05 }, fired: neverFires, plugs: { dry: 0.95, wet: 0.05 }, clicks: { all: 0.9, none: 0.1 } },
  },
  {
    id: 'stroke',
    look: 'Distributor or cam signal a crank turn out: stroke by thumb at plug one, rotor at tower one',
    station: 'spark',
    minutes: 5,
    prior: 6,
    shows: {
      heard: { inlet: 0.55, exhaust: 0.3, kick: 0.03, nothing: 0.12 },
      fired: { never: 0.9, sputters: 0.08, died: 0.01, rough: 0.01 },
      plugs: { wet: 0.75, dry: 0.25 },
    },
  },
  {
    id: 'order',
    look: 'Firing order at the cap, followed lead by lead in the way the rotor turns',
    station: 'spark',
    minutes: 5,
    prior: 5,
    shows: {
      heard: { inlet: 0.35, exhaust: 0.35, kick: 0.2, nothing: 0.1 },
      fired: { never: 0.35, sputters: 0.35, died: 0.15, rough: 0.12, runs: 0.03 },
      plugs: { wet: 0.7, dry: 0.3 },
      ports: { 'some cool': 0.95, even: 0.05 },
    },
  },
  {
    id: 'crossed',
    look: 'Two leads or coils crossed: trace each from tower to plug',
    station: 'spark',
    minutes: 5,
    prior: 7,
    shows: {
      heard: { inlet: 0.3, exhaust: 0.4, kick: 0.2, nothing: 0.1 },
      fired: { never: 0.05, sputters: 0.1, died: 0.2, rough: 0.45, runs: 0.2 },
      ports: { 'some cool': 0.96, even: 0.04 },
      mixture: { lean: 0.6, burns: 0.3, rich: 0.1 },
    },
  },
  {
    id: 'early',
    look: 'Spark too early: reference angle, edge and polarity of the pick-up, damper mark; the light while cranking',
    station: 'spark',
    minutes: 6,
    prior: 6,
    shows: {
      light: { early: 0.95, right: 0.04, wanders: 0.01 },
      heard: { kick: 0.5, nothing: 0.42, inlet: 0.08 },
      fired: { never: 0.15, sputters: 0.2, died: 0.15, rough: 0.15, runs: 0.35 },
    },
  },
  {
    id: 'late',
    look: 'Spark too late: reference angle, edge and polarity of the pick-up, damper mark; the light while cranking',
    station: 'spark',
    minutes: 6,
    prior: 6,
    shows: {
      light: { late: 0.95, right: 0.04, wanders: 0.01 },
      heard: { exhaust: 0.3, nothing: 0.7 },
      fired: { never: 0.1, sputters: 0.15, died: 0.25, rough: 0.2, runs: 0.3 },
    },
  },
  {
    id: 'rotor',
    look: 'Rotor not under its tower at the spark: window in a cap, or turned by hand to the reference',
    station: 'spark',
    minutes: 15,
    prior: 4,
    shows: {
      fired: { never: 0.3, sputters: 0.2, died: 0.15, rough: 0.25, runs: 0.1 },
      plugs: { wet: 0.75, dry: 0.25 },
      light: { right: 0.6, dark: 0.3, wanders: 0.1 },
      ports: { even: 0.6, 'some cool': 0.4 },
    },
  },
  {
    id: 'weak-spark',
    look: 'Spark weak on all: ballast in the feed, dwell, coil; a plug outside on each lead',
    station: 'spark',
    minutes: 5,
    prior: 5,
    shows: {
      fired: { never: 0.35, sputters: 0.25, died: 0.1, rough: 0.2, runs: 0.1 },
      plugs: { wet: 0.8, dry: 0.2 },
      light: { right: 0.5, dark: 0.35, wanders: 0.15 },
      ports: { even: 0.7, 'some cool': 0.3 },
    },
  },
  {
    id: 'dead-coil',
    look: 'No spark: coil, its feed with the key on, its driver; a spare plug on the lead',
    station: 'spark',
    minutes: 5,
    prior: 5,
    shows: {
      light: { dark: 0.95, right: 0.05 },
      fired: { never: 0.8, sputters: 0.05, died: 0.03, rough: 0.1, runs: 0.02 },
      plugs: { wet: 0.95, dry: 0.05 },
    },
  },
  {
    id: 'one-cylinder-spark',
    look: 'A cylinder without spark: its lead by ohms, its plug, its tower or coil; one lead off at a time',
    station: 'spark',
    minutes: 8,
    prior: 6,
    shows: {
      ports: { 'some cool': 0.95, even: 0.05 },
      fired: someCylinders,
      mixture: { lean: 0.6, burns: 0.35, rich: 0.05 },
      heard: { nothing: 0.8, exhaust: 0.2 },
      light: { right: 0.7, dark: 0.2, wanders: 0.1 },
    },
  },
  {
    id: 'one-cylinder-fuel',
    look: 'A cylinder without fuel: its injector, plug and wire; swap it with a neighbour',
    station: 'fuel',
    minutes: 6,
    prior: 6,
    shows: {
      ports: { 'some cool': 0.93, even: 0.07 },
      clicks: { some: 0.7, all: 0.3 },
      fired: someCylinders,
      mixture: { lean: 0.8, burns: 0.2 },
    },
  },
  {
    id: 'water',
    look: 'Water in the fuel: a sample from the rail in a glass',
    station: 'fuel',
    minutes: 8,
    prior: 3,
    shows: {
      fired: { never: 0.25, sputters: 0.25, died: 0.25, rough: 0.15, runs: 0.1 },
      plugs: { wet: 0.45, dry: 0.55 },
      glass: { water: 0.97, fuel: 0.03 },
      ports: { even: 0.6, 'some cool': 0.4 },
      mixture: { lean: 0.85, burns: 0.15 },
    },
  },
  {
    id: 'exhaust',
    look: 'Exhaust blocked: does it breathe at the tail pipe? Try with the joint at the manifold opened',
    station: 'survey',
    minutes: 15,
    prior: 2,
    shows: {
      fired: { never: 0.15, sputters: 0.2, died: 0.3, rough: 0.2, runs: 0.15 },
      idles: { low: 0.6, 'at target': 0.4 },
      mixture: { rich: 0.6, burns: 0.4 },
    },
  },
  {
    id: 'cam',
    look: 'Cam timing: marks of chain or belt; compression even but low',
    station: 'survey',
    minutes: 30,
    prior: 2,
    shows: {
      fired: { never: 0.2, sputters: 0.15, died: 0.2, rough: 0.2, runs: 0.25 },
      idles: { low: 0.5, 'at target': 0.5 },
      mixture: { rich: 0.5, burns: 0.5 },
    },
  },
]
