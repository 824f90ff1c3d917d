import { fuels } from '../injection/index.ts'
import { type Context, CoreError } from '../kernel/index.ts'
import { TuneDocument } from '../tune/index.ts'
import { answerMetric, compareAnswers, setByQuestions } from '../unit/index.ts'

/** What was typed on the unit's display: a number in the metric unit of its question, or the id of an option. */
export type TypedAnswers = Readonly<Record<string, number | string>>

/** Answers that the unit of a build told after its last key-off, in metric; null: it is set by tables, or it told none yet. */
export function answersTold(c: Context): TypedAnswers | null {
  if (!setByQuestions(c)) return null
  const told = compareAnswers(c).flatMap(({ answer, told: t }) =>
    t ? [[answer.id, typeof t.value === 'number' ? answerMetric(answer, t.value, t.unit) : t.value] as const] : [],
  )
  return told.length ? Object.fromEntries(told) : null
}

/** What its maker put in for each cam that it can be told. */
const CAMS = {
  stock: { peakPct: 82, idleShare: 0.6, loopFloorRpm: 0 },
  mild: { peakPct: 84, idleShare: 0.55, loopFloorRpm: 0 },
  hot: { peakPct: 88, idleShare: 0.47, loopFloorRpm: 1200 },
  wild: { peakPct: 93, idleShare: 0.4, loopFloorRpm: 2200 },
} as const
const RPM_SHARES = [0.1, 0.16, 0.22, 0.3, 0.38, 0.46, 0.56, 0.66, 0.78, 0.9, 1]
const MAP_KPA = [20, 30, 40, 50, 60, 70, 80, 90, 102]
const BAROMETER_KPA = 101.3
const FULL_KPA = 85
/** speed of the best filling, as a share of the limit, and how much of it is gone at the ends */
const BEST_AT = 0.55
const FALLS_BY = 0.3

/**
 * The base that a unit makes inside itself from what was answered on its display: its maker's own rough shape, not this program's. What it gets
 * wrong it must learn.
 * @throws CoreError NOT_ALLOWED naming the answer it cannot do without
 */
export function tuneOfAnswers(typed: TypedAnswers): TuneDocument {
  const number = (id: string, usual?: number): number => {
    const value = typed[id]
    if (typeof value === 'number' && value >= 0) return value
    if (usual === undefined)
      throw new CoreError('NOT_ALLOWED', 'unit', `it asks for “${id.replaceAll('-', ' ')}” and does not go on without`)
    return usual
  }
  const angle = (id: string, usual: number): number => (typeof typed[id] === 'number' ? typed[id] : usual)
  const [cylinders, displacementCc, injectors, flow] = [
    number('cylinders'),
    number('displacement'),
    number('injectors'),
    number('injector-flow'),
  ]
  const cam = CAMS[typed.cam as keyof typeof CAMS] ?? CAMS.stock
  const fuel = fuels[typed.fuel as keyof typeof fuels] ?? fuels.petrol
  const limitRpm = number('rev-limit', 5000)
  const rpm = RPM_SHARES.map((share) => Math.round((share * (limitRpm + 200)) / 50) * 50)
  const fill = (value: (rpm: number, mapKpa: number) => number) => MAP_KPA.flatMap((map) => rpm.map((r) => value(r, map)))
  const load = (map: number) => Math.min(1, Math.max(0, (map - 30) / (BAROMETER_KPA - 30)))
  const [idleHot, idleCold] = [number('idle-hot', 800), number('idle-cold', 1150)]
  const [lambdaIdle, lambdaCruise, lambdaFull] = [number('target-idle', 1), number('target-cruise', 1), number('target-power', 0.86)]
  const [idleDeg, cruiseDeg, fullDeg] = [angle('advance-idle', 15), angle('advance-cruise', 36), angle('advance-full', 30)]
  const rich = (map: number) => Math.min(1, Math.max(0, (map - 75) / (FULL_KPA - 75)))
  const near = (r: number) => Math.min(1, Math.max(0, (1.6 * idleHot - r) / (0.4 * idleHot)))
  const closedLoop = typed['closed-loop'] !== 'off'
  const fanOnC = number('fan-on', 92)
  return TuneDocument.parse({
    schema: 'vectum-tune/1',
    axes: { rpm, mapKpa: MAP_KPA },
    tables: {
      ve: fill(
        (r, map) =>
          cam.peakPct * (1 - FALLS_BY * ((r / limitRpm - BEST_AT) / BEST_AT) ** 2) * (cam.idleShare + (1 - cam.idleShare) * load(map)),
      ),
      lambdaTarget: fill((r, map) => {
        const part = lambdaCruise + (lambdaIdle - lambdaCruise) * near(r)
        return part + (lambdaFull - part) * rich(map)
      }),
      spark: fill((r, map) => {
        const speed = Math.min(1, Math.max(0, (r - idleHot) / (0.5 * limitRpm - idleHot)))
        const top = cruiseDeg + (fullDeg - cruiseDeg) * load(map)
        return Math.max(-20, idleDeg + (top - idleDeg) * speed)
      }),
    },
    parameters: {
      displacementCc,
      cylinders,
      injectors,
      injectorCcMin: flow,
      fuelPressureKpa: number('fuel-pressure', 300),
      injectionsPerCycle: typed.route === 'throttle-body' ? Math.max(1, Math.round(cylinders / injectors)) : 1,
      fuelDensityKgL: fuel.densityKgL,
      stoichAfr: fuel.stoichAfr,
      deadTimeMs: [8, 10, 12, 14, 16].map((v) => [v, number('dead-time', 0.9) * Math.exp((-0.12 / 0.9) * (v - 14))]),
      chargeHeatShare: 0.25,
      barometerKpa: BAROMETER_KPA,
      crankingPct: [
        [-10, number('cranking-fuel-cold', 350)],
        [20, number('cranking-fuel', 220)],
        [80, 130],
      ],
      crankingDecayFirings: 200,
      warmupPct: [
        [-10, 1.8 * number('warm-up', 25)],
        [20, number('warm-up', 25)],
        [50, 0.3 * number('warm-up', 25)],
        [70, 0],
      ],
      afterStartPct: [
        [-10, 1.3 * number('after-start', 26)],
        [20, number('after-start', 26)],
        [80, 0.45 * number('after-start', 26)],
      ],
      afterStartS: 20,
      primeMs: 6,
      accelPctPer100: number('acceleration', 20),
      accelColdFactor: 2,
      accelDecayS: 0.3,
      cutAboveRpm: number('fuel-cut', 1800),
      cutReturnRpm: number('fuel-back', 1400),
      idleTargetRpm: [
        [0, idleCold],
        [65, idleHot],
      ],
      idleValvePct: [
        [-10, 45],
        [20, 36],
        [80, 18],
      ],
      crankingAdvanceDeg: angle('advance-cranking', 10),
      loopMinCoolantC: number('loop-from', 70),
      loopDelayS: 30,
      loopAuthorityPct: closedLoop ? number('loop-authority', 20) : 0,
      loopMaxMapKpa: FULL_KPA,
      loopFloorRpm: cam.loopFloorRpm,
      revLimitRpm: limitRpm,
      fanOnC,
      fanOffC: Math.min(fanOnC - 1, number('fan-off', 87)),
      primeS: number('prime-time', 3),
      floodClearPct: 90,
      idleInGearRpm: angle('idle-gear', 0),
      tachPulsesPerRev: number('tach-output', cylinders / 2),
      learnAuthorityPct: typed.learning === 'on' ? number('learn-limit', 20) : 0,
      overboostKpa: number('boost-limit', 400),
    },
    provenance: { ve: 'made inside the unit from what was answered' },
  })
}
