import { kPa, type Said, say } from '../kernel/index.ts'
import type { Frame } from './frame.ts'
import { FLOOD_THROTTLE_PCT, LEAST_CRANK_S, LOW_CRANK_V, LOW_PRESSURE_SHARE, NO_VACUUM_KPA, SLOW_CRANK_RPM } from './limits.ts'

/** What a crank attempt showed by itself. */
export interface CrankSeen {
  seconds: number
  /** false: the injectors were unplugged or held shut */
  fuelled: boolean
  /** median while cranking, as the unit counted it */
  rpm: number
  dropouts: number
  spikes: number
  /** null where the device does not tell */
  pulseMs: number | null
  pressureKpa: number | null
  batteryV: number | null
  /** manifold pressure while it ran and just before it turned, kPa; null where it never caught or is not told */
  ranMapKpa: number | null
  stillMapKpa: number | null
  /** highest speed after it caught; null when it never did */
  caughtRpm: number | null
  /** seconds from catching to standing still; null while it runs */
  diedAfterS: number | null
  /** the stream broke off while the starter turned */
  streamEnded: boolean
  coolantC: number | null
  throttlePct: number | null
}
/** What only a person can tell. */
export interface CrankAsked {
  heard?: 'nothing' | 'inlet' | 'exhaust' | 'kick'
  plugs?: 'wet' | 'dry'
}

const CAUGHT_RPM = 400
const STILL_RPM = 60
const GAP_S = 0.6
/** speed varies within a turn of the starter, by less than this */
const RAGGED_SHARE = 0.4
const median = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0
const toldOf = (values: (number | null)[]): number[] => values.filter((v) => v !== null)
const medianTold = (values: (number | null)[]): number | null => (toldOf(values).length ? median(toldOf(values)) : null)

/**
 * The last crank attempt in a stretch of frames, oldest first; null without one.
 * @param silentS seconds since the last frame arrived, for a stream that is watched as it comes
 */
export function crankSeen(frames: readonly Frame[], silentS = 0): CrankSeen | null {
  let end = frames.length - 1
  while (end >= 0 && frames[end].state !== 'cranking') end--
  if (end < 0) return null
  let from = end
  while (from > 0 && frames[from - 1].state === 'cranking' && frames[from].timeS - frames[from - 1].timeS < GAP_S) from--
  const cranking = frames.slice(from, end + 1)
  const after = frames.slice(end + 1)
  const next = after[0]
  const gapS = next ? next.timeS - frames[end].timeS : silentS
  const top = Math.max(0, ...after.map((f) => f.rpm))
  const caught = top > CAUGHT_RPM
  const caughtAt = after.find((f) => f.rpm > CAUGHT_RPM)?.timeS
  const died = caught ? after.find((f) => f.timeS > caughtAt! && f.rpm < STILL_RPM) : undefined
  // the first half second spins up; a count that is not there yet is no dropout
  const steady = cranking.filter((f) => f.timeS - cranking[0].timeS > 0.5)
  const rpm = median(steady.map((f) => f.rpm))
  const lowest = toldOf(cranking.map((f) => f.batteryV))
  return {
    seconds: cranking[cranking.length - 1].timeS - cranking[0].timeS,
    fuelled: !cranking.some((f) => f.fuelHeld),
    rpm,
    dropouts: steady.filter((f, i) => i > 0 && f.rpm < STILL_RPM && steady[i - 1].rpm >= STILL_RPM).length,
    spikes: steady.filter((f) => f.rpm >= STILL_RPM && Math.abs(f.rpm / rpm - 1) > RAGGED_SHARE).length,
    pulseMs: medianTold(steady.map((f) => f.pulseMs)),
    pressureKpa: medianTold(steady.map((f) => f.fuelPressureKpa)),
    batteryV: lowest.length ? Math.min(...lowest) : null,
    ranMapKpa: medianTold(after.filter((f) => f.rpm > CAUGHT_RPM).map((f) => f.mapKpa)),
    stillMapKpa: frames[from - 1]?.mapKpa ?? null,
    caughtRpm: caught ? top : null,
    diedAfterS: died ? died.timeS - caughtAt! : null,
    streamEnded: gapS > GAP_S,
    coolantC: cranking[0].coolantC,
    throttlePct: medianTold(cranking.map((f) => f.throttlePct)),
  }
}

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
  | 'short'
export interface FireBranch {
  id: FireBranchId
  /** pump off before anything else */
  pumpOff: boolean
  title: string
  because: Said
  /** what to look at, in order, and the station where it is worked at */
  look: { text: string; station: 'fuel' | 'spark' | 'tune' | 'survey' | 'start' }[]
}

const SHUT_THROTTLE_PCT = 10

/**
 * The first-fire decision tree (handbook 06, step 5): from what was seen to the one branch to follow, what endangers first, then in the order in
 * which each hides the next: supply, battery, signal, pulse, pressure, the moment of the spark, air, fuel.
 * @param setKpa fuel pressure wanted
 * @returns null for a crank without fuel: it says nothing of why an engine does not start
 */
export function firstFire(seen: CrankSeen, asked: CrankAsked, setKpa: number): FireBranch | null {
  if (!seen.fuelled) return null
  const branch = (id: FireBranchId, title: string, because: Said, look: FireBranch['look'], pumpOff = false): FireBranch => ({
    id,
    pumpOff,
    title,
    because,
    look,
  })
  const n0 = (v: number) => v.toFixed(0)
  const byBang = (): FireBranch | null => {
    if (asked.heard === 'inlet')
      return branch('early', 'It spits back through the body: early or crossed', 'The spark falls while the inlet valve is open.', [
        { text: 'Leads: followed one by one from the cap, in the way the rotor turns', station: 'spark' },
        { text: 'Distributor half a turn out: stroke by thumb, rotor at tower one', station: 'spark' },
        { text: 'Light on the damper: far too early?', station: 'spark' },
      ])
    if (asked.heard === 'exhaust')
      return branch('late', 'It bangs in the exhaust: late or crossed', 'Fuel burns where it should be out.', [
        { text: 'Leads followed one by one; then the light on the damper', station: 'spark' },
      ])
    return null
  }
  const noVacuum =
    seen.ranMapKpa !== null &&
    seen.stillMapKpa !== null &&
    seen.stillMapKpa - seen.ranMapKpa < NO_VACUUM_KPA &&
    (seen.throttlePct ?? 0) < SHUT_THROTTLE_PCT
  if (seen.streamEnded)
    return branch(
      'supply',
      'Pump off now: the unit lost its supply',
      'The data stopped while the starter turned.',
      [
        { text: 'Unit fed from the battery post, not from a terminal that the key drops while cranking', station: 'spark' },
        { text: 'Ground of the unit at the battery; volts at the unit while cranking, 9 or more', station: 'spark' },
        { text: 'Loom beside plug leads or coil: interference resets it', station: 'spark' },
      ],
      true,
    )
  if (asked.heard === 'kick')
    return branch(
      'early',
      'Stop cranking: it kicks back, the spark is far too early',
      'A kick breaks starters and wrists.',
      [
        { text: 'Light on the damper while cranking without fuel', station: 'spark' },
        { text: 'Firing order at the leads, stroke, reference angle', station: 'spark' },
      ],
      true,
    )
  // a few cylinders with the right spark can carry it: the bang tells more than the catching
  if (seen.caughtRpm !== null && seen.diedAfterS === null)
    return byBang() ?? branch('runs', 'It runs', `${n0(seen.caughtRpm)} rpm reached.`, [])
  if (noVacuum && seen.caughtRpm !== null && seen.diedAfterS !== null)
    return (
      byBang() ??
      branch(
        'no-vacuum',
        'It catches, floods and dies: the unit sees no vacuum',
        say`${kPa(seen.ranMapKpa!)} while it ran, ${kPa(seen.stillMapKpa!)} before: it fuels for an open throttle.`,
        [
          { text: 'Hose of the pressure sensor: on, whole, and not pinched', station: 'survey' },
          { text: 'Its port under the plates, not above them, and not on one runner alone', station: 'fuel' },
          { text: 'The sensor’s values in the tune', station: 'tune' },
        ],
      )
    )
  if (seen.caughtRpm !== null)
    return (
      byBang() ??
      branch('caught-died', 'It catches and dies', `${n0(seen.caughtRpm)} rpm, still after ${seen.diedAfterS!.toFixed(1)} s.`, [
        { text: 'Idle air: valve opens with the key, screw not shut; a little throttle keeps it alive', station: 'start' },
        { text: 'After-start fuel, and what the coolant sensor says of the cold', station: 'tune' },
        { text: 'Fuel pressure as it dies', station: 'fuel' },
      ])
    )
  if (seen.seconds < LEAST_CRANK_S)
    return branch('short', 'Cranked too briefly to tell', `${seen.seconds.toFixed(1)} s; ${LEAST_CRANK_S} s or more are wanted.`, [
      { text: 'Crank again, throttle shut, ten seconds at most', station: 'start' },
    ])
  if ((seen.batteryV !== null && seen.batteryV < LOW_CRANK_V) || (seen.rpm > STILL_RPM && seen.rpm < SLOW_CRANK_RPM))
    return branch(
      'battery',
      'It turns too slowly',
      `${n0(seen.rpm)} rpm${seen.batteryV === null ? '' : `, ${seen.batteryV.toFixed(1)} V at the lowest`}; ${LOW_CRANK_V} V are wanted.`,
      [{ text: 'Battery charged and tested, its posts, the engine’s ground strap', station: 'survey' }],
    )
  if (seen.rpm < STILL_RPM)
    return branch('no-signal', 'No speed while it turns', 'The unit counted nothing, so it neither sparks nor injects.', [
      { text: 'Scope at the sensor while cranking: is there a signal, over its threshold, the right way round?', station: 'spark' },
      { text: 'Sensor plug, its wires from end to end, air gap', station: 'spark' },
    ])
  if (seen.dropouts > 0 || seen.spikes > 0)
    return branch('ragged-signal', 'The speed is ragged', `${seen.dropouts} dropouts, ${seen.spikes} spikes while cranking.`, [
      { text: 'Gap, threshold, shield; nothing beside the plug leads', station: 'spark' },
    ])
  if (seen.pulseMs !== null && seen.pulseMs <= 0)
    return seen.throttlePct !== null && seen.throttlePct >= FLOOD_THROTTLE_PCT
      ? branch('no-pulse', 'No fuel by the unit: it clears a flooded engine', `Throttle at ${n0(seen.throttlePct)} %.`, [
          { text: 'Throttle shut; its zero learned', station: 'start' },
        ])
      : branch('no-pulse', 'The unit commands no fuel', 'Speed is there, the pulse is zero.', [
          { text: 'Cam signal or sync; security or limit in the unit; cranking table', station: 'tune' },
        ])
  if (seen.pressureKpa !== null && seen.pressureKpa < LOW_PRESSURE_SHARE * setKpa)
    return branch('no-pressure', 'Fuel pressure is missing', say`${kPa(seen.pressureKpa)} while cranking, ${kPa(setKpa)} wanted.`, [
      { text: 'Is the pump heard? Relay, fuse, cut-off, volts at the pump', station: 'fuel' },
      { text: 'Fuel in the tank, filter, lines the right way round, regulator', station: 'fuel' },
    ])
  const bang = byBang()
  if (bang) return bang
  if (asked.plugs === 'wet')
    return branch('flooded', 'Wet plugs: too much fuel, or no spark', 'Fuel comes, it does not burn.', [
      { text: 'Clear it: throttle wide open, no fuel; plugs out and dried, oil looked at', station: 'start' },
      { text: 'A spare plug on each lead: is there a spark?', station: 'spark' },
      { text: 'Cranking fuel, and what the coolant sensor says', station: 'tune' },
    ])
  if (asked.plugs === 'dry')
    return branch('no-fuel', 'Dry plugs: no fuel comes in, or far too little', 'Pulse and pressure are there; the fuel is not.', [
      { text: 'Each injector clicks? Its plug, its feed', station: 'fuel' },
      { text: 'Injector flow in the tune against the ones fitted', station: 'tune' },
      { text: 'Coolant sensor: a cold engine that reads hot gets no cranking fuel', station: 'survey' },
    ])
  return branch('ask-plugs', 'Take a plug out and look', 'Speed, pulse and pressure are as they should be.', [
    { text: 'Wet or dry? And was anything heard?', station: 'start' },
  ])
}
