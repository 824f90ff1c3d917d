import { type Context, type EntryKind, latest, readingsOf } from '../kernel/index.ts'
import type { TriggerWay } from './choices.ts'
import { airGapMm, camSyncOf } from './fitting.ts'
import { proofsOf } from './proofs.ts'
import { hasCamSignal, hasDistributor, sensorOf } from './ways.ts'

type StepState = 'done' | 'open' | 'wrong'
/** Where on the station a step is worked at. */
export type SparkRoom = 'steps' | 'trigger' | 'phase' | 'order' | 'scope' | 'coil'

export interface SparkStep {
  id: string
  title: string
  how: string
  tool: string
  room: SparkRoom
  /** reading that settles it; null when a choice does, `spark.done` when it is only done and said */
  kind: EntryKind | null
  /** without it the station does not clear */
  required: boolean
  state: StepState
  because: string
}

/** The cylinder that rises with number one: half the firing order on; null where there is none, or the order is not known. */
const matesOf = ({ facts }: Context): number | null => {
  const order = facts.engine?.firingOrder ?? []
  const at = order.indexOf(1)
  return at >= 0 && order.length % 2 === 0 && order.length > 1 ? order[(at + order.length / 2) % order.length] : null
}

interface StepRule {
  id: string
  title: string
  how: string | ((c: Context) => string)
  tool: string
  room?: SparkRoom
  kind?: EntryKind | null
  required?: boolean
  state?: (c: Context) => { state: StepState; because: string }
}

const proof = (id: string) => (c: Context) => {
  const p = proofsOf(c).find((x) => x.id === id)
  return {
    state: p?.state === 'proved' ? ('done' as const) : p?.state === 'wrong' ? ('wrong' as const) : ('open' as const),
    because: p?.because ?? '',
  }
}
const chosen = (known: (c: Context) => string | null) => (c: Context) => {
  const says = known(c)
  return { state: says === null ? ('open' as const) : ('done' as const), because: says ?? 'not chosen yet' }
}
const read = (kind: EntryKind) => (c: Context) => {
  const reading = latest(c.readings, kind)
  return {
    state: reading ? ('done' as const) : ('open' as const),
    because: reading ? `${reading.who}, ${reading.takenAt.slice(0, 10)}` : '',
  }
}

/** Every step once; a way lists which of them, in which order. */
const steps: Record<string, Omit<StepRule, 'id'>> = {
  source: {
    title: 'Choose where the speed signal comes from',
    how: 'Coil negative of an inductive ignition; the tach output of a capacitive box, never its coil.',
    tool: 'wiring sheet',
    room: 'trigger',
    kind: null,
    required: true,
    state: chosen(({ spark }) => spark.signalFrom?.replace('-', ' ') ?? null),
  },
  'coil-lead': {
    title: 'Run the signal lead',
    how: 'Twisted, shielded, its shield grounded at the unit only, away from plug leads. Cover it: a primary lead shocks.',
    tool: 'hands',
    kind: 'spark.done',
  },
  'card-tower': {
    title: 'Mark the old tower and rotor',
    how: 'All plugs out so that the engine turns by hand. Number one on compression; mark where the rotor points on the housing, and the housing on the block.',
    tool: 'paint, ratchet',
    kind: 'spark.done',
  },
  weights: {
    title: 'Find every weight and fix it',
    how: 'Some sit under the plate. Fix weights and pick-up plate by weld, pin or bolt.',
    tool: 'bench',
    kind: 'spark.done',
  },
  'lock-out': {
    title: 'Hand-twist test',
    how: 'Twist the rotor by hand against its shaft, both ways. Nothing may move.',
    tool: 'hands',
    kind: 'spark.lock-out',
    required: true,
    state: proof('lock-out'),
  },
  gear: {
    title: 'Match the drive gear to the cam',
    how: 'Cast cam: cast gear. Hydraulic-roller steel cam: melonised or steel. Unknown billet: bronze, or its maker’s word.',
    tool: 'cam card',
    room: 'trigger',
    kind: null,
    state: chosen(({ spark }) => spark.gear?.replace('-', ' ') ?? null),
  },
  seat: {
    title: 'Seat the distributor',
    how: 'Base clean, gear lubricated, collar fully down. Not seated: turn the pump drive a little with a long screwdriver, never force it. Clamp finger-tight.',
    tool: 'hands',
    kind: 'spark.done',
  },
  wheel: {
    title: 'Count the wheel',
    how: 'Places round the wheel, missing ones too; then the tooth that faces the sensor with number one at top centre.',
    tool: 'eyes, chalk',
    room: 'trigger',
    kind: null,
    required: true,
    state: chosen(({ spark: { wheel } }) => (wheel?.teeth && wheel.missing !== undefined ? `${wheel.teeth} less ${wheel.missing}` : null)),
  },
  reach: {
    title: 'See that every target reaches the sensor',
    how: 'Turn by hand in the running direction. If none comes to the sensor at the wanted angle, re-index the wheel on its hub.',
    tool: 'ratchet',
    kind: 'spark.done',
  },
  gap: {
    title: 'Set the air gap, look for run-out',
    how: (c) => {
      const sensor = sensorOf(c)
      const range = sensor ? airGapMm(sensor, hasDistributor(c)) : null
      return `${range ? `Usually ${range[0]} to ${range[1]} mm; the sensor’s sheet wins. ` : ''}Turn a whole turn by hand: least and most.`
    },
    tool: 'feeler blades',
    kind: 'spark.air-gap',
    state: read('spark.air-gap'),
  },
  zero: {
    title: 'Prove the zero mark',
    how: (c) => {
      const mate = matesOf(c)
      const where =
        c.facts.engine?.plugOneReach === false && mate !== null
          ? `piston stop in number ${mate}, which rises with number one and can be reached`
          : 'piston stop in number one'
      return `Plugs out, ${where}. Turn by hand to the stop from both directions; true zero is the middle of the two marks.`
    },
    tool: 'piston stop',
    kind: 'spark.zero-mark',
    required: true,
    state: proof('zero-mark'),
  },
  reference: {
    title: 'Choose the reference angle',
    how: 'Ahead of the most advance by the unit’s time, behind the next cylinder’s pulse. Usually 40° to 65°.',
    tool: 'dial',
    room: 'phase',
    kind: null,
    required: true,
    state: chosen(({ spark }) => (spark.referenceDeg === undefined ? null : `${spark.referenceDeg.toFixed(1)}° BTDC`)),
  },
  stroke: {
    title: 'Prove the compression stroke',
    how: 'Thumb or gauge at plug 1 while the engine is turned by hand, both valves shut. Then look: rotor at tower one, cam target at its sensor.',
    tool: 'thumb',
    kind: 'spark.stroke',
    required: true,
    state: proof('stroke'),
  },
  fitted: {
    title: 'Set the pick-up at the reference',
    how: (c) =>
      `Turn to ${c.spark.referenceDeg?.toFixed(0) ?? 'the reference'}° BTDC on number one’s compression, always in the running direction so that slack is taken up; bring tooth and pick-up in line. Damper unmarked there: use the paper tape.`,
    tool: 'paper tape',
    kind: 'spark.fitted',
    required: true,
    state: (c) => {
      const set = latest(c.readings, 'spark.fitted')
      return { state: set ? 'done' : 'open', because: set ? `set at ${set.value.referenceDeg.toFixed(1)}°` : '' }
    },
  },
  align: {
    title: 'Choose where the rotor is in line',
    how: 'The middle of the swept range keeps it under its terminal at both ends. Drag the cap on the dial.',
    tool: 'dial',
    room: 'phase',
    kind: null,
    required: true,
    state: chosen(({ spark }) => (spark.alignDegBtdc === undefined ? null : `${spark.alignDegBtdc.toFixed(0)}° BTDC`)),
  },
  'phase-seen': {
    title: 'See the phase',
    how: 'An old cap with a window, light on lead one: look at least and at most advance how far the rotor stands from its terminal.',
    tool: 'windowed cap, light',
    room: 'phase',
    kind: 'spark.phase-seen',
    state: (c) => {
      const seen = readingsOf(c.readings, 'spark.phase-seen').length
      return {
        state: seen >= 2 ? 'done' : 'open',
        because: seen ? `seen at ${seen} advance${seen > 1 ? 's' : ''}` : 'least and most advance',
      }
    },
  },
  order: {
    title: 'Prove the firing order',
    how: 'Follow each lead from its tower in the way the rotor turns, or put the light on each lead in turn. Any tower may serve as number one if the leads follow.',
    tool: 'eyes, light',
    room: 'order',
    kind: 'spark.order',
    required: true,
    state: proof('order'),
  },
  polarity: {
    title: 'Prove edge and polarity',
    how: 'Crank with coils and injectors unplugged and look at the signal: it must fall steeply through zero at the target; a Hall output must change as it was set.',
    tool: 'scope or lamp',
    room: 'scope',
    kind: 'spark.polarity',
    required: true,
    state: proof('polarity'),
  },
  signal: {
    title: 'Measure signal and noise',
    how: 'Peak while cranking, peak of the noise between pulses: the threshold stands between them.',
    tool: 'scope',
    room: 'scope',
    kind: 'spark.signal',
    state: read('spark.signal'),
  },
  sync: {
    title: 'Choose the place of the cam pulse',
    how: 'Midway between two crank pulses: half or one and a half intervals ahead, as the unit’s sheet says.',
    tool: 'unit’s sheet',
    room: 'trigger',
    kind: null,
    required: true,
    state: chosen(({ spark }) => (spark.camSyncWindows === undefined ? null : `${spark.camSyncWindows} intervals`)),
  },
  lamp: {
    title: 'Set the cam sensor by its lamp',
    how: (c) => {
      const sync = camSyncOf(c)
      return `Coils and injectors unplugged, unit powered. Crank at ${sync ? `${sync.output.positionDegBtdc.toFixed(0)}°` : 'the wanted angle'} BTDC; turn the sensor until the lamp changes, coming against the rotation.`
    },
    tool: 'lamp on the sensor',
    kind: 'spark.cam-lamp',
    state: read('spark.cam-lamp'),
  },
  slack: {
    title: 'Feel the slack',
    how: 'Turn the crank back by hand until the rotor follows; read how far the damper went.',
    tool: 'tape, ratchet',
    kind: 'spark.slack',
    state: read('spark.slack'),
  },
  'own-curve': {
    title: 'Plan the distributor’s curve',
    how: 'Speed points and what is added over manifold pressure; the sum is checked here. It is stored in the distributor, not in the unit.',
    tool: 'its own software or switches',
    room: 'trigger',
    kind: null,
    required: true,
    state: chosen(({ spark }) => ((spark.ownCurve?.points?.length ?? 0) >= 2 ? `${spark.ownCurve!.points!.length} points` : null)),
  },
  leads: {
    title: 'Measure the leads',
    how: 'Cut to length, numbered at both ends, crimp proved by ohms for each length.',
    tool: 'meter',
    room: 'order',
    kind: 'spark.lead',
    state: read('spark.lead'),
  },
}
const trigger = ['gap', 'zero', 'reference'] as const
const distributorEnd = ['align', 'order', 'leads', 'slack', 'phase-seen'] as const

const lists: Record<TriggerWay, (c: Context) => readonly string[]> = {
  'speed-signal': () => ['source', 'coil-lead', 'signal'],
  'own-curve': () => [
    'card-tower',
    'gear',
    'own-curve',
    'zero',
    'stroke',
    'seat',
    'source',
    'coil-lead',
    'align',
    'order',
    'leads',
    'slack',
  ],
  'locked-magnetic': () => [
    'card-tower',
    'weights',
    'lock-out',
    'gear',
    ...trigger,
    'stroke',
    'seat',
    'fitted',
    'polarity',
    'signal',
    ...distributorEnd,
  ],
  hall: (c) => [
    'card-tower',
    'gear',
    ...trigger,
    'stroke',
    'seat',
    'fitted',
    ...(hasCamSignal(c) ? ['sync', 'lamp'] : []),
    'polarity',
    ...distributorEnd,
  ],
  'crank-cam': (c) => [
    'reach',
    ...trigger,
    'fitted',
    ...(hasCamSignal(c) ? ['stroke', 'sync', 'lamp', 'slack'] : []),
    'polarity',
    'signal',
    'order',
    'leads',
  ],
  'toothed-wheel': (c) => [
    'wheel',
    'reach',
    ...trigger,
    'fitted',
    ...(hasCamSignal(c) ? ['stroke', 'slack'] : []),
    'polarity',
    'signal',
    'order',
    'leads',
  ],
}

/** The ordered bench procedure of the way chosen, each step with where it stands; empty while no way is chosen. Steps another way shares stay done. */
export function sparkProcedure(c: Context): SparkStep[] {
  if (!c.spark.trigger) return []
  const done = new Set(readingsOf(c.readings, 'spark.done').map((r) => r.value.step))
  return lists[c.spark.trigger](c).map((id): SparkStep => {
    const { title, how, tool, room = 'steps', kind = null, required = false, state } = steps[id]
    return {
      id,
      title,
      how: typeof how === 'string' ? how : how(c),
      tool,
      room,
      kind,
      required,
      ...(state ? state(c) : { state: done.has(id) ? ('done' as const) : ('open' as const), because: done.has(id) ? 'done' : '' }),
    }
  })
}
