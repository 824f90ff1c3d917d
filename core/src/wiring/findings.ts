import { at, finding, type JudgedContext, latest, metres, mm, mm2, readingsOf, type Rule, say, volts, amps } from '../kernel/index.ts'
import { hasDistributor } from '../spark/index.ts'
import { type Hazard, wiringOf } from './car-plan.ts'
import { lostEdits } from './circuits.ts'
import { groundLimitV } from './entries.ts'
import { harnessOf, type Wire } from './harness.ts'
import { keyedVerdict } from './keyed.ts'
import {
  BUS_M,
  BUS_STUB_M,
  CRANKING_AT_UNIT_V,
  KEEP_MM,
  LENGTH_AGREES,
  SENDER_FIT_SHARE,
  UNIT_FROM_COIL_MM,
  USUAL_RESET_V,
} from './limits.ts'
import { compareVersions, outputProblem, senderCurve, senderProblem } from './more.ts'
import { cutLengthM } from './route.ts'
import { crankingAtUnitV, solveState } from './supply.ts'

/** Findings are of a harness somebody works on: a car in which nothing of it was told is not judged by guesses. */
const begun = (c: JudgedContext): boolean =>
  c.build.choices.wiring !== undefined || c.build.readings.some((r) => r.kind.startsWith('wiring.'))

/** The first wire that a thing is wrong with, and how many more. */
function first(c: JudgedContext, wrong: (w: Wire) => boolean): { w: Wire; more: string } | null {
  if (!begun(c)) return null
  const list = harnessOf(c).wires.filter(wrong)
  return list.length ? { w: list[0], more: list.length > 1 ? ` So it is with ${list.length - 1} more.` : '' } : null
}
const wireAt = (w: Wire, field?: string) =>
  at('wiring', 'circuits', field ? `choices.wiring.circuits.${w.circuit.id}.${field}` : w.circuit.id)

const sizeRules: Rule[] = [
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
const near = (kind: Hazard['kind'], title: string, cure: string): Rule => ({
  id: `wiring.near-${kind.toLowerCase()}`,
  check: (c) => {
    const found = first(c, (w) => !(kind === 'exhaust' && w.circuit.edit.sleeve) && w.run.near.some((n) => n.hazard.kind === kind))
    if (!found) return null
    const { hazard, distanceMm } = found.w.run.near.find((n) => n.hazard.kind === kind)!
    return finding(
      'warn',
      `${found.w.circuit.name} ${title}`,
      say`${mm(distanceMm, 0)} from the ${hazard.label}; ${mm(KEEP_MM[kind], 0)} is the least.${found.more}`,
      cure,
      at('wiring', 'route', found.w.circuit.id),
    )
  },
})
const routeRules: Rule[] = [
  near('highTension', 'runs along plug leads', 'Lead it another way, or across them at right angles.'),
  near('exhaust', 'runs beside the exhaust', 'Lead it another way, or in a heat sleeve.'),
  near('moving', 'runs beside what turns', 'Lead it another way and tie it every hand’s breadth.'),
  {
    id: 'wiring.no-grommet',
    check: (c) => {
      if (!begun(c)) return null
      const panels = new Set(harnessOf(c).wires.flatMap((w) => w.run.panels))
      const bare = [...panels].filter((id) => wiringOf(c).grommets?.[id] === false)
      return bare.length
        ? finding(
            'stop',
            'A hole without a grommet',
            `${bare.join(', ').replaceAll('-', ' ')}: the edge cuts through the insulation.`,
            'A grommet of the hole’s size, and a tie on both sides.',
            at('wiring', 'route', bare[0]),
          )
        : null
    },
  },
  {
    id: 'wiring.unit-near-coil',
    check: (c) => {
      if (!begun(c)) return null
      const { places } = harnessOf(c)
      const [unit, coil] = [places.get('unit')!, places.get(hasDistributor(c) ? 'coil' : 'coils')!]
      const apart = Math.hypot(unit.xMm - coil.xMm, unit.yMm - coil.yMm)
      return apart < UNIT_FROM_COIL_MM && !unit.usual
        ? finding(
            'warn',
            'The unit stands near the coil',
            say`${mm(apart, 0)} apart; ${mm(UNIT_FROM_COIL_MM, 0)} is the least.`,
            'Move one of them.',
            at('wiring', 'route', 'unit'),
          )
        : null
    },
  },
  {
    id: 'wiring.colours-alike',
    check: (c) => {
      if (!begun(c)) return null
      const seen = new Map<string, string>()
      for (const { circuit, colour } of harnessOf(c).wires)
        for (const place of [circuit.from, circuit.to]) {
          const key = `${place} ${colour}`
          const other = seen.get(key)
          if (other)
            return finding(
              'warn',
              'Two wires alike in one connector',
              `${other} and ${circuit.name} are both ${colour} at ${place.replaceAll('-', ' ')}.`,
              'Another colour, or a marked sleeve.',
              at('wiring', 'circuits', `choices.wiring.circuits.${circuit.id}.colour`),
            )
          seen.set(key, circuit.name)
        }
      return null
    },
  },
  {
    id: 'wiring.lost-edits',
    check: (c) => {
      const lost = begun(c) ? lostEdits(c) : []
      return lost.length
        ? finding(
            'note',
            'Edits of circuits that are no longer there',
            `${lost.join(', ').replaceAll('-', ' ')}: the plan no longer asks for them; what was entered is kept.`,
            'Take them out, or enter them as circuits of your own.',
            at('wiring', 'circuits'),
          )
        : null
    },
  },
]
const supplyRules: Rule[] = [
  {
    id: 'wiring.keyed',
    where: at('wiring', 'checks', 'wiring.keyed'),
    check: (c) => {
      const last = latest(c.readings, 'wiring.keyed')
      if (!last) return null
      const v = keyedVerdict(last.value)
      if (v.kind === 'good' || v.kind === 'unknown') return null
      const good = readingsOf(c.readings, 'wiring.keyed').some((r) => keyedVerdict(r.value).kind === 'good')
      return good
        ? null
        : finding(
            'warn',
            `Keyed supply: ${last.value.wire} is ${v.title}`,
            v.because,
            'Try another wire; where none is good, a relay from the battery, triggered by one that is live while cranking.',
          )
    },
  },
  {
    id: 'wiring.ground-drop',
    where: at('wiring', 'checks', 'wiring.ground-drop'),
    check: (c) => {
      for (const which of ['unit', 'engine', 'body', 'sensor'] as const) {
        const last = readingsOf(c.readings, 'wiring.ground-drop')
          .filter((r) => r.value.which === which)
          .at(-1)
        if (last && last.value.dropV > groundLimitV[which])
          return finding(
            'warn',
            `Weak ground: ${which}`,
            say`${volts(last.value.dropV, 3)} over it; ${volts(groundLimitV[which])} is the most.`,
            which === 'unit' ? 'A wire of its own to the battery’s post.' : 'Clean metal, a new strap, a tight bolt; then measure again.',
          )
      }
      return null
    },
  },
  {
    id: 'wiring.casting',
    where: at('wiring', 'checks', 'wiring.ground-drop'),
    check: (c) =>
      wiringOf(c).unitGround === 'casting' &&
      !readingsOf(c.readings, 'wiring.ground-drop').some((r) => r.value.which === 'unit' && r.value.dropV <= groundLimitV.unit)
        ? finding(
            'warn',
            'The unit is grounded through its casting',
            'Paint and a dry bolt lift its ground; nobody has measured by how much.',
            'Measure the drop from casting to battery with loads on, or lay a wire of its own.',
          )
        : null,
  },
  {
    id: 'wiring.crank-volts',
    where: at('wiring', 'checks', 'wiring.crank-volts'),
    check: (c) => {
      if (!begun(c)) return null
      const here = crankingAtUnitV(c)
      const resetV = wiringOf(c).resetV ?? USUAL_RESET_V
      if (!here || here.volt >= CRANKING_AT_UNIT_V) return null
      return finding(
        here.measured && here.volt < resetV ? 'stop' : 'warn',
        'The unit gets too little while cranking',
        say`${volts(here.volt)} ${here.measured ? 'measured' : 'by the sums'}; it resets at ${volts(resetV)}, and ${volts(CRANKING_AT_UNIT_V)} is wanted.`,
        'Battery, its straps, then its feed: the largest drop first.',
      )
    },
  },
  {
    id: 'wiring.drained',
    where: at('wiring', 'supply'),
    check: (c) => {
      if (!begun(c)) return null
      const idle = solveState(c, 'idle')
      return idle.drains
        ? finding(
            'warn',
            'The battery drains at idle',
            say`${amps(idle.loadA)} drawn with everything on, ${amps(idle.chargingA)} given: ${String(Math.round(idle.drainMin!))} minutes until it no longer starts.`,
            'A larger alternator, a smaller pulley, or less on at idle.',
          )
        : null
    },
  },
  {
    id: 'wiring.parked-draw',
    where: at('wiring', 'checks', 'wiring.parked-draw'),
    check: (c) => {
      const last = latest(c.readings, 'wiring.parked-draw')
      return last && last.value.drawA > 0.05
        ? finding(
            'warn',
            'It draws with the key off',
            say`${amps(last.value.drawA, 3)}: a full battery is flat in ${String(Math.round((0.5 * (wiringOf(c).batteryAh ?? 50)) / last.value.drawA / 24))} days.`,
            'Pull fuses one at a time until it falls.',
          )
        : null
    },
  },
  {
    id: 'wiring.short',
    where: at('wiring', 'checks', 'wiring.insulation'),
    check: (c) => {
      const last = latest(c.readings, 'wiring.insulation')
      return last && c.standings.get(last.id)?.stands === null
        ? finding(
            'stop',
            'A circuit is near ground',
            `${last.value.leastOhm} ohm${last.value.circuit ? ` at ${last.value.circuit}` : ''} before its fuse: something touches.`,
            'Find it before any fuse goes in: part the harness until it is gone.',
          )
        : null
    },
  },
]
const partRules: Rule[] = [
  {
    id: 'wiring.brittle',
    where: at('wiring', 'circuits', 'choices.wiring.loom'),
    check: (c) =>
      wiringOf(c).loom === 'brittle'
        ? finding(
            'warn',
            'The old loom is brittle',
            'Insulation that cracks when bent shorts where nobody looks.',
            'Renew what is kept of it, at least what the new loads hang on.',
          )
        : null,
  },
  {
    id: 'wiring.bus',
    where: at('wiring', 'more', 'choices.wiring.bus.ends'),
    check: (c) => {
      const bus = wiringOf(c).bus
      if (!bus) return null
      if (bus.ends !== undefined && bus.ends !== 2)
        return finding(
          'warn',
          'The bus is not ended',
          `${bus.ends} resistors of 120 ohm on it; one at each end, two in all.`,
          'Put them at the two ends, and measure 60 ohm across.',
        )
      if (bus.stubM !== undefined && bus.stubM > BUS_STUB_M)
        return finding(
          'warn',
          'A branch of the bus is too long',
          say`${metres(bus.stubM)}; ${metres(BUS_STUB_M)} is the most.`,
          'Lead the bus to it and back.',
        )
      return bus.lengthM !== undefined && bus.lengthM > BUS_M
        ? finding('warn', 'The bus is too long', say`${metres(bus.lengthM)}; ${metres(BUS_M)} is the most.`, 'Shorten it.')
        : null
    },
  },
  {
    id: 'wiring.splice',
    where: at('wiring', 'checks', 'wiring.splice'),
    check: (c) => {
      const bad = readingsOf(c.readings, 'wiring.splice')
        .filter(
          (r) =>
            !readingsOf(c.readings, 'wiring.splice').some(
              (later) => later.value.where === r.value.where && later !== r && c.readings.indexOf(later) > c.readings.indexOf(r),
            ),
        )
        .find((r) => !r.value.pulled || !r.value.sleeve || r.value.underBend)
      return bad
        ? finding(
            'warn',
            `Splice, ${bad.value.where}`,
            bad.value.underBend
              ? 'It lies where the loom bends, and breaks there.'
              : bad.value.pulled
                ? 'It is not sealed.'
                : 'It did not hold.',
            'Make it again, straight, sealed and pulled.',
          )
        : null
    },
  },
  {
    id: 'wiring.unused-enabled',
    check: (c) => {
      const on = begun(c) ? harnessOf(c).leftOut.find((x) => x.kind === 'output' && x.edit.enabled) : undefined
      return on
        ? finding(
            'note',
            `${on.name} is left out, but enabled in the unit`,
            'An output with nothing on it raises a fault flag.',
            'Switch it off in the unit.',
            at('wiring', 'circuits', on.id),
          )
        : null
    },
  },
  {
    id: 'wiring.firmware',
    where: at('wiring', 'more', 'choices.wiring.boxes'),
    check: (c) => {
      const old = Object.values(wiringOf(c).boxes ?? {}).find((b) => b.least && (!b.firmware || compareVersions(b.firmware, b.least) < 0))
      return old
        ? finding(
            'warn',
            `${old.name}: older than another part wants`,
            old.firmware
              ? `${old.firmware} in it; ${old.wantedBy ?? 'another part'} wants ${old.least} or later.`
              : `${old.wantedBy ?? 'Another part'} wants ${old.least} or later; what is in it is not known.`,
            'Read its version; bring it up to date by its maker’s sheet.',
          )
        : null
    },
  },
  {
    id: 'wiring.sender',
    where: at('wiring', 'more', 'choices.wiring.senders'),
    check: (c) => {
      for (const s of Object.values(wiringOf(c).senders ?? {})) {
        const problem = senderProblem(s)
        if (problem) return finding('warn', `Sender, ${s.name}`, `${problem}.`, 'Read that point again.')
        const { worstShare } = senderCurve(s)
        if (worstShare > SENDER_FIT_SHARE)
          return finding(
            'note',
            `Sender, ${s.name}: its curve bends more than its points show`,
            `${(100 * worstShare).toFixed(0)} % of its range between two points; ${(100 * SENDER_FIT_SHARE).toFixed(0)} % is the most.`,
            'One more point in the middle of the longest gap.',
          )
      }
      return null
    },
  },
  {
    id: 'wiring.output',
    where: at('wiring', 'more', 'choices.wiring.outputs'),
    check: (c) => {
      for (const o of Object.values(wiringOf(c).outputs ?? {})) {
        const problem = outputProblem(o.when)
        if (problem) return finding('warn', `Output, ${o.name}`, `${problem}.`, 'Set off apart from on by what the channel wanders.')
      }
      return null
    },
  },
]
export const wiringRules: Rule[] = [...sizeRules, ...routeRules, ...supplyRules, ...partRules]
