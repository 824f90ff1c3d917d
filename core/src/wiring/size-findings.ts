import { amps, at, finding, metres, mm2, type Rule, say, volts } from '../kernel/index.ts'
import { wiringOf } from './car-plan.ts'
import { harnessOf } from './harness.ts'
import { LENGTH_AGREES } from './limits.ts'
import { onChannel } from './out.ts'
import { cutLengthM } from './route.ts'
import { begun, first, wireAt } from './wrong-wires.ts'

export const sizeRules: Rule[] = [
  {
    id: 'wiring.no-wire',
    check: (c) => {
      const found = first(c, (w) => w.size === null)
      return (
        found &&
        finding(
          'stop',
          `${found.w.circuit.name}: no wire will do`,
          say`${amps(found.w.circuit.continuousA)} over ${metres(found.w.lengthM)} asks for more than shops have.${found.more}`,
          'A shorter way, or two circuits.',
          wireAt(found.w),
        )
      )
    },
  },
  {
    id: 'wiring.fuse-over-wire',
    check: (c) => {
      const found = first(c, (w) => w.size !== null && w.size.fuseA !== null && w.size.fuseA > w.size.aloneA)
      if (!found) return null
      const { w, more } = found
      return finding(
        'stop',
        `${w.circuit.name}: the fuse is over the wire`,
        say`A fuse of ${amps(w.size!.fuseA!)} on ${mm2(w.size!.areaMm2)} that bears ${amps(w.size!.aloneA)}: the wire burns first.${more}`,
        'A thicker wire, or the next smaller fuse.',
        wireAt(w, 'areaMm2'),
      )
    },
  },
  {
    id: 'wiring.unfused',
    check: (c) => {
      const found = first(c, (w) => w.circuit.fused && w.circuit.edit.fuseA === 0)
      return (
        found &&
        finding(
          'stop',
          `${found.w.circuit.name} has no fuse`,
          say`A chafed wire of it takes what the battery gives.${found.more}`,
          'A fuse at the source end, within a hand’s breadth of it.',
          wireAt(found.w, 'fuseA'),
        )
      )
    },
  },
  {
    id: 'wiring.overloaded',
    check: (c) => {
      const found = first(c, (w) => w.size !== null && w.size.bearsA < w.circuit.continuousA)
      if (!found) return null
      const { w, more } = found
      return finding(
        'stop',
        `${w.circuit.name}: too thin for its current`,
        say`${amps(w.circuit.continuousA)} through ${mm2(w.size!.areaMm2)} that bears ${amps(w.size!.bearsA)} among ${w.loadedWires} loaded at ${w.ambientC} °C.${more}`,
        'A thicker wire.',
        wireAt(w, 'areaMm2'),
      )
    },
  },
  {
    id: 'wiring.drop',
    check: (c) => {
      const found = first(c, (w) => w.size !== null && w.size.dropV > w.circuit.dropLimitV + 1e-9)
      if (!found) return null
      const { w, more } = found
      return finding(
        'warn',
        `${w.circuit.name} loses too much`,
        say`${volts(w.size!.dropV)} of ${volts(w.circuit.dropLimitV)} over ${metres(w.lengthM)} of ${mm2(w.size!.areaMm2)}.${more}`,
        'A thicker wire, or a shorter way.',
        wireAt(w, 'areaMm2'),
      )
    },
  },
  {
    id: 'wiring.no-relay',
    check: (c) => {
      const found = first(c, (w) => w.circuit.edit.relay === false && w.circuit.relayWhy !== null)
      return (
        found &&
        finding(
          'stop',
          `${found.w.circuit.name} without a relay`,
          say`${amps(found.w.circuit.continuousA)}: ${found.w.circuit.relayWhy!}.${found.more}`,
          'Coil from the unit, contacts from the battery.',
          wireAt(found.w, 'relay'),
        )
      )
    },
  },
  {
    id: 'wiring.relay-coil',
    check: (c) => {
      const wires = begun(c) ? harnessOf(c).wires : []
      const ids = new Map(wires.map((w) => [w.circuit.id, w]))
      const found = first(c, ({ circuit: x }) => {
        if (x.coilFrom === null) return false
        const source = ids.get(x.coilFrom)
        return !source || (x.cranks && !x.states.includes('cranking'))
      })
      if (!found) return null
      const { circuit } = found.w
      const source = ids.get(circuit.coilFrom!)
      return finding(
        'stop',
        `${circuit.name}: its relay will not pull in`,
        source
          ? `Its coil hangs on ${source.circuit.name}, which is dead while cranking.${found.more}`
          : `Its coil hangs on “${circuit.coilFrom!}”, and no such circuit is in the harness.${found.more}`,
        'Feed the coil from the unit, or from a wire that is live while cranking.',
        wireAt(found.w, 'coilFrom'),
      )
    },
  },
  {
    id: 'wiring.power-box',
    where: at('wiring', 'more', 'choices.wiring.powerBox.channels'),
    check: (c) => {
      const box = wiringOf(c).powerBox
      if (!box) return null
      const h = harnessOf(c)
      const on = h.wires.filter((w) => onChannel(h, w))
      const heavy = on.find((w) => box.channelA !== undefined && w.circuit.continuousA > box.channelA)
      if (heavy)
        return finding(
          'stop',
          `${heavy.circuit.name} is more than a channel carries`,
          say`${amps(heavy.circuit.continuousA)}; a channel of the power box carries ${amps(box.channelA!)}.`,
          'Two channels in parallel where its sheet allows it, or a relay beside the box.',
        )
      const sumA = on.reduce((sum, w) => sum + w.circuit.continuousA, 0)
      if (box.totalA !== undefined && sumA > box.totalA)
        return finding(
          'stop',
          'The power box carries too much',
          say`${amps(sumA)} on all its channels; ${amps(box.totalA)} is the most.`,
          'Take the largest load off it, with fuse and relay of its own.',
        )
      return box.channels !== undefined && on.length > box.channels
        ? finding(
            'warn',
            'More circuits than the power box has channels',
            `${on.length} hang on it; it has ${box.channels}.`,
            'Put loads that run together on one channel, or leave some on fuses.',
          )
        : null
    },
  },
  {
    id: 'wiring.length-measured',
    check: (c) => {
      const found = first(
        c,
        (w) => w.measured && Math.abs(w.lengthM - cutLengthM(w.run.planMm)) > LENGTH_AGREES * w.lengthM && w.run.through.length > 2,
      )
      return (
        found &&
        finding(
          'note',
          `${found.w.circuit.name}: measured otherwise than planned`,
          say`${metres(found.w.lengthM)} with the tape, ${metres(cutLengthM(found.w.run.planMm))} over the plan.${found.more}`,
          'Look whether it takes the way that is drawn; the measured length is what is cut.',
          wireAt(found.w, 'via'),
        )
      )
    },
  },
]
