import { at, finding, type JudgedContext, latest, proved, type Requirement, type Rule, station } from '../kernel/index.ts'
import { boxWords, FitupChoices, jointWords } from './choices.ts'
import { boxesFor } from './boxes.ts'
import { fitupParts, fitupTasks } from './contribution.ts'
import { fitupEntries, type FitupEntryKind } from './entries.ts'
import { fitupRules, portFindings } from './findings.ts'
import { fitupOf, hasPedalMotor, jointsFor, routeOf } from './fitup-of.ts'
import { throttleProofs } from './gates.ts'

/** A car that ran before its fit-up was on record is warned, not shut. */
const unproved: Rule = {
  id: 'fitup.unproved',
  where: at('fitup', 'cards'),
  check: (c) => {
    if (!c.build.readings.some((r) => r.kind === 'start.ran')) return null
    const open = [
      ...throttleProofs(c)
        .filter((p) => !p.met)
        .map((p) => p.words),
      ...(proved(c, 'fitup.ports') ? [] : ['vacuum hoses']),
    ]
    return open.length
      ? finding(
          'warn',
          'It runs on a throttle nobody proved',
          `Not on record as it is now: ${open.join(', ')}.`,
          'Look at them before the next drive: each takes minutes.',
        )
      : null
  },
}

function requirements(c: JudgedContext): Requirement[] {
  const card = (kind: FitupEntryKind) => at('fitup', 'cards', kind)
  const wants = (id: string, kind: FitupEntryKind, action: string, met = proved(c, kind) !== null): Requirement => ({
    id,
    proof: [kind],
    met,
    action,
    where: card(kind),
  })
  const { facts } = c
  const { staged, shafts = 1 } = fitupOf(c).linkage ?? {}
  const seen = (id: string, kind: FitupEntryKind, action: string): Requirement => ({
    id,
    met: latest(c.readings, kind) !== null,
    action,
    where: card(kind),
  })
  const cable = facts.gearing?.kickDown === 'cable' || facts.gearing?.kickDown === 'throttle-valve'
  return [
    seen('photos', 'fitup.photos', 'Photograph it and mark every vacuum hose with its port, before anything comes off'),
    seen('covered', 'fitup.ports-covered', 'Carburettor off, ports covered, straightedge over the face'),
    ...(routeOf(c) === 'throttle-body' ? [] : [wants('dry-fit', 'fitup.dry-fit', 'Try the manifold dry: gaps, bolts, rail')]),
    ...jointsFor(c).map((id) =>
      wants(
        `torqued-${id}`,
        'fitup.torqued',
        `Draw down the ${jointWords[id]} in order and passes`,
        proved(c, 'fitup.torqued', (r) => r.value.joint === id) !== null,
      ),
    ),
    wants('ports', 'fitup.ports', 'Lead each vacuum hose to its port by the map, cap the rest, trace each by hand'),
    ...(hasPedalMotor(c)
      ? throttleProofs(c).map((p, i) => wants(`throttle-${i + 1}`, p.kind, `Electronic throttle: ${p.words}`, p.met))
      : [wants('linkage', 'fitup.linkage', 'Prove the linkage: full with the pedal on the carpet, shuts by itself, two springs')]),
    ...(cable && !hasPedalMotor(c) ? [wants('kick-down', 'fitup.kick-down', 'Set the gearbox cable by its sheet')] : []),
    ...((staged || shafts > 1) && !hasPedalMotor(c) ? [wants('shafts', 'fitup.shafts', 'Shafts together, shut and full')] : []),
    wants('bonnet', 'fitup.bonnet', 'Shut the bonnet on clay, and measure what is left'),
    wants('sensor', 'fitup.sensor', 'Seat the exhaust sensor: turned up, tight, plugged until it has power'),
    wants('coolant-sensor', 'fitup.coolant-sensor', 'Coolant sensor in the flow'),
    ...(routeOf(c) === 'throttle-body' ? [] : [wants('coolant-bled', 'fitup.coolant-bled', 'Fill and bleed the coolant')]),
    wants('air-sensor', 'fitup.air-sensor', 'Air temperature sensor away from heat'),
    ...boxesFor(c).map((id) =>
      wants(`box-${id}`, 'fitup.box', `Place the ${boxWords[id]}`, proved(c, 'fitup.box', (r) => r.value.box === id) !== null),
    ),
    wants('last-look', 'fitup.last-look', 'Last look: fuel, wires, moving parts, cloths counted'),
  ]
}

export const fitup = station({
  id: 'fitup',
  number: 6,
  title: 'Fit-up',
  question: 'Does it shut, seal, clear and reach, before power goes on?',
  key: 'y',
  after: ['plan'],
  choices: { fitup: FitupChoices },
  entries: fitupEntries,
  rules: [...fitupRules, unproved],
  findings: portFindings,
  requirements,
  cautions: ['vapour', 'moving', 'sheet'],
  contributes: { tasks: fitupTasks, parts: fitupParts },
})
