import { allFacts, type FactPath } from '@vectum/core'
import { factField, type Field } from '../../quantity/field.ts'

/** What is asked in each zone of the car, and in which group; how it is asked stands in the core's catalogue of facts. */
export interface Group {
  id: string
  title: string
  fields: Field[]
}
export interface Zone {
  id: string
  title: string
  groups: Group[]
}

/** All facts of a group of the catalogue, but those named, which stand in a group of their own. */
const allOf = (group: string, ...but: FactPath[]): FactPath[] =>
  allFacts.map((f) => f.path).filter((path) => path.startsWith(`${group}.`) && !but.includes(path))
const group = (id: string, title: string, paths: readonly FactPath[]): Group => ({ id, title, fields: paths.map(factField) })

const curve: FactPath[] = [
  'ignition.advanceLocked',
  'ignition.curveShaft',
  'ignition.mechanicalAdvanceDeg',
  'ignition.mechanicalStartRpm',
  'ignition.mechanicalFullRpm',
  'ignition.vacuumAdvanceDeg',
  'ignition.vacuumFullKpa',
  'ignition.vacuumSource',
]
const cap: FactPath[] = ['ignition.rotorRadiusMm', 'ignition.rotorTipWidthMm', 'ignition.terminalWidthMm']
const use: FactPath[] = ['place.use', 'place.onStand', 'place.startsFrom']
const marks: FactPath[] = ['baseline.pullAway', 'baseline.partThrottle', 'baseline.acceleration', 'baseline.restart', 'baseline.smell']

export const zones: Zone[] = [
  {
    id: 'engine',
    title: 'Engine',
    groups: [
      group('engine', 'Engine', allOf('engine')),
      group('induction', 'Induction', allOf('induction')),
      group('health', 'Engine health', allOf('health')),
    ],
  },
  { id: 'cam', title: 'Cam', groups: [group('cam', 'Cam', allOf('cam'))] },
  {
    id: 'ignition',
    title: 'Ignition',
    groups: [
      group('ignition', 'Ignition', allOf('ignition', ...curve, ...cap)),
      group('curve', 'Old advance', curve),
      group('cap', 'Rotor and cap', cap),
    ],
  },
  { id: 'electrics', title: 'Electrics', groups: [group('electrics', 'Electrics', allOf('electrics'))] },
  {
    id: 'car',
    title: 'Car and place',
    groups: [
      group('car', 'The car', [...allOf('car'), ...use]),
      group('place', 'Places', allOf('place', ...use)),
      group('intake', 'Taken in with', allOf('intake')),
    ],
  },
  { id: 'exhaust', title: 'Exhaust', groups: [group('exhaust', 'Exhaust', allOf('exhaust'))] },
  { id: 'gearing', title: 'Gearing', groups: [group('gearing', 'Gearing and body', allOf('gearing'))] },
  { id: 'fuel', title: 'Tank and fuel', groups: [group('fuel', 'Fuel now', allOf('fuel'))] },
  {
    id: 'baseline',
    title: 'As it drives now',
    groups: [
      group('baseline', 'Baseline on the carburettor', allOf('baseline', ...marks)),
      group('ratings', 'The driver’s five marks', marks),
    ],
  },
]

export const fieldsOf = (zone: Zone): Field[] => zone.groups.flatMap((g) => g.fields)
const byPath = new Map(zones.flatMap((z) => fieldsOf(z).map((f) => [f.path, { field: f, zone: z.id }] as const)))
/** The field that asks for a fact, and the zone it is in. */
export const fieldFor = (factPath: string): { field: Field; zone: string } | undefined => byPath.get(`facts.${factPath}`)
