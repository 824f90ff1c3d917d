import type { JudgedContext } from '../kernel/index.ts'
import { askedCircuits } from './asked-circuits.ts'
import { wiringOf } from './car-plan.ts'
import type { CircuitEdit, OwnCircuit } from './choices.ts'
import { type CarState, type Circuit, type Draft, RELAY_COIL_A, RUNNING } from './circuit.ts'
import { DROP_V, OUTPUT_A } from './limits.ts'

const whole = (d: Draft, edit: CircuitEdit, outputA: number, powerBox: boolean): Circuit => {
  const c: Circuit = {
    feed: 'none',
    continuousA: 0.1,
    surgeA: 0,
    dropLimitV: DROP_V.load,
    states: d.continuousA !== undefined && d.kind !== 'signal' ? RUNNING : [],
    relay: false,
    relayWhy: null,
    lowSide: false,
    cranks: false,
    coilFrom: null,
    fused: false,
    weak: false,
    assumed: [],
    origin: 'plan',
    ...d,
    edit,
  }
  const { name, from, to, continuousA, surgeA, relay, coilFrom } = edit
  const amps = continuousA ?? c.continuousA
  const overOutput = c.kind === 'output' && amps > outputA
  // a channel of the box does what fuse and relay did
  const byBox = powerBox && c.kind === 'feed' && (from ?? c.from) === 'fuses'
  return {
    ...c,
    name: name ?? c.name,
    from: from ?? c.from,
    to: to ?? c.to,
    continuousA: amps,
    surgeA: Math.max(amps, surgeA ?? (continuousA !== undefined && c.continuousA > 0 ? (c.surgeA * amps) / c.continuousA : c.surgeA)),
    relay: relay ?? (coilFrom !== undefined || (!byBox && (c.relay || overOutput))),
    relayWhy: byBox ? null : (c.relayWhy ?? (overOutput ? `over the ${outputA} A of an output` : null)),
    cranks: c.kind === 'feed' && c.states.includes('cranking'),
    coilFrom: coilFrom ?? null,
    assumed: continuousA === undefined ? c.assumed : [],
  }
}
// whatever it was named by, it never takes the place of one the plan asks for
const ownDraft = (id: string, o: OwnCircuit): Draft => ({
  id: id.startsWith('own-') ? id : `own-${id}`,
  name: o.name,
  kind: o.feed === 'unit' ? 'output' : 'feed',
  from: o.from,
  to: o.to,
  feed: o.feed,
  fused: o.feed !== 'unit',
  continuousA: o.continuousA,
  surgeA: o.surgeA ?? 0,
  states: RUNNING,
  why: o.why,
  origin: 'own',
})
/** Currents that meet in a wire are those of what hangs on it. */
function summed(list: Circuit[]): Circuit[] {
  const through = (pick: (c: Circuit) => boolean): number => list.filter(pick).reduce((sum, c) => sum + c.continuousA, 0)
  const onMain = through((c) => c.from === 'fuses' && c.feed === 'battery')
  const backThroughUnit = through((c) => c.id === 'unit-feed' || (c.kind === 'output' && c.lowSide && !c.relay && c.from === 'unit'))
  const amps: Record<string, number> = { 'main-feed': onMain, 'unit-ground': backThroughUnit }
  return list.map((c) => {
    const coilsA = RELAY_COIL_A * list.filter((x) => x.coilFrom === c.id).length
    const sum = amps[c.id] ?? (coilsA > 0 ? c.continuousA + coilsA : undefined)
    return sum === undefined || c.edit.continuousA !== undefined ? c : { ...c, continuousA: sum, surgeA: Math.max(sum, c.surgeA) }
  })
}
/** A circuit behind a relay lives only while what feeds that relay's coil does. */
function behindCoils(list: Circuit[]): Circuit[] {
  const by = new Map(list.map((c) => [c.id, c]))
  const live = (c: Circuit, through: readonly string[] = []): readonly CarState[] => {
    const source = c.coilFrom === null || through.includes(c.id) ? undefined : by.get(c.coilFrom)
    return source ? c.states.filter((s) => live(source, [...through, c.id]).includes(s)) : c.states
  }
  return list.map((c) => (c.coilFrom === null ? c : { ...c, states: live(c) }))
}

/** All circuits the plan asks for, with the person's edits on them, those of their own behind, and those left out apart. */
export function circuitsOf(c: JudgedContext): { circuits: Circuit[]; leftOut: Circuit[] } {
  const { circuits: edits = {}, own = {}, outputA = OUTPUT_A, powerBox } = wiringOf(c)
  const drafts = [...askedCircuits(c), ...Object.entries(own).map(([id, o]) => ownDraft(id, o))]
  const all = drafts.map((d) => whole(d, edits[d.id] ?? {}, outputA, powerBox !== undefined))
  return { circuits: summed(behindCoils(all.filter((x) => !x.edit.leftOut))), leftOut: all.filter((x) => x.edit.leftOut) }
}
