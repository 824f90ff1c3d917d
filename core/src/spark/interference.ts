import { at, type Context, finding, readingsOf, type Rule } from '../kernel/index.ts'
import { type SuspectId, type SymptomId, symptomIds, symptomWords } from './interference-words.ts'

/** Suspects in the order they are looked at (handbook 03): cheap and common first, each with how it is proved and cured. */
const list: { id: SuspectId; title: string; prove: string; cure: string; known?: (c: Context) => boolean | undefined }[] = [
  {
    id: 'solid-leads',
    title: 'Solid-core plug leads',
    prove: 'Measure a lead: under 100 ohm from end to end is solid core.',
    cure: 'Resistive leads.',
    known: ({ facts }) => (facts.ignition?.leads ? facts.ignition.leads === 'solid-core' : undefined),
  },
  {
    id: 'plain-plugs',
    title: 'Plugs without a resistor',
    prove: 'Measure from terminal to centre electrode: a resistor plug shows thousands of ohms.',
    cure: 'Resistor plugs of the same heat range.',
    known: ({ facts }) => (facts.ignition?.plugs ? facts.ignition.plugs === 'plain' : undefined),
  },
  {
    id: 'harness-route',
    title: 'Loom along plug leads or coil',
    prove: 'Move it a hand’s breadth away and see whether the symptom goes.',
    cure: 'Lead it another way; cross plug leads at right angles.',
  },
  {
    id: 'long-leads',
    title: 'Long unconnected leads in the loom',
    prove: 'Unplug the loom’s spare branch at the unit, or shorten one, and see.',
    cure: 'Cut back at the plug and insulated, or coiled there.',
  },
  {
    id: 'unit-ground',
    title: 'Unit not grounded at the battery',
    prove: 'Drop from the unit’s ground pin to the battery post while cranking: over 0.1 V is too much.',
    cure: 'A wire of its own to the battery post.',
  },
  {
    id: 'shield-ends',
    title: 'Shield grounded at both ends',
    prove: 'Unplug the sensor: the shield must show no way to ground there.',
    cure: 'One end only, at the unit.',
  },
  {
    id: 'capacitor',
    title: 'Capacitor missing at coil or alternator',
    prove: 'Hold a suppression capacitor across the coil feed and see.',
    cure: 'Fit it, short leads.',
  },
  {
    id: 'alternator',
    title: 'Alternator whine',
    prove: 'Belt off for half a minute at idle: does it go?',
    cure: 'Diodes tested; a filter in its wire.',
  },
]

export interface Suspect {
  id: SuspectId
  title: string
  prove: string
  cure: string
  /** found: it is there; clear: it has been looked at and is not; open: not looked at yet */
  state: 'found' | 'clear' | 'open'
  because: string
}

/** Symptoms last said to be there. */
export function activeSymptoms(c: Context): SymptomId[] {
  const readings = readingsOf(c.readings, 'spark.symptom')
  return symptomIds.filter((id) => readings.filter((r) => r.value.symptom === id).at(-1)?.value.seen)
}

/** Every suspect in order, with what the survey or a check says of it. */
export function interferenceSuspects(c: Context): Suspect[] {
  const checks = readingsOf(c.readings, 'spark.interference')
  return list.map(({ id, title, prove, cure, known }): Suspect => {
    const check = checks.filter((r) => r.value.suspect === id).at(-1)
    if (check)
      return {
        id,
        title,
        prove,
        cure,
        state: check.value.found ? 'found' : 'clear',
        because: `${check.who}, ${check.takenAt.slice(0, 10)}`,
      }
    const fact = known?.(c)
    return {
      id,
      title,
      prove,
      cure,
      state: fact === undefined ? 'open' : fact ? 'found' : 'clear',
      because: fact === undefined ? 'not looked at yet' : 'the survey',
    }
  })
}

/** The suspect to look at now: one that is found, else the first not looked at; null when all are clear. */
export const nextSuspect = (suspects: readonly Suspect[]): Suspect | null =>
  suspects.find((s) => s.state === 'found') ?? suspects.find((s) => s.state === 'open') ?? null

export interface SpeedSpike {
  timeS: number
  fromRpm: number
  toRpm: number
  rpmPerS: number
}
/** No engine here gains or loses speed faster than this: free revving an empty flywheel stays well under it. Our own bound. */
const CRANK_LIMIT_RPM_S = 15_000
/** Steps smaller than this are jitter of the count, not spikes. */
const LEAST_STEP_RPM = 250
const BACK_WITHIN_S = 0.5
/** A crank that was thrown up cannot come down as fast: what both ways ask for together is bounded lower. */
const thereAndBackLimit = (limitRpmPerS: number): number => limitRpmPerS / 2.5
/** both ways of a spike are about as long */
const SPIKE_SHARE = 0.35

/**
 * Jumps of a speed signal beyond what the crank can do. A jump and its return within half a second count as one spike; a fall to zero that
 * stays is a stall or a lost signal, not a spike.
 * @param timeS rising, s
 */
export function speedSpikes(timeS: ArrayLike<number>, rpm: ArrayLike<number>, limitRpmPerS = CRANK_LIMIT_RPM_S): SpeedSpike[] {
  const spikes: SpeedSpike[] = []
  for (let i = 1; i < rpm.length; i++) {
    const step = rpm[i] - rpm[i - 1]
    const dt = timeS[i] - timeS[i - 1]
    if (!(dt > 0) || !(Math.abs(step) > LEAST_STEP_RPM)) continue
    // at ten rows a second a single jump may be what a crank could do: there and back between three rows is not
    const thereAndBack = i + 1 < rpm.length ? Math.abs(step) + Math.abs(rpm[i + 1] - rpm[i]) : 0
    const returns = i + 1 < rpm.length && Math.sign(rpm[i + 1] - rpm[i]) === -Math.sign(step)
    const span = i + 1 < rpm.length ? timeS[i + 1] - timeS[i - 1] : Infinity
    const overOnce = Math.abs(step) > limitRpmPerS * dt
    const overTwice =
      returns &&
      Math.min(Math.abs(step), Math.abs(rpm[i + 1] - rpm[i])) > SPIKE_SHARE * thereAndBack &&
      thereAndBack > thereAndBackLimit(limitRpmPerS) * span
    if (!overOnce && !overTwice) continue
    // it must come back: look for the speed before the jump
    let back = i + 1
    while (back < rpm.length && timeS[back] - timeS[i] <= BACK_WITHIN_S && !(Math.abs(rpm[back] - rpm[i - 1]) < Math.abs(step) / 3)) back++
    if (back >= rpm.length || timeS[back] - timeS[i] > BACK_WITHIN_S) continue
    spikes.push({ timeS: timeS[i], fromRpm: rpm[i - 1], toRpm: rpm[i], rpmPerS: step / dt })
    i = back
  }
  return spikes
}

export const interferenceRules: Rule[] = [
  {
    id: 'spark.interference',
    where: at('spark', 'interference'),
    check: (c) => {
      const symptoms = activeSymptoms(c)
      if (!symptoms.length) return null
      const suspect = nextSuspect(interferenceSuspects(c))
      return finding(
        symptoms.includes('pump-runs-on') ? 'stop' : 'warn',
        symptoms.includes('pump-runs-on') ? 'The pump ran on after a stall' : 'Interference',
        `${symptoms.map((s) => symptomWords[s]).join('; ')}.`,
        suspect
          ? suspect.state === 'found'
            ? `${suspect.title}: ${suspect.cure}`
            : `${suspect.title}? ${suspect.prove}`
          : 'Every suspect is clear: look at the signal on the scope.',
      )
    },
  },
]
