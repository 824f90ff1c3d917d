import { z } from 'zod'
import { type BuildData, CoreError, Random, seedOf } from '../kernel/index.ts'
import type { TuneDocument } from '../tune/index.ts'
import { tuneOfAnswers, type TypedAnswers } from './answered.ts'
import { carInstrumentIds, connectCarInstrument } from './car-instruments.ts'
import { benchCarFor } from './car.ts'
import type { Heard } from './crank.ts'
import { outfitBench } from './drive.ts'
import { Bench, type BenchFrame } from './rig.ts'

/** What hands can do at the bench car. Gates are not its business: who lets a command through has judged it. */
export const DeskCommand = z.discriminatedUnion('command', [
  z.strictObject({ command: z.literal('key'), on: z.boolean() }),
  z.strictObject({ command: z.literal('pump'), allowed: z.boolean() }),
  z.strictObject({ command: z.literal('crank'), on: z.boolean(), fuel: z.boolean().optional() }),
  z.strictObject({ command: z.literal('throttle'), pct: z.number().min(0).max(100) }),
  z.strictObject({ command: z.literal('sweep') }),
  z.strictObject({ command: z.literal('fix-timing'), advanceDeg: z.number().min(-10).max(40).nullable() }),
  z.strictObject({ command: z.literal('light'), flashes: z.int().min(1).max(20).optional() }),
  z.strictObject({ command: z.literal('plugs') }),
  z.strictObject({ command: z.literal('gear'), inGear: z.boolean() }),
  z.strictObject({ command: z.literal('load'), brakeNm: z.number().min(0).max(600) }),
  z.strictObject({ command: z.literal('nitrous'), armed: z.boolean() }),
  z.strictObject({ command: z.literal('valve'), blocked: z.boolean() }),
  z.strictObject({ command: z.literal('screw'), turns: z.number().min(-4).max(4) }),
  z.strictObject({ command: z.literal('learn-zero') }),
  z.strictObject({ command: z.literal('click'), injector: z.int().min(1).max(24) }),
  z.strictObject({ command: z.literal('listen') }),
  z.strictObject({ command: z.literal('sample') }),
  z.strictObject({ command: z.literal('learned') }),
  z.strictObject({ command: z.literal('instrument'), instrument: z.enum(carInstrumentIds) }),
])
export type DeskCommand = z.infer<typeof DeskCommand>

export const DESK_FRAME_S = 0.03
const SWEEP_S = 1.8
const FIRED_RPM = 400
const STILL_RPM = 20
const FACTORY_LIMIT_RPM = 9900
const STARTER_OUT_RPM = 300
/** what it holds after a key-off is what it held, within this, % */
const SAME_LEARNED_PCT = 1

/** Said to whoever pressed the button, as it stands. */
const refuse = (why: string): CoreError => Object.assign(new CoreError('NOT_ALLOWED', 'bench'), { message: why })

/** What the desk shows besides the stream: things hands have set. */
export interface DeskState {
  keyOn: boolean
  pumpAllowed: boolean
  starter: boolean
}

/** The bench car with hands on it: steps in frames, obeys commands, tells what is heard. Pure: no clock, no thread. */
export class BenchDesk {
  readonly bench: Bench
  private readonly noise: Random
  /** what the unit keeps with the key off */
  private stored: TuneDocument
  /** answers on its display: those it works with, and those it keeps; null: it was never asked */
  private answers: { working: TypedAnswers | null; kept: TypedAnswers | null } = { working: null, kept: null }
  private keyOff: { atS: number; learned: readonly number[] } | null = null
  private lastOffS = 0
  private sweepFromS: number | null = null
  private readonly told: Record<Heard, number> = { inlet: 0, exhaust: 0, kick: 0, knock: 0 }

  /**
   * @param answers what a unit that is set by questions was told before, in metric; null: it works on the tune
   * @param learned what it had learned, on its own cells, %
   * @throws CoreError FACT_MISSING when the survey is too thin for a bench car
   */
  constructor(build: BuildData, tune: TuneDocument, answers: TypedAnswers | null = null, learned?: readonly number[]) {
    this.stored = answers ? tuneOfAnswers(answers) : tune
    this.answers = { working: answers, kept: answers }
    this.bench = new Bench(benchCarFor(build.facts, build.choices, seedOf(build.id)), this.stored)
    this.noise = new Random(seedOf(build.id) ^ 0xde5c)
    this.bench.pumpInhibited = true
    this.outfit(build)
    if (learned) this.bench.unit.recallLearned(learned)
  }

  outfit(build: BuildData): void {
    outfitBench(this.bench, build)
  }
  get state(): DeskState {
    return { keyOn: this.bench.keyOn, pumpAllowed: !this.bench.pumpInhibited, starter: this.bench.starter }
  }

  /** One frame further; null while the unit has no supply and sends nothing. */
  frame(): BenchFrame | null {
    const { bench } = this
    if (this.sweepFromS !== null) {
      const t = (bench.timeS - this.sweepFromS) / SWEEP_S
      // a foot that pushes a little past the stop
      bench.throttlePct = t >= 1 ? 0 : Math.min(100, 106 * (1 - Math.abs(2 * t - 1)))
      if (t >= 1) this.sweepFromS = null
    }
    bench.run(DESK_FRAME_S)
    if (bench.starter && bench.rpm > FIRED_RPM) bench.starter = false
    return bench.linkUp ? bench.frame() : null
  }

  /** The tune into the unit's working memory: it runs on it until the key goes off. */
  sendTune(tune: TuneDocument): void {
    this.bench.unit.tune = tune
  }
  /** Burns what the unit works on; one that forgets says it did, and comes back as it left its maker. */
  storeTune(): void {
    const { tune } = this.bench.unit
    this.stored = this.bench.condition.storesTunes
      ? tune
      : { ...this.stored, parameters: { ...this.stored.parameters, revLimitRpm: FACTORY_LIMIT_RPM } }
  }
  /** Answers on the unit's display: it makes its own base from them and runs on it until the key goes off. */
  enterAnswers(typed: TypedAnswers): void {
    const answers = { ...this.answers.working, ...typed }
    this.bench.unit.tune = tuneOfAnswers(answers)
    this.answers.working = answers
  }
  /** Keeps what was answered; a unit that forgets comes back with its maker's limit. */
  storeAnswers(): void {
    const { working } = this.answers
    if (!working) throw refuse('Nothing was answered on its display yet.')
    const kept = this.bench.condition.storesTunes ? working : { ...working, 'rev-limit': FACTORY_LIMIT_RPM }
    this.answers.kept = kept
    this.stored = tuneOfAnswers(kept)
  }
  /** What its display shows now, and for how long the key was off before. */
  readAnswers(): { typed: TypedAnswers; offS: number } {
    return { typed: this.answers.working ?? {}, offS: this.lastOffS }
  }
  /** Its learned table, and whether it is still what it was as the key went off; null: the key was not off. */
  readLearned(): {
    rpm: readonly number[]
    mapKpa: readonly number[]
    learnedPct: readonly number[]
    offS: number
    stillThere: boolean | null
  } {
    const { rpm, mapKpa, pct } = this.bench.unit.learned
    const then = this.keyOff?.learned
    const stillThere = then ? pct.every((v, i) => Math.abs(v - then[i]) < SAME_LEARNED_PCT) : null
    return { rpm, mapKpa, learnedPct: [...pct], offS: this.lastOffS, stillThere }
  }
  readTune(): TuneDocument {
    return this.bench.unit.tune
  }

  /** What was heard since it was asked last, each kind once. */
  heard(): Heard[] {
    const kinds = Object.keys(this.told) as Heard[]
    const fresh = kinds.filter((what) => this.bench.heard[what] > this.told[what])
    for (const what of fresh) this.told[what] = this.bench.heard[what]
    return fresh
  }

  /** Nobody is left to hold the starter. */
  letGo(): void {
    this.bench.starter = false
  }

  cutOff(): void {
    const { bench } = this
    if (bench.keyOn) this.keyOff = { atS: bench.timeS, learned: [...bench.unit.learned.pct] }
    bench.starter = false
    bench.unit.injectorsOn = true
    bench.keyOn = false
    this.answers.working = this.answers.kept
    bench.pumpInhibited = true
    bench.throttlePct = 0
    bench.loadNm = 0
    bench.inGear = false
    bench.nitrousArmed = false
    bench.unit.fixedAdvanceDeg = null
    bench.unit.tune = this.stored
    this.sweepFromS = null
  }

  /** @throws CoreError NOT_ALLOWED when the car is not in a state for it, in words */
  obey(command: DeskCommand): unknown {
    const { bench } = this
    switch (command.command) {
      case 'key':
        if (!command.on) this.cutOff()
        else if (!bench.keyOn) {
          this.lastOffS = this.keyOff ? bench.timeS - this.keyOff.atS : 0
          bench.keyOn = true
        }
        return
      case 'pump':
        if (command.allowed && !bench.keyOn) throw refuse('Key on first: the unit runs the pump.')
        bench.pumpInhibited = !command.allowed
        if (command.allowed) bench.unit.primeAgain()
        return
      case 'crank':
        return this.crank(command)
      case 'throttle':
        this.sweepFromS = null
        bench.throttlePct = command.pct
        return
      case 'sweep':
        this.keyOnAndStill('Sweep the throttle with the key on and the engine still.')
        this.sweepFromS = bench.timeS
        return
      case 'fix-timing':
        bench.unit.fixedAdvanceDeg = command.advanceDeg
        return
      case 'light':
        return this.light(command.flashes ?? 1)
      case 'plugs':
        if (bench.rpm > STILL_RPM) throw refuse('Take plugs out of an engine that stands still.')
        return { plugs: bench.plugs() }
      case 'gear':
        if (!bench.car.automatic) throw refuse('Only an automatic idles in a gear.')
        bench.inGear = command.inGear
        bench.turbineRpm = 0
        return
      case 'load':
        bench.loadNm = command.brakeNm
        return
      case 'nitrous':
        if (command.armed && !bench.car.nitrous) throw refuse('There is no nitrous on this car.')
        bench.nitrousArmed = command.armed
        return
      case 'valve':
        bench.valveBlocked = command.blocked
        return
      case 'screw':
        bench.screwTurns = Math.min(4, Math.max(-4, bench.screwTurns + command.turns))
        return { turns: bench.screwTurns }
      case 'learn-zero':
        if (!bench.keyOn) throw refuse('The key must be on to learn the zero.')
        bench.learnZero()
        return
      case 'click':
        this.keyOnAndStill('Key on and engine still: the unit opens one injector at a time.')
        return { injector: command.injector, clicks: bench.clicks(command.injector) }
      case 'listen':
        this.keyOnAndStill('Listen at the idle valve with the key on and the engine still.')
        return { moves: bench.condition.idleValveMoves }
      case 'sample':
        if (bench.rpm > STILL_RPM) throw refuse('Take a sample with the engine still and the pressure off.')
        return { glass: bench.condition.waterShare > 0 ? 'water' : 'fuel' }
      case 'learned':
        if (!bench.keyOn) throw refuse('The key must be on to read what it has learned.')
        return this.readLearned()
      case 'instrument':
        return connectCarInstrument(bench, command.instrument, this.noise)
    }
  }

  private keyOnAndStill(why: string): void {
    if (!this.bench.keyOn || this.bench.rpm > STILL_RPM) throw refuse(why)
  }
  private crank({ on, fuel }: Extract<DeskCommand, { command: 'crank' }>): void {
    const { bench } = this
    if (!on) {
      // injectors unplugged stay so while it spins down
      bench.starter = false
      return
    }
    if (!bench.keyOn) throw refuse('The key is off.')
    if (bench.rpm > STARTER_OUT_RPM) throw refuse('The engine runs already.')
    if (bench.inGear) throw refuse('The lever is in a gear.')
    bench.unit.injectorsOn = fuel ?? true
    if (bench.unit.injectorsOn && bench.pumpInhibited) throw refuse('The pump fuse is out: prime first.')
    bench.starter = true
  }

  /** What the light shows over a number of flashes: while cranking the mark dances, and only the mean tells. */
  private light(flashes: number): ReturnType<Bench['timingLight']> {
    const seen = Array.from({ length: flashes }, () => this.bench.timingLight())
    return { ...seen[0], observedDeg: Math.round((seen.reduce((sum, s) => sum + s.observedDeg, 0) / flashes) * 10) / 10 }
  }
}
