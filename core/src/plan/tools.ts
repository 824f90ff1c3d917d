import type { JudgedContext } from '../kernel/index.ts'
import { schoolOf } from './ways.ts'

/** A tool of the job: what for, and whether it can be made or is only borrowed for a day. */
interface Tool {
  id: string
  name: string
  used: string
  /** how it is come by when it is not there: our advice, not a rule */
  advice: 'buy' | 'borrow' | 'make'
  how: string
}
export interface ListedTool extends Tool {
  /** what the person said of it; null while nothing was */
  status: ToolStatus | null
}
export const toolStatuses = ['have', 'borrow', 'make', 'buy'] as const
export type ToolStatus = (typeof toolStatuses)[number]

type When = (c: JudgedContext) => boolean
const always: When = () => true
const times: When = ({ plan }) => plan.timingControl === true
const runners: When = ({ plan }) => plan.route === 'individual-runner'
const braided: When = (c) => schoolOf(c, 'lines') === 'b'
const inside: When = ({ facts }) => facts.fuel?.tankPlace === 'boot' || facts.fuel?.tankPlace === 'cabin'

const all: readonly (Tool & { when: When })[] = [
  { id: 'extinguisher', name: 'Extinguisher, class B', used: 'all fuel work', advice: 'buy', how: 'full, in reach', when: always },
  {
    id: 'stands',
    name: 'Stands and chocks',
    used: 'under the car',
    advice: 'borrow',
    how: 'rated for the car; never a jack alone',
    when: always,
  },
  { id: 'torque-wrench', name: 'Torque wrench', used: 'manifold, body, rail', advice: 'borrow', how: '5 to 60 N m', when: always },
  {
    id: 'line-spanners',
    name: 'Line spanners, two of each',
    used: 'flares',
    advice: 'buy',
    how: 'one holds while the other turns',
    when: always,
  },
  {
    id: 'flare-tool',
    name: 'Flaring tool and bender',
    used: 'hard line',
    advice: 'borrow',
    how: 'double flares in steel',
    when: (c) => !braided(c),
  },
  {
    id: 'hose-cutter',
    name: 'Hose cutter and soft jaws',
    used: 'braided hose',
    advice: 'borrow',
    how: 'a clean cut, no strand in the bore',
    when: braided,
  },
  {
    id: 'fuel-gauge',
    name: 'Fuel gauge with its tee',
    used: 'set pressure, bleed-down',
    advice: 'buy',
    how: 'twice the set pressure on its scale',
    when: always,
  },
  {
    id: 'measuring-can',
    name: 'Measuring can, approved for fuel',
    used: 'delivery of the pump',
    advice: 'buy',
    how: '5 L with marks',
    when: always,
  },
  {
    id: 'hand-pump',
    name: 'Hand pump and gauge',
    used: 'proof of joints in closed spaces',
    advice: 'borrow',
    how: 'above the working pressure',
    when: inside,
  },
  { id: 'multimeter', name: 'Multimeter', used: 'volts lost, sensors, coil', advice: 'buy', how: 'with a low-ohm range', when: always },
  {
    id: 'clamp-meter',
    name: 'Clamp meter for direct current',
    used: 'pump, fan, charging',
    advice: 'borrow',
    how: '40 A range',
    when: always,
  },
  { id: 'crimp', name: 'Crimping tool for the plugs in hand', used: 'loom', advice: 'buy', how: 'the die of that terminal', when: always },
  {
    id: 'compression',
    name: 'Compression gauge',
    used: 'engine health, before anything is bought',
    advice: 'borrow',
    how: 'all plugs out, throttle open',
    when: always,
  },
  {
    id: 'smoke',
    name: 'Smoke for leaks',
    used: 'inlet and exhaust',
    advice: 'borrow',
    how: 'soapy water and an ear do for a start',
    when: always,
  },
  {
    id: 'thermometer',
    name: 'Infrared thermometer',
    used: 'which cylinder works',
    advice: 'buy',
    how: 'on each exhaust port',
    when: always,
  },
  { id: 'second-meter', name: 'Second mixture meter', used: 'to believe the first', advice: 'borrow', how: 'a dyno has one', when: always },
  { id: 'timing-light', name: 'Timing light', used: 'timing', advice: 'buy', how: 'its delay is found, not believed', when: always },
  {
    id: 'piston-stop',
    name: 'Piston stop',
    used: 'true top centre',
    advice: 'make',
    how: 'an old plug with a blunt bolt through it',
    when: (c) => times(c) && c.facts.engine?.plugOneReach !== false,
  },
  {
    id: 'piston-stop-mate',
    name: 'Piston stop with a long reach',
    used: 'true top centre by the cylinder that rises with number one',
    advice: 'make',
    how: 'plug one cannot be reached',
    when: (c) => times(c) && c.facts.engine?.plugOneReach === false,
  },
  {
    id: 'marks',
    name: 'Timing tape, or paint and dividers',
    used: 'marks on the damper',
    advice: 'make',
    how: 'printed to its diameter by the Spark station',
    when: ({ facts }) => facts.engine?.damperMark === 'none' || facts.engine?.damperMark === 'worn',
  },
  {
    id: 'scope',
    name: 'Scope, or a recording meter',
    used: 'polarity of the trigger',
    advice: 'borrow',
    how: 'two channels, 10 kHz or more',
    when: times,
  },
  {
    id: 'feelers',
    name: 'Feeler blades, not magnetic',
    used: 'air gap of the pick-up',
    advice: 'buy',
    how: 'brass for a magnetic sensor',
    when: times,
  },
  {
    id: 'air-meter',
    name: 'Air-flow meter for throttles',
    used: 'balance',
    advice: 'borrow',
    how: 'covers one mouth without choking it',
    when: runners,
  },
]

/** One list of tools for this job, with what the person said of each. */
export const toolsOf = (c: JudgedContext): ListedTool[] =>
  c.plan.route ? all.filter((t) => t.when(c)).map(({ when: _, ...tool }) => ({ ...tool, status: c.plan.tools?.[tool.id] ?? null })) : []
