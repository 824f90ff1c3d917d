import { at, type EntrySpec, finding, metres, readingsOf, type Rule, say } from '../kernel/index.ts'
import { wiringOf } from './car-plan.ts'
import { wiringEntries } from './entries.ts'
import { harnessOf } from './harness.ts'
import { BUS_M, BUS_STUB_M, SENDER_FIT_SHARE } from './limits.ts'
import { compareVersions, gaugeProblem, outputProblem, senderCurve, senderProblem } from './more.ts'
import { routeRules } from './route-findings.ts'
import { sizeRules } from './size-findings.ts'
import { supplyRules } from './supply-findings.ts'
import { begun } from './wrong-wires.ts'

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
    id: 'wiring.failed',
    check: (c) => {
      for (const kind of ['wiring.connector', 'wiring.relay', 'wiring.fuse', 'wiring.bus', 'wiring.spare-lead'] as const) {
        const { proof, says, title } = wiringEntries[kind] as unknown as EntrySpec
        const last = new Map(readingsOf(c.readings, kind).map((r) => [proof!.subject?.(r.value) ?? '', r]))
        const failed = [...last.values()].find((r) => c.standings.get(r.id)?.stands === null)
        if (failed)
          return finding(
            kind === 'wiring.connector' ? 'stop' : 'warn',
            `${title}: not as it must be`,
            says(failed.value),
            'Put it right, and look at it again.',
            at('wiring', 'checks', kind),
          )
      }
      return null
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
    id: 'wiring.gauge',
    where: at('wiring', 'more', 'choices.wiring.gauges'),
    check: (c) => {
      const { gauges = {}, senders = {} } = wiringOf(c)
      for (const g of Object.values(gauges)) {
        const problem = gaugeProblem(g, senders[g.sender])
        if (problem) return finding('warn', `Gauge, ${g.name}`, `${problem}.`, 'The gauge made for this sender, or the sender made for it.')
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
