import { kPa, type Said, say } from '../kernel/index.ts'
import type { CauseId, CauseStation, Signs } from './causes.ts'
import type { CrankSeen } from './crank-seen.ts'
import { FLOOD_THROTTLE_PCT, LEAST_CRANK_S, LOW_CRANK_V } from './limits.ts'
import { type NextTest, nextTest, rankCauses, testOf } from './rank-causes.ts'
import { type CrankAsked, signsOf, type StartWanted } from './signs.ts'

type FireBranchId =
  | 'runs'
  | 'supply'
  | 'battery'
  | 'no-signal'
  | 'ragged-signal'
  | 'no-pulse'
  | 'no-pressure'
  | 'early'
  | 'late'
  | 'caught-died'
  | 'no-vacuum'
  | 'flooded'
  | 'no-fuel'
  | 'ask-plugs'
  | 'runs-badly'
  | 'short'
export interface FireBranch {
  id: FireBranchId
  /** pump off before anything else */
  pumpOff: boolean
  title: string
  because: Said
  /** what to look at, likeliest first, and the station where it is worked at */
  look: { cause: CauseId; text: string; station: CauseStation; minutes: number }[]
  /** the cheapest thing that tells the likeliest causes apart; null when it is all seen */
  next: NextTest | null
}

/** causes shown of a branch */
const SHOWN = 3

/** The first-fire branch: what endangers first, then in the order in which each hides the next; its causes ranked by all that was seen. */
export function firstFire(seen: CrankSeen, asked: CrankAsked, wanted: StartWanted): FireBranch | null {
  if (!seen.fuelled) return null
  const signs = signsOf(seen, asked, wanted)
  const branch = branchOf(seen, asked, wanted, signs)
  // an engine that idles well may do so on one cylinder less
  if (branch.id === 'runs') return { ...branch, pumpOff: false, look: [], next: signs.ports === undefined ? testOf('ports') : null }
  return {
    pumpOff: false,
    ...branch,
    look: rankCauses(signs)
      .slice(0, SHOWN)
      .map(({ cause: { id, look, station, minutes } }) => ({ cause: id, text: look, station, minutes })),
    next: nextTest(signs),
  }
}

/**
 * The first-fire decision tree (handbook 06, step 5): from what was seen to the one branch to follow: supply, battery, signal, pulse, pressure, the
 * moment of the spark, air, fuel.
 */
function branchOf(
  seen: CrankSeen,
  asked: CrankAsked,
  { setKpa }: StartWanted,
  signs: Signs,
): Pick<FireBranch, 'id' | 'title' | 'because'> & { pumpOff?: boolean } {
  const n0 = (v: number) => v.toFixed(0)
  const bang = {
    inlet: {
      id: 'early',
      title: 'It spits back through the body: early or crossed',
      because: 'The spark falls while the inlet valve is open.',
    },
    exhaust: { id: 'late', title: 'It bangs in the exhaust: late or crossed', because: 'Fuel burns where it should be out.' },
  } as const
  const banged = asked.heard === 'inlet' || asked.heard === 'exhaust' ? bang[asked.heard] : null
  if (seen.streamEnded)
    return {
      id: 'supply',
      title: 'Pump off now: the unit lost its supply',
      because: 'The data stopped while the starter turned.',
      pumpOff: true,
    }
  if (asked.heard === 'kick')
    return {
      id: 'early',
      title: 'Stop cranking: it kicks back, the spark is far too early',
      because: 'A kick breaks starters and wrists.',
      pumpOff: true,
    }
  if (seen.caughtRpm !== null && seen.diedAfterS === null) {
    // a few cylinders with the right spark can carry it: the bang tells more than the catching
    if (banged) return { ...banged }
    const bad = badRun(signs)
    return bad
      ? { id: 'runs-badly', title: 'It runs, but badly', because: `${n0(seen.run?.rpm ?? seen.caughtRpm)} rpm; ${bad}.` }
      : { id: 'runs', title: 'It runs', because: `${n0(seen.caughtRpm)} rpm reached.` }
  }
  if (seen.caughtRpm !== null && banged) return { ...banged }
  if (seen.caughtRpm !== null && signs.vacuum === 'none')
    return {
      id: 'no-vacuum',
      title: 'It catches, floods and dies: the unit sees no vacuum',
      because: say`${kPa(seen.ranMapKpa!)} while it ran, ${kPa(seen.stillMapKpa!)} before: it fuels for an open throttle.`,
    }
  if (seen.caughtRpm !== null)
    return {
      id: 'caught-died',
      title: 'It catches and dies',
      because: `${n0(seen.caughtRpm)} rpm, still after ${seen.diedAfterS!.toFixed(1)} s.`,
    }
  if (seen.seconds < LEAST_CRANK_S)
    return {
      id: 'short',
      title: 'Cranked too briefly to tell',
      because: `${seen.seconds.toFixed(1)} s; ${LEAST_CRANK_S} s or more are wanted. Crank again, throttle shut, ten seconds at most.`,
    }
  if (signs.turns === 'slowly')
    return {
      id: 'battery',
      title: 'It turns too slowly',
      because: `${n0(seen.rpm)} rpm${seen.batteryV === null ? '' : `, ${seen.batteryV.toFixed(1)} V at the lowest`}; ${LOW_CRANK_V} V are wanted.`,
    }
  if (signs.speed === 'none')
    return { id: 'no-signal', title: 'No speed while it turns', because: 'The unit counted nothing, so it neither sparks nor injects.' }
  if (signs.speed === 'ragged' || signs.stream === 'gaps')
    return {
      id: 'ragged-signal',
      title: 'The speed is ragged',
      because: `${seen.dropouts} dropouts, ${seen.spikes} spikes, ${seen.gaps ?? 0} silences while it turned.`,
    }
  if (signs.pulse === 'none')
    return seen.throttlePct !== null && seen.throttlePct >= FLOOD_THROTTLE_PCT
      ? { id: 'no-pulse', title: 'No fuel by the unit: it clears a flooded engine', because: `Throttle at ${n0(seen.throttlePct)} %.` }
      : { id: 'no-pulse', title: 'The unit commands no fuel', because: 'Speed is there, the pulse is zero.' }
  if (signs.pressure === 'none' || signs.pressure === 'low')
    return {
      id: 'no-pressure',
      title: 'Fuel pressure is missing',
      because: say`${kPa(seen.pressureKpa!)} while cranking, ${kPa(setKpa)} wanted.`,
    }
  if (banged) return { ...banged }
  if (asked.plugs === 'wet')
    return { id: 'flooded', title: 'Wet plugs: too much fuel, or no spark', because: 'Fuel comes, it does not burn.' }
  if (asked.plugs === 'dry')
    return {
      id: 'no-fuel',
      title: 'Dry plugs: no fuel comes in, or far too little',
      because: 'Pulse and pressure are there; the fuel is not.',
    }
  return {
    id: 'ask-plugs',
    title: 'It turns, and does not fire',
    because: 'Speed, pulse and pressure are as they should be.',
  }
}

/** What an engine that runs has against it, in words; null when it runs as it should. */
function badRun(signs: Signs): string | null {
  const said = [
    signs.fired === 'rough' ? 'its speed swings' : null,
    signs.ports === 'some cool' ? 'some cylinders do no work' : null,
    signs.idles === 'high' ? 'far over its idle with the foot off' : signs.idles === 'low' ? 'far under its idle' : null,
    signs.mixture === 'lean' ? 'leaner than petrol burns' : signs.mixture === 'rich' ? 'richer than petrol burns' : null,
    signs.speed === 'ragged' ? 'the counted speed jumps' : null,
    signs.stream === 'gaps' ? 'the unit was silent in between' : null,
    signs.vacuum === 'none' ? 'the unit sees no vacuum' : null,
    signs.clicks === 'some' ? 'an injector is silent' : null,
    signs.pressure === 'low' || signs.pressure === 'none'
      ? 'fuel pressure is low'
      : signs.pressure === 'high'
        ? 'fuel pressure is high'
        : null,
    signs.light === 'early' ? 'the light shows it early' : signs.light === 'late' ? 'the light shows it late' : null,
    signs.cold === 'reads hot' || signs.cold === 'reads cold' ? 'coolant and air do not agree on an engine that has stood' : null,
    signs.throttle === 'off' ? 'the throttle does not read shut with the foot off' : null,
    signs.still === 'off' ? 'manifold pressure did not read the barometer with the engine still' : null,
    signs.valve === 'stuck' ? 'the idle valve does not move' : null,
  ].filter((s) => s !== null)
  return said.length ? said.join(', ') : null
}
