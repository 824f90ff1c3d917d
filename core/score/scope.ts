import { Random } from '../src/kernel/random.ts'
import { judgeTrain, type TrainVerdict } from '../src/spark/scope/judge.ts'
import { type DrawnTrain, drawTrain } from '../src/spark/scope/signals.fixture.ts'
import { shareOf } from './interval.ts'

/** A kind of target and sensor; what is not fixed here is drawn anew in each trial. */
interface Shape {
  name: string
  sensor: DrawnTrain['sensor']
  wheels: readonly (readonly [places: number, missing: number, crankTurns: number])[]
  width: readonly [number, number]
  widthTold?: boolean
  /** whether nothing in the signal can tell its polarity */
  blind?: boolean
}
const distributors = [
  [4, 0, 2],
  [6, 0, 2],
  [8, 0, 2],
] as const
const gapWheels = [
  [12, 1, 1],
  [24, 1, 1],
  [36, 1, 1],
  [36, 2, 1],
  [60, 2, 1],
] as const
export const shapes: Shape[] = [
  { name: 'pick-up in a distributor, sharp lobes', sensor: 'magnetic', wheels: distributors, width: [0.02, 0.06] },
  { name: 'pick-up in a distributor, a wave', sensor: 'magnetic', wheels: distributors, width: [0.22, 0.3], blind: true },
  { name: 'wheel with a gap, narrow teeth', sensor: 'magnetic', wheels: gapWheels, width: [0.1, 0.18] },
  { name: 'wheel with a gap, a wave', sensor: 'magnetic', wheels: gapWheels, width: [0.18, 0.28] },
  { name: 'vanes narrower than their windows', sensor: 'square', wheels: distributors, width: [0.1, 0.33] },
  { name: 'vanes wider than their windows, width told', sensor: 'square', wheels: distributors, width: [0.58, 0.75], widthTold: true },
  { name: 'vanes about half of the way, width not told', sensor: 'square', wheels: distributors, width: [0.42, 0.58], blind: true },
]
const faults = ['none', 'reversed', 'one gone', 'one more', 'wheel told wrong'] as const
type Fault = (typeof faults)[number]
const speeds = ['steady', 'cranking', 'flare'] as const

const between = (rng: Random, low: number, high: number): number => low + (high - low) * rng.next()
const oneOf = <T>(rng: Random, list: readonly T[]): T => list[Math.min(list.length - 1, Math.floor(rng.next() * list.length))]

interface Trial {
  drawn: DrawnTrain
  verdict: TrainVerdict
}
function trialOf(shape: Shape, fault: Fault, seed: number): Trial {
  const rng = new Random(seed)
  const [places, missing, crankTurns] = oneOf(rng, shape.wheels)
  const speed = oneOf(rng, speeds)
  const steadyRpm = between(rng, 500, 6000)
  const crankingRpm = between(rng, 120, 250)
  const swing = between(rng, 0.05, 0.15)
  const flareTo = between(rng, 900, 1400)
  const rpmAt = {
    steady: () => steadyRpm,
    cranking: (t: number) => crankingRpm * (1 + swing * Math.sin((2 * Math.PI * 3 * crankingRpm * t) / 60)),
    flare: (t: number) => crankingRpm + (flareTo - crankingRpm) * Math.min(1, Math.max(0, (t - 0.5) / 0.6)),
  }[speed]
  // six turns of the crank or more, so that a wheel shows its gap several times
  const seconds = speed === 'steady' ? 480 / steadyRpm : speed === 'cranking' ? 480 / crankingRpm : 1.6
  const drawn: DrawnTrain = {
    places,
    missing,
    crankTurns,
    sensor: shape.sensor,
    width: between(rng, shape.width[0], shape.width[1]),
    rpmAt,
    seconds,
    samples: 60_000,
    startPlace: between(rng, 0, places),
    noiseShare: between(rng, 0.001, shape.sensor === 'square' ? 0.02 : 0.006),
    jitterDeg: between(rng, 0, 0.1),
    seed,
  }
  if (fault === 'reversed') drawn.reversed = true
  // anywhere in the record but its ends; a place in the gap has nothing to lose
  const turned = Array.from({ length: 400 }, (_, k) => (rpmAt(((k + 0.5) * seconds) / 400) * seconds) / 400 / 60).reduce((x, y) => x + y, 0)
  const passed = (turned * places) / crankTurns
  let place = Math.floor(drawn.startPlace! + between(rng, 0.15, 0.85) * passed)
  while (place % places >= places - missing - 1) place--
  if (fault === 'one gone') drawn.gone = [place]
  if (fault === 'one more') drawn.more = [place + between(rng, 0.42, 0.58)]
  const told =
    fault === 'wheel told wrong'
      ? oneOf(
          rng,
          gapWheels.filter(([p, m]) => p !== places || m !== missing),
        )
      : ([places, missing] as const)
  const widthShare = shape.widthTold ? { widthShare: drawn.width } : {}
  const verdict = judgeTrain(drawTrain(drawn).trace, { places: told[0], missing: told[1], crankTurns, ...widthShare })
  return { drawn, verdict }
}

export interface ScopeScore {
  name: string
  trials: number
  sound: number
  polarityRight: number
  polarityWrong: number
  polarityUnsure: number
  goneFound: number
  /** a missing one over which nothing at all was said */
  goneSilent: number
  moreFound: number
  moreSilent: number
  wheelNamed: number | null
}
export function scoreScope(shape: Shape, trials: number, firstSeed: number): ScopeScore {
  const score: ScopeScore = {
    name: shape.name,
    trials,
    sound: 0,
    polarityRight: 0,
    polarityWrong: 0,
    polarityUnsure: 0,
    goneFound: 0,
    goneSilent: 0,
    moreFound: 0,
    moreSilent: 0,
    wheelNamed: shape.wheels === gapWheels ? 0 : null,
  }
  const differs = (v: TrainVerdict, d: DrawnTrain) =>
    v.counted !== null && (v.counted.places !== d.places || v.counted.missing !== d.missing)
  for (let seed = firstSeed; seed < firstSeed + trials; seed++)
    for (const fault of faults) {
      if (fault === 'wheel told wrong' && score.wheelNamed === null) continue
      const { drawn, verdict: v } = trialOf(shape, fault, seed)
      // a square output is low at its target as drawn, and is timed by the edge at which the target leaves
      const falls = (shape.sensor === 'magnetic') === (fault !== 'reversed')
      if (fault === 'none' || fault === 'reversed') {
        if (v.unsure !== null) score.polarityUnsure++
        else if ((v.slope === 'falling') === falls) score.polarityRight++
        else score.polarityWrong++
      }
      if (fault === 'none' && v.missing.length === 0 && v.extra.length === 0 && !differs(v, drawn)) score.sound++
      if (fault === 'one gone' && v.missing.length === 1 && v.extra.length === 0) score.goneFound++
      if (fault === 'one gone' && v.missing.length + v.extra.length === 0) score.goneSilent++
      if (fault === 'one more' && v.missing.length + v.extra.length === 0) score.moreSilent++
      if (fault === 'one more' && v.extra.length === 1 && v.missing.length === 0) score.moreFound++
      if (fault === 'wheel told wrong' && v.counted?.places === drawn.places && v.counted.missing === drawn.missing) score.wheelNamed!++
    }
  return score
}

/** The table of docs/spark.md. */
export function scopeTable(trials: number, firstSeed: number): string {
  const row = (s: ScopeScore) =>
    `| ${[s.name, shareOf(s.sound, s.trials), shareOf(s.polarityRight, 2 * s.trials), shareOf(s.polarityWrong, 2 * s.trials), `${((50 * s.polarityUnsure) / s.trials).toFixed(1)} %`, shareOf(s.goneFound, s.trials), shareOf(s.goneSilent, s.trials), shareOf(s.moreFound, s.trials), shareOf(s.moreSilent, s.trials), s.wheelNamed === null ? '' : shareOf(s.wheelNamed, s.trials)].join(' | ')} |`
  return [
    '### What a scope shows',
    '',
    `${trials} trials each, seeds from ${firstSeed}, drawn from the geometry of wheel, star or vanes by Faraday's law and by none of the bench's signals: steady at 500 to 6,000 rpm, cranking with its compressions, or a start that flares; wheel, width, phase, noise and scatter drawn anew.`,
    '',
    '| targets | sound called sound | polarity told right | told wrong | said not to be told | one missing: just that | nothing said of it | one too many: just that | nothing said of it | wheel told wrong: named |',
    '| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |',
    ...shapes.map((shape) => row(scoreScope(shape, trials, firstSeed))),
  ].join('\n')
}
