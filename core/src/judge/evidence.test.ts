import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { jointsOf } from '../fuel/joints.ts'
import type { BuildData } from '../kernel/build.ts'
import type { EntryKind, StoredReading } from '../kernel/entry.ts'
import { mergePatch } from '../kernel/patch.ts'
import { wordsOf } from '../kernel/say.ts'
import { startGates } from '../start/gates.ts'
import { contextOf, entryKinds, evaluate } from './judgement.ts'
import { madeReading, soundBuild, soundFuel } from './made-up.fixture.ts'
import { isRehearsed, viewOf } from './views.ts'

type Reading = StoredReading
const hour = (h: number): string => new Date(1.7e12 + h * 3_600_000).toISOString()
/** Entries as the server orders and dates them, an hour apart; each proof with the basis of the car it was taken on. */
function onRecord(build: BuildData, ...entries: Reading[]): BuildData {
  const readings = entries.map((entry, i) => {
    const basis = entryKinds[entry.kind].proof?.basis(build, entry.value as never)
    return {
      ...entry,
      receivedAt: hour(i),
      takenAt: entry.takenAt ?? hour(i),
      who: 'Ada',
      seq: i + 1,
      ...(basis && entry.basis === undefined ? { basis } : {}),
    } as unknown as Reading
  })
  return { ...build, readings }
}
const made = (kind: EntryKind, value: object, more: Partial<Reading> = {}): Reading => {
  const { takenAt: _taken, who: _who, ...rest } = madeReading(kind, value)
  return { ...rest, ...more } as Reading
}
const standing = (build: BuildData, id: string) => contextOf(build).standings.get(id)!
const words = (build: BuildData, id: string): string => wordsOf(standing(build, id).because ?? '')

const prime = () => made('fuel.prime', { cycles: 2, pumpStops: true })
const gauge = (pressureKpa = 300) => made('fuel.pressure', { pressureKpa, engineRunning: false })
const opened = (more: Partial<Reading> = {}) =>
  made('fuel.isolated', { batteryOff: true, pressureRelieved: true, engineCold: true, ventilated: true, extinguisher: true }, more)

/** For every kind that proves: one that passes with what must stand before it, a car on which it no longer counts, and one outside its limits. */
interface Case {
  before?: () => Reading[]
  passes: object
  fails?: object
  /** left out: it rests on no fact or choice */
  other?: object
  weak?: { value: object; because: RegExp }[]
}
const otherPin = { choices: { wiring: { circuits: { pump: { pin: 'B4' } } } } }
const keyed = {
  wire: 'white, at the switch',
  batteryV: 12.6,
  offV: 0,
  onV: 12.5,
  lampV: 12.2,
  accessoryV: 0,
  crankingV: 10,
  batteryCrankingV: 10.3,
}
const otherLever = { choices: { fitup: { linkage: { leverMm: 40 } } } }
const keyShuts = () => made('fitup.brake-key', { keyShuts: true, brakeShuts: true })
const motor = { choices: { plan: { electronicThrottle: true } } }
const cases: Partial<Record<EntryKind, Case>> = {
  'fitup.torqued': {
    passes: { joint: 'throttle', torqueNm: 20, passes: 3, inOrder: true },
    fails: { joint: 'throttle', torqueNm: 20, passes: 2, inOrder: true },
    other: { choices: { fitup: { joints: { throttle: { threadMm: 10 } } } } },
  },
  'fitup.ports': {
    passes: { asMap: true, capped: true, checkValve: true },
    fails: { asMap: true, capped: false },
    other: { choices: { fitup: { vacuum: { joined: { booster: 'rear-large' } } } } },
  },
  'fitup.linkage': {
    passes: { fullDeg: 85, closes: true, springs: 2 },
    fails: { fullDeg: 84, closes: true, springs: 2 },
    other: otherLever,
  },
  'fitup.tip-in': { passes: { jumpPct: 3 }, fails: { jumpPct: 3.1 } },
  'fitup.kick-down': { passes: { fullAtFull: true, noSlack: true }, fails: { fullAtFull: true, noSlack: false }, other: otherLever },
  'fitup.shafts': {
    passes: { shutDeg: 1, fullDeg: 1 },
    fails: { shutDeg: 1.1, fullDeg: 0.5 },
    other: { choices: { fitup: { linkage: { shafts: 2 } } } },
  },
  'fitup.bonnet': { passes: { gapMm: 20 }, fails: { gapMm: 19.5 }, other: { choices: { fitup: { stack: { spacer: { heightMm: 10 } } } } } },
  'fitup.sensor': {
    passes: { upDeg: 10, tight: true, plugged: true },
    fails: { upDeg: 9, tight: true, plugged: true },
    other: { choices: { fitup: { sensor: { fromPortMm: 500 } } } },
  },
  'fitup.coolant-sensor': { passes: { wet: true, engineSide: true }, fails: { wet: false, engineSide: true } },
  'fitup.air-sensor': { passes: { cool: true }, fails: { cool: false } },
  'fitup.box': {
    passes: { box: 'unit', dry: true, plugsDown: true, rubber: true, hottestC: 70 },
    fails: { box: 'unit', dry: true, plugsDown: true, rubber: true, hottestC: 71 },
    other: { choices: { fitup: { boxes: { unit: { plugs: 'up' } } } } },
  },
  'fitup.dry-fit': {
    passes: { gapMm: 0.1, boltsStart: true, railFloatMm: 0.3 },
    fails: { gapMm: 0.11, boltsStart: true, railFloatMm: 0.5 },
    other: { choices: { plan: { route: 'individual-runner' } } },
  },
  'fitup.coolant-bled': { passes: { held: true }, fails: { held: false } },
  'fitup.brake-key': { passes: { keyShuts: true, brakeShuts: true }, fails: { keyShuts: true, brakeShuts: false }, other: motor },
  'fitup.tracks': {
    before: () => [keyShuts()],
    passes: { which: 'pedal', apartPct: 5, noisePct: 0.5, spikesPerMin: 1 },
    fails: { which: 'pedal', apartPct: 5.1, noisePct: 0.2, spikesPerMin: 0 },
    other: motor,
  },
  'fitup.limp': {
    before: () => [keyShuts()],
    passes: { platePct: 15, afterS: 1 },
    fails: { platePct: 16, afterS: 0.5 },
    other: { choices: { fitup: { pedal: { defaultPct: 9 } } } },
  },
  'fitup.last-look': {
    passes: { fuel: true, wires: true, moving: true, cloths: true },
    fails: { fuel: true, wires: true, moving: true, cloths: false },
  },
  'wiring.keyed': {
    passes: keyed,
    fails: { ...keyed, lampV: 9 },
    other: { choices: { wiring: { circuits: { keyed: { from: 'fuses' } } } } },
  },
  'wiring.ground-drop': {
    passes: { which: 'unit', state: 'loads-on', dropV: 0.1 },
    fails: { which: 'unit', state: 'loads-on', dropV: 0.11 },
    other: { choices: { wiring: { unitGround: 'casting' } } },
  },
  'wiring.crank-volts': { passes: { atUnitV: 9.5 }, fails: { atUnitV: 9.4 }, other: otherPin },
  'wiring.parked-draw': { passes: { drawA: 0.05 }, fails: { drawA: 0.06 }, other: otherPin },
  'wiring.insulation': { passes: { leastOhm: 10_000 }, fails: { leastOhm: 9_000 }, other: otherPin },
  'wiring.relay': {
    passes: { circuit: 'pump', clicks: true, dropV: 0.2 },
    fails: { circuit: 'pump', clicks: true, dropV: 0.25 },
    other: otherPin,
  },
  'wiring.fuse': {
    passes: { circuit: 'pump', fittedA: 15, dropV: 0.1 },
    fails: { circuit: 'pump', fittedA: 15, dropV: 0.12 },
    other: otherPin,
  },
  'wiring.connector': {
    passes: { place: 'unit', seated: true, latched: true, tugged: true },
    fails: { place: 'unit', seated: true, latched: true, tugged: false },
    other: {
      choices: {
        wiring: { own: { horn: { name: 'Horn', from: 'fuses', to: 'unit', continuousA: 3, feed: 'battery', why: 'asked for' } } },
      },
    },
  },
  'wiring.splice': {
    passes: { where: 'sensor ground', how: 'sealed-crimp', sleeve: true, pulled: true },
    fails: { where: 'sensor ground', how: 'sealed-crimp', sleeve: true, pulled: false },
  },
  'wiring.spare-lead': {
    passes: { lead: 'pink', how: 'cut-back', insulated: true, labelled: true },
    fails: { lead: 'pink', how: 'cut-back', insulated: false, labelled: true },
  },
  'wiring.bus': { passes: { ohm: 60 }, fails: { ohm: 120 }, other: { choices: { wiring: { bus: { ends: 1 } } } } },
  'wiring.power-on': { before: () => [made('wiring.insulation', { leastOhm: 1e6 })], passes: { earthedLast: true } },
  'fuel.arrows': { passes: { right: true }, fails: { right: false }, other: { choices: { fuel: { feed: [] } } } },
  'fuel.prime': {
    passes: { cycles: 2, pumpStops: true },
    fails: { cycles: 2, pumpStops: false },
    other: { choices: { fuel: { layout: 'returnless' } } },
  },
  'fuel.joint': {
    before: () => [prime()],
    passes: { jointId: jointsOf(soundFuel)[2].id, dry: true },
    fails: { jointId: jointsOf(soundFuel)[2].id, dry: false },
    other: { choices: { fuel: { regulator: { setKpa: 500 } } } },
  },
  'fuel.leak-check': { before: () => [prime()], passes: { dry: true }, fails: { dry: false }, other: { choices: { fuel: { feed: [] } } } },
  'fuel.recheck': { passes: { when: 'hot', dry: true }, fails: { when: 'hot', dry: false }, other: { choices: { fuel: { feed: [] } } } },
  'fuel.proof': {
    passes: { pressureKpa: 361, minutes: 10, held: true },
    fails: { pressureKpa: 361, minutes: 10, held: false },
    other: { choices: { fuel: { regulator: { setKpa: 310 } } } },
    weak: [
      // 1.2 x 300 kPa = 360, for ten minutes
      { value: { pressureKpa: 359, minutes: 10, held: true }, because: /359 kPa; 360 kPa or more/ },
      { value: { pressureKpa: 361, minutes: 9, held: true }, because: /9 min; 10 min or more/ },
      { value: { pressureKpa: 10, minutes: 0, held: true }, because: /10 kPa/ },
    ],
  },
  'fuel.pressure': {
    passes: { pressureKpa: 311, engineRunning: false },
    other: { choices: { fuel: { regulator: { reference: 'manifold' } } } },
    weak: [
      // 4 % of 300 kPa is 12
      { value: { pressureKpa: 313, engineRunning: false }, because: /313 kPa .* within 4 %/ },
      { value: { pressureKpa: 287, engineRunning: false }, because: /287 kPa/ },
      { value: { pressureKpa: 0, engineRunning: false }, because: /of 300 kPa/ },
      { value: { pressureKpa: 850, engineRunning: false }, because: /850 kPa/ },
    ],
  },
  'fuel.delivery': {
    passes: { litres: 1.3, seconds: 30, pressureKpa: 271, voltageV: 13.5, warm: false },
    other: { choices: { fuel: { pumpPlace: 'in-tank' } } },
    // 90 % of 300 kPa
    weak: [{ value: { litres: 1.3, seconds: 30, pressureKpa: 269, voltageV: 13.5, warm: false }, because: /269 kPa; .* 300 kPa/ }],
  },
  'spark.lock-out': { passes: { moves: false }, fails: { moves: true }, other: { choices: { spark: { trigger: 'toothed-wheel' } } } },
  'spark.stroke': {
    passes: { method: 'thumb', inStep: true },
    fails: { method: 'thumb', inStep: false },
    other: { choices: { spark: { trigger: 'toothed-wheel' } } },
  },
  'spark.polarity': {
    passes: { right: true, method: 'lamp' },
    fails: { right: false, method: 'lamp' },
    other: { choices: { spark: { trigger: 'toothed-wheel' } } },
  },
  'spark.fitted': { passes: { referenceDeg: 54 }, other: { choices: { spark: { trigger: 'toothed-wheel' } } } },
  'spark.timing-light': {
    passes: { rpm: 900, observedDeg: 15, commandedDeg: 15, referenceDeg: 54, delayUs: 0 },
    other: { choices: { spark: { trigger: 'toothed-wheel' } } },
  },
  'spark.phase-seen': { passes: { advanceDeg: 10, beforeTerminalDeg: 2 }, other: { choices: { spark: { trigger: 'toothed-wheel' } } } },
  'spark.cam-lamp': { passes: { crankDegBtdc: 120 }, other: { choices: { spark: { camSignal: true } } } },
  'spark.zero-mark': {
    passes: { method: 'piston-stop', beforeDeg: 24, afterDeg: 24 },
    weak: [
      { value: { method: 'piston-stop', offsetDeg: 0 }, because: /only an offset was told/ },
      // a degree is allowed: 1.5 is not, 1 is
      { value: { method: 'piston-stop', beforeDeg: 23, afterDeg: 26, dealt: 're-marked' }, because: /still off by 1\.5°/ },
    ],
  },
  'idle.verdict': {
    passes: { verdict: 'good', meanRpm: 750, rpmStdDev: 12, seconds: 60, tuneId: null },
    fails: { verdict: 'lean', meanRpm: 750, rpmStdDev: 12, seconds: 60, tuneId: null },
    other: { choices: { plan: { injectorCcMin: 600 } } },
  },
  'idle.zero': {
    passes: { closedPct: 0.5 },
    // within half a percent of zero
    weak: [{ value: { closedPct: 0.6 }, because: /reads 0\.6 %; within 0\.5 % of zero/ }],
  },
  'idle.hose': {
    passes: { hose: 'Booster', beforeRpm: 800, afterRpm: 829 },
    // 30 rpm tells a leak
    fails: { hose: 'Booster', beforeRpm: 800, afterRpm: 770 },
    other: { choices: { plan: { route: 'individual-runner' } } },
  },
  'idle.leak-test': {
    passes: { method: 'smoke', tight: true },
    fails: { method: 'smoke', tight: false },
    other: { choices: { plan: { route: 'individual-runner' } } },
  },
  'idle.load': {
    passes: { load: 'gear', dropRpm: 100, backS: 2 },
    other: { choices: { plan: { injectorCcMin: 600 } } },
    weak: [
      { value: { load: 'gear', dropRpm: 101, backS: 1 }, because: /101 rpm; 100 rpm at most/ },
      { value: { load: 'fan', dropRpm: 76, backS: 1 }, because: /76 rpm; 75 rpm at most/ },
      { value: { load: 'fan', dropRpm: 40, backS: 2.1 }, because: /2\.1 s; 2 s at most/ },
    ],
  },
  'idle.battery-off': { passes: { back: true }, fails: { back: false }, other: { choices: { unit: { idleLearns: 'air' } } } },
  'unit.read-back': {
    passes: { tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80001', offS: 10, values: {} },
    other: { choices: { unit: { firmware: '9' } } },
    weak: [{ value: { tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80001', offS: 9, values: {} }, because: /off for 9 s; 10 s or more/ }],
  },
  'unit.export': {
    passes: {
      ...{ tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80001', fileId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80001' },
      ...{ part: 've', offS: 10, compared: 143, different: 0, worst: 'none differs' },
    },
    other: { choices: { plan: { unit: { name: 'another' } } } },
  },
  'unit.saved': {
    passes: { tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80001', offS: 10, stillThere: true, then: 'frozen' },
    fails: { tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80001', offS: 10, stillThere: false, then: 'frozen' },
    other: { choices: { unit: { firmware: '9' } } },
    weak: [
      {
        value: { tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80001', offS: 9, stillThere: true, then: 'frozen' },
        because: /off for 9 s; 10 s or more/,
      },
    ],
  },
  'learn.exhaust': { passes: { tight: true }, fails: { tight: false }, other: { facts: { exhaust: { kind: 'headers' } } } },
  'learn.meter': {
    passes: { unitLambda: 1.04, meterLambda: 1 },
    other: { facts: { exhaust: { bung: 'one-port' } } },
    weak: [
      { value: { unitLambda: 1.05, meterLambda: 1 }, because: /lambda 1.05, the other meter 1.00; within 4 %/ },
      { value: { unitLambda: 0.95, meterLambda: 1 }, because: /within 4 %/ },
    ],
  },
  'learn.result': {
    passes: {
      logId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80001',
      tuneId: null,
      usedSeconds: 900,
      provenTimePct: 96,
      errorRmsPct: 1,
      unsafeCells: 0,
    },
    other: { facts: { exhaust: { bung: 'far-back' } } },
  },
  'spark.order': { passes: { cylinders: [1, 5, 3, 6, 2, 4] }, other: { choices: { spark: { coils: 'paired' } } } },
  'start.sanity': { passes: { passed: true, checks: [] }, fails: { passed: false, checks: [] } },
  'start.dry-crank': {
    passes: { rpm: 200, dropouts: 0, spikes: 0, lightDeg: 10, commandedDeg: 10 },
    other: { choices: { spark: { referenceDeg: 60 } } },
  },
  'start.cylinders': {
    passes: { cool: [], how: 'ports' },
    fails: { cool: [3], how: 'ports' },
    other: { choices: { spark: { trigger: 'toothed-wheel' } } },
  },
  'start.ran': {
    passes: { secondsToFire: 1, idleRpm: 700, coolantC: 80, tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80009' },
    other: { choices: { spark: { trigger: 'toothed-wheel' } } },
  },
}
const proving = (Object.keys(entryKinds) as EntryKind[]).filter((kind) => entryKinds[kind].proof)
const sound = () => soundBuild({ choices: { spark: { coils: 'per-cylinder' } } })
const acts: Partial<Record<string, () => Reading>> = {
  'fuel.isolated': opened,
  'unit.reset': () => made('unit.reset', { what: 'factory' }),
  'spark.moved': () => made('spark.moved', { what: 'distributor', laterDeg: 2 }),
  'spark.fitted': () => made('spark.fitted', { referenceDeg: 54 }),
  'start.plug-opened': () => made('start.plug-opened', {}),
  'wiring.opened': () => made('wiring.opened', { what: 'unit plug' }),
  'fitup.body-off': () => made('fitup.body-off', { what: 'throttle body' }),
  'fitup.hose-off': () => made('fitup.hose-off', { what: 'booster' }),
  'fitup.linkage-off': () => made('fitup.linkage-off', { what: 'cable' }),
  'fitup.exhaust-off': () => made('fitup.exhaust-off', { what: 'front pipe' }),
  'wiring.isolated': () => made('wiring.isolated', { earthedFirst: true }),
  'idle.screw': () => made('idle.screw', { turns: 0.25 }),
  'spark.damper': () => made('spark.damper', { what: 'damper' }),
}

it('every kind that proves something is tried here, and names only kinds there are', () => {
  expect(Object.keys(cases).sort()).toEqual(proving.toSorted())
  for (const kind of proving)
    for (const other of [...(entryKinds[kind].proof!.voidedBy ?? []), ...(entryKinds[kind].proof!.refutedBy ?? [])])
      expect(Object.keys(entryKinds)).toContain(other)
})

describe.each(proving)('%s', (kind) => {
  const { before = () => [], passes, fails, other, weak = [] } = cases[kind]!
  const proof = made(kind, passes)
  const record = (...after: Reading[]) => onRecord(sound(), ...before(), proof, ...after)

  it('stands on the car it was taken on, whatever a client’s clock says', () => {
    expect(words(record(), proof.id)).toBe('')
    expect(standing(record(), proof.id).stands).toBe(true)
  })
  it.skipIf(!other)('falls when the car is another, and says so', () => {
    const build = record()
    const { facts, choices } = soundBuild(other)
    const changed = { ...build, facts, choices }
    expect(standing(changed, proof.id)).toMatchObject({ stands: false, counts: false })
    expect(words(changed, proof.id)).toContain('on what is no longer there')
  })
  it.skipIf(!entryKinds[kind].proof!.voidedBy)('falls by an act that undoes it, recorded after it and not before', () => {
    for (const act of entryKinds[kind].proof!.voidedBy!) {
      expect(words(record(acts[act]!()), proof.id)).toContain(entryKinds[act as EntryKind].title)
      expect(standing(onRecord(sound(), acts[act]!(), ...before(), proof), proof.id).stands).toBe(true)
    }
  })
  it('a proof made offline falls by an act its browser did not know of, unless it was its own and came first', () => {
    const act = entryKinds[kind].proof!.voidedBy?.[0]
    if (!act) return
    const made = (more: object) => onRecord(sound(), ...before().slice(0, 0), acts[act]!(), ...before(), { ...proof, ...more } as Reading)
    expect(standing(made({ seen: 0, client: 'tablet' }), proof.id).stands).toBe(false)
    expect(standing(made({ seen: 1, client: 'tablet' }), proof.id).stands).toBe(true)
  })
  it.skipIf(!fails)('falls by a later failure, and withdrawing the failure does not bring it back', () => {
    const failure = made(kind, fails!)
    expect(standing(record(failure), proof.id)).toMatchObject({ stands: false })
    const withdrawn = made('entry.withdrawn' as EntryKind, { entryId: failure.id, reason: 'typed on the wrong car' })
    const build = record(failure, withdrawn)
    expect(standing(build, failure.id)).toMatchObject({ counts: false, withdrawn: { who: 'Ada', reason: 'typed on the wrong car' } })
    expect(standing(build, proof.id).stands).toBe(false)
    expect(standing(record(failure, withdrawn, ...before(), made(kind, passes)), proof.id).stands).toBe(false)
  })
  it('withdrawn it no longer counts', () => {
    const build = record(made('entry.withdrawn' as EntryKind, { entryId: proof.id, reason: 'wrong joint' }))
    expect(standing(build, proof.id)).toMatchObject({ stands: false, counts: false })
    expect(words(build, proof.id)).toContain('by Ada: wrong joint')
  })
  it('without a basis, from before that was kept, it asks to be looked at again', () => {
    const old = onRecord(sound(), ...before(), { ...proof, basis: null } as Reading)
    // an engine that ran before has run
    if (kind === 'start.ran') expect(standing(old, proof.id).stands).toBe(true)
    else expect(words(old, proof.id)).toContain('recorded before')
  })
  it('a change of the car that took it down stays, also when it is put back', () => {
    const build = record(made('car.changed' as EntryKind, { what: 'boot hose added', paths: ['choices.fuel.feed'], fell: [proof.id] }))
    expect(words(build, proof.id)).toContain('boot hose added')
    expect(standing(record(made('car.changed' as EntryKind, { what: 'x', paths: ['choices.fuel.feed'], fell: [] })), proof.id).stands).toBe(
      true,
    )
  })
  it('the record corrected: it goes on on the car as it really was', () => {
    const { facts, choices } = soundBuild(other)
    const basis = entryKinds[kind].proof!.basis({ facts, choices }, passes as never)
    const corrected = onRecord(
      sound(),
      ...before(),
      proof,
      made('car.corrected' as EntryKind, { what: 'x', rebased: [{ id: proof.id, basis }] }),
    )
    expect(words({ ...corrected, facts, choices }, proof.id)).not.toContain('no longer there')
  })
  it.each(weak)('$value proves nothing: its value is outside the limits, and rules still see it', ({ value, because }) => {
    const one = made(kind, value)
    const build = onRecord(sound(), ...before(), one)
    expect(standing(build, one.id)).toMatchObject({ stands: false, counts: true })
    expect(words(build, one.id)).toMatch(because)
  })
})

describe('a proof names the parts of the car that its basis is read from', () => {
  // a car that tells all of it: what is left out cannot be seen to matter
  const told = sound()
  const full: BuildData = {
    ...told,
    choices: {
      ...told.choices,
      plan: { ...told.choices.plan, fuelPressureKpa: 290, electronicThrottle: false, unit: { name: 'box' } },
      unit: { firmware: '1', idleLearns: 'valve' },
      fitup: {
        joints: { throttle: { threadMm: 8 } },
        vacuum: { joined: { booster: 'rear-large' } },
        linkage: { leverMm: 26, shafts: 1 },
        stack: { body: { heightMm: 80 } },
        sensor: { fromPortMm: 500 },
        boxes: { unit: { dry: true } },
        pedal: { defaultPct: 7 },
      },
      wiring: { unitGround: 'own-wire', bus: { ends: 2 }, circuits: { keyed: { from: 'fuses' }, pump: { pin: 'B4' } } },
      spark: {
        ...told.choices.spark,
        sensor: 'hall',
        camSignal: false,
        coilDrive: 'built-in',
        wheel: { teeth: 36, missing: 1 },
      },
    },
  }
  const leaves = (value: unknown, path: string): string[] =>
    value !== null && typeof value === 'object' && !Array.isArray(value)
      ? Object.entries(value).flatMap(([key, inner]) => leaves(inner, `${path}.${key}`))
      : [path]
  const without = (path: string): BuildData => {
    const keys = path.split('.')
    const patch = keys.reduceRight<unknown>((inner, key) => ({ [key]: inner }), null)
    return mergePatch(full, patch) as BuildData
  }
  const paths = [...leaves(full.facts, 'facts'), ...leaves(full.choices, 'choices')]
  it.each(proving)('%s', (kind) => {
    const { basis, parts } = entryKinds[kind].proof!
    const { passes } = cases[kind]!
    const of = (b: BuildData) => JSON.stringify(basis(b, passes as never))
    const moved = paths.filter((path) => of(without(path)) !== of(full))
    for (const path of moved)
      expect(
        parts.some((part) => path.startsWith(part) || part.startsWith(path)),
        path,
      ).toBe(true)
    expect(moved.length > 0).toBe(parts.length > 0)
  })
})

describe('silence is not safe', () => {
  const fuelState = (build: BuildData) => evaluate(build).stations.find((s) => s.id === 'fuel')!
  const proved = (patch: object) =>
    onRecord(soundBuild(patch), made('fuel.arrows', { right: true }), prime(), gauge(), made('fuel.leak-check', { dry: true }))
  const safety = (field: string, value: boolean | null) => ({ choices: { fuel: { safety: { [field]: value } } } })
  it.each([
    ['pump-relay', safety('relay', null), safety('relay', true)],
    ['ports-plugged', safety('portsPlugged', null), safety('portsPlugged', true)],
    ['stall-cut-off', safety('stallCutOff', null), safety('stallCutOff', true)],
    ['mechanical-pump-out', safety('mechanicalPumpRemoved', null), safety('mechanicalPumpRemoved', true)],
    ['tank-vented', { facts: { fuel: { tankVented: null } } }, { facts: { fuel: { tankVented: true } } }],
    ['mechanical-pump', { facts: { fuel: { mechanicalPump: null } } }, { facts: { fuel: { mechanicalPump: false } } }],
  ])('%s unanswered keeps Fuel and the key’s prime shut; answered it clears', (id, silent, answered) => {
    const open = proved(silent)
    expect([
      fuelState(open).state,
      fuelState(open)
        .requirements.filter((r) => !r.met)
        .map((r) => r.id),
    ]).toEqual(['ready', [id]])
    const gates = startGates(contextOf(open), [])
    expect(gates.prime.find((g) => g.id === 'answered')).toMatchObject({ met: false })
    expect(fuelState(proved(answered)).state).toBe('cleared')
  })
  it('nobody is asked for the removal of a pump that was never there', () =>
    expect(fuelState(proved({ facts: { fuel: { mechanicalPump: false } }, ...safety('mechanicalPumpRemoved', null) })).state).toBe(
      'cleared',
    ))
  it('a figure of one’s own moves the number and does not silence the stop, which says so', () => {
    const stop = (injector: object) =>
      evaluate(soundBuild({ choices: { plan: { injectorCcMin: 100, overrides: { injector } } } }))
        .stations.find((s) => s.id === 'plan')!
        .findings.find((f) => f.id === 'plan.injector-capacity')
    expect(stop({ value: 10, reason: 'abc' })!.because).toContain('Overridden to 10 cc/min: “abc”')
    expect(stop({ value: 900, reason: 'to grow' })!.because).toContain('wants 900 cc/min')
  })
  it('a joint looked at counts within a tenth of the set pressure', () => {
    const looked = (kpa: number) => {
      const look = made('fuel.leak-check', { dry: true })
      return words(onRecord(sound(), gauge(kpa), look), look.id)
    }
    expect([looked(271), looked(329)]).toEqual(['', ''])
    expect(looked(269)).toContain('269 kPa of 300 kPa')
    expect(looked(331)).toContain('331 kPa of 300 kPa')
  })
})

describe('order and time', () => {
  const fuelState = (build: BuildData) => evaluate(build).stations.find((s) => s.id === 'fuel')!
  const all = () => [made('fuel.arrows', { right: true }), prime(), gauge(), made('fuel.leak-check', { dry: true })]
  it('a wet joint wins over a dry check whose clock is ahead, and a dry one after it settles it', () => {
    const ahead = made('fuel.leak-check', { dry: true }, { takenAt: hour(50) })
    const wet = made('fuel.joint', { jointId: jointsOf(soundFuel)[0].id, dry: false })
    expect(fuelState(onRecord(sound(), ...all().slice(0, 3), ahead, wet)).state).toBe('blocked')
    expect(fuelState(onRecord(sound(), ...all().slice(0, 3), wet, ahead)).state).toBe('cleared')
  })
  it('a note that names a wet entry replaces nothing', () => {
    const wet = made('fuel.leak-check', { dry: false })
    expect(fuelState(onRecord(sound(), ...all(), wet, made('note', { text: 'was nothing' }, { supersedes: wet.id }))).state).toBe('blocked')
  })
  it('a check stated as done yesterday falls by what was done since', () => {
    const yesterday = made('fuel.leak-check', { dry: true }, { takenAt: hour(-30) })
    const open = onRecord(sound(), opened(), ...all().slice(0, 3), yesterday)
    expect(fuelState(open).state).toBe('ready')
    expect(fuelState(open).requirements.find((r) => r.id === 'leaks')).toMatchObject({
      met: false,
      void: expect.stringContaining('Before a line is opened'),
    })
  })
  it('what was wet, mended and seen dry does not come back when that dry check falls', () => {
    const wet = made('fuel.leak-check', { dry: false, where: 'body' })
    const build = onRecord(sound(), ...all().slice(0, 3), wet, made('fuel.leak-check', { dry: true }), opened())
    expect(fuelState(build).findings.map((f) => f.id)).not.toContain('fuel.leak')
    expect(fuelState(build).requirements.find((r) => r.id === 'leaks')).toMatchObject({ met: false })
    // a dry look with nothing in the rail has settled nothing
    expect(fuelState(onRecord(sound(), wet, made('fuel.leak-check', { dry: true }))).state).toBe('blocked')
  })
  it('a prime that was withdrawn has pressed nothing', () => {
    const [pressed, look] = [prime(), made('fuel.leak-check', { dry: true })]
    const taken = made('entry.withdrawn' as EntryKind, { entryId: pressed.id, reason: 'the pump was unplugged' })
    expect(words(onRecord(sound(), pressed, look, taken), look.id)).toContain('nothing had pressed the rail')
  })
  it('without a set pressure no gauge and no proof test proves anything', () => {
    const unset = soundBuild({ choices: { plan: { fuelPressureKpa: null }, fuel: { regulator: { setKpa: null } } } })
    const test = made('fuel.proof', { pressureKpa: 10, minutes: 10, held: true })
    const read = gauge()
    expect([words(onRecord(unset, test), test.id), words(onRecord(unset, read), read.id)]).toEqual([
      'no set pressure is planned to compare it with',
      'no set pressure is planned to compare it with',
    ])
  })
  it('the station says which proof fell and why', () => {
    const build = onRecord(sound(), ...all(), opened())
    const { requirements } = fuelState(build)
    expect(requirements.filter((r) => r.void).map((r) => r.id)).toEqual(['prime', 'pressure', 'leaks'])
  })
  it('client clocks in any order within a few hours give the same judgement', () => {
    const entries = [
      ...all(),
      opened(),
      prime(),
      gauge(),
      made('fuel.joint', { jointId: jointsOf(soundFuel)[0].id, dry: false }),
      made('fuel.leak-check', { dry: true }),
    ]
    const judged = (hours: number[]) => {
      const build = onRecord(sound(), ...entries.map((e, i) => ({ ...e, takenAt: hour(i + hours[i]) }) as Reading))
      return JSON.stringify(evaluate(build).stations.map((s) => [s.state, s.requirements.map((r) => r.met)]))
    }
    const right = judged(entries.map(() => 0))
    fc.assert(fc.property(fc.array(fc.integer({ min: -11, max: 0 }), { minLength: 9, maxLength: 9 }), (hours) => judged(hours) === right))
  })
})

describe('the car and the rehearsal', () => {
  const state = (build: BuildData, id: string) => evaluate(build).stations.find((s) => s.id === id)!.state
  const all = (more: Partial<Reading> = {}) =>
    [made('fuel.arrows', { right: true }), prime(), gauge(), made('fuel.leak-check', { dry: true })].map(
      (r) => ({ ...r, ...more }) as Reading,
    )
  it('what the bench showed clears the rehearsal and never the car', () => {
    for (const more of [{ source: 'bench' as const }, { instrument: 'bench: gauge' }]) {
      const build = onRecord(sound(), ...all(more))
      expect(state(viewOf(build, 'car'), 'fuel')).toBe('ready')
      expect(state(viewOf(build, 'rehearsal'), 'fuel')).toBe('cleared')
    }
    expect(state(viewOf(onRecord(sound(), ...all()), 'car'), 'fuel')).toBe('cleared')
  })
  it('practising takes no proof from the car', () => {
    const build = onRecord(
      sound(),
      ...all(),
      opened({ source: 'bench' }),
      made('fuel.joint', { jointId: jointsOf(soundFuel)[0].id, dry: false }, { source: 'bench' }),
    )
    expect(state(viewOf(build, 'car'), 'fuel')).toBe('cleared')
    expect(state(viewOf(build, 'rehearsal'), 'fuel')).toBe('blocked')
  })
  it('a verdict from a bench log is the rehearsal’s, from a drive the car’s', () => {
    const logId = '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80009'
    const solved = made('learn.result', { logId, tuneId: null, usedSeconds: 40, provenTimePct: 100, errorRmsPct: 1, unsafeCells: 0 })
    const log = (source: 'bench' | 'import') => ({ logs: [{ id: logId, name: 'x', rows: 9, durationS: 9, source, createdAt: hour(0) }] })
    expect([isRehearsed(solved, { ...log('bench'), readings: [] }), isRehearsed(solved, { ...log('import'), readings: [] })]).toEqual([
      true,
      false,
    ])
  })
})
