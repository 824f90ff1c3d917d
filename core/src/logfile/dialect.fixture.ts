import { Random } from '../kernel/random.ts'

/** A drive as a logger would see it, in the channels' own units: made of plain sums, so that no bench is wanted here. */
export function drivenColumns(random: Random, rows = 900) {
  const column = () => new Array<number>(rows).fill(0)
  const c = {
    timeS: column(),
    rpm: column(),
    mapKpa: column(),
    throttlePct: column(),
    lambda: column(),
    lambdaTarget: column(),
    coolantC: column(),
    intakeAirC: column(),
    batteryV: column(),
    correctionPct: column(),
    pulseMs: column(),
    advanceDegBtdc: column(),
    speedKmh: column(),
  }
  let [rpm, load, trim] = [900, 0.1, 0]
  for (let i = 0; i < rows; i++) {
    if (i % 40 === 0) {
      load = random.next() < 0.25 ? 0.02 : 0.1 + 0.9 * random.next()
      rpm = load < 0.05 && random.next() < 0.5 ? 850 + 80 * random.next() : 1300 + 2400 * random.next()
    }
    trim = Math.max(-14, Math.min(14, trim + 1.2 * random.normal() - 0.05 * trim))
    const t = i * 0.1
    c.timeS[i] = t
    c.rpm[i] = rpm + 7 * random.normal()
    c.mapKpa[i] = 30 + 66 * load ** 0.7 + 0.4 * random.normal()
    c.throttlePct[i] = load < 0.05 ? 0 : 4 + 80 * load
    c.lambdaTarget[i] = load > 0.8 ? 0.88 : 1
    c.lambda[i] = c.lambdaTarget[i] * (1 + 0.01 * random.normal())
    c.coolantC[i] = Math.min(88, 24 + t * 1.6) + 0.2 * random.normal()
    c.intakeAirC[i] = 22 + 7 * Math.min(1, t / 60) + 0.2 * random.normal()
    c.batteryV[i] = 13.9 + 0.05 * random.normal()
    c.correctionPct[i] = t < 20 ? 0 : trim
    c.pulseMs[i] = 0.9 + 0.075 * c.mapKpa[i] * (1 + trim / 100)
    c.advanceDegBtdc[i] = 12 + 18 * Math.min(1, c.rpm[i] / 3000)
    c.speedKmh[i] = load < 0.05 ? 0 : c.rpm[i] / 40
  }
  return c
}
export type DrivenColumns = ReturnType<typeof drivenColumns>
type Id = keyof DrivenColumns

/** What each is called in eight languages and in short. */
const words: Record<Id, readonly string[]> = {
  timeS: ['Time', 'Zeit', 'Temps', 'Tiempo', 'Tempo', 'Tijd', 'Tid', 'Tempo'],
  rpm: ['Engine speed', 'Drehzahl', 'Régime', 'Revoluciones', 'Giri motore', 'Toerental', 'Varvtal', 'Rotação', 'RPM'],
  mapKpa: [
    'MAP',
    'Saugrohrdruck',
    'Pression admission',
    'Presión admisión',
    'Pressione aspirazione',
    'Inlaatdruk',
    'Insugstryck',
    'Pressão admissão',
  ],
  throttlePct: ['Throttle', 'Drosselklappe', 'Papillon', 'Mariposa', 'Farfalla', 'Gasklep', 'Trottel', 'Borboleta', 'TPS'],
  lambda: ['Lambda', 'Lambda', 'Lambda', 'Lambda', 'Lambda', 'Lambda', 'Lambda', 'Lambda', 'AFR'],
  lambdaTarget: [
    'Lambda target',
    'Lambda Soll',
    'Lambda cible',
    'Lambda objetivo',
    'Lambda obiettivo',
    'Lambda doel',
    'Lambda börvärde',
    'Lambda alvo',
    'Target AFR',
  ],
  coolantC: [
    'Coolant',
    'Kühlmittel',
    'Température eau',
    'Temperatura agua',
    'Temperatura acqua',
    'Koelwater',
    'Kylvatten',
    'Arrefecimento',
    'CLT',
  ],
  intakeAirC: [
    'Intake air',
    'Ansaugluft',
    'Température air',
    'Aire admisión',
    'Aria aspirata',
    'Inlaatlucht',
    'Insugsluft',
    'Temperatura do ar',
    'IAT',
  ],
  batteryV: ['Battery', 'Bordnetz', 'Tension batterie', 'Batería', 'Batteria', 'Accu', 'Batteri', 'Bateria', 'Bat'],
  correctionPct: [
    'Closed loop',
    'Regelung',
    'Correction lambda',
    'Corrección',
    'Correzione',
    'Correctie',
    'Korrigering',
    'Correção',
    'Trim',
  ],
  pulseMs: [
    'Pulse width',
    'Einspritzzeit',
    'Temps injection',
    'Tiempo inyección',
    'Tempo iniezione',
    'Inspuittijd',
    'Insprutningstid',
    'Tempo de injeção',
    'PW',
  ],
  advanceDegBtdc: ['Spark', 'Zündwinkel', 'Avance', 'Avance encendido', 'Anticipo', 'Ontsteking', 'Tändning', 'Avanço', 'Adv'],
  speedKmh: ['Road speed', 'Geschwindigkeit', 'Vitesse', 'Velocidad', 'Velocità', 'Snelheid', 'Hastighet', 'Velocidade', 'VSS'],
}
const BAROMETER_KPA = 97.2
/** Units as a logger writes them, with what it writes of the channel's own number; a name of its own where the unit wants one. */
const ways: Record<Id, readonly { unit: string; of: (v: number) => number; name?: string; digits: number }[]> = {
  timeS: [
    { unit: 's', of: (v) => v, digits: 3 },
    { unit: 'ms', of: (v) => 1000 * v, digits: 0 },
  ],
  rpm: [
    { unit: 'rpm', of: (v) => v, digits: 0 },
    { unit: '1/min', of: (v) => v, digits: 0 },
  ],
  mapKpa: [
    { unit: 'kPa', of: (v) => v, digits: 1 },
    { unit: 'mbar', of: (v) => 10 * v, digits: 0 },
    { unit: 'psi', of: (v) => v / 6.894757, digits: 2 },
    { unit: 'inHg', of: (v) => (BAROMETER_KPA - v) / 3.386389, name: 'Vacuum', digits: 1 },
    { unit: 'kPa', of: (v) => v - BAROMETER_KPA, name: 'Manifold gauge', digits: 1 },
    { unit: 'mmHg', of: (v) => v / 0.1333224, digits: 0 },
  ],
  throttlePct: [{ unit: '%', of: (v) => v, digits: 1 }],
  lambda: [
    { unit: 'lambda', of: (v) => v, digits: 3 },
    { unit: 'AFR', of: (v) => 14.7 * v, name: 'AFR', digits: 2 },
  ],
  lambdaTarget: [
    { unit: 'lambda', of: (v) => v, digits: 3 },
    { unit: 'AFR', of: (v) => 14.7 * v, name: 'AFR target', digits: 2 },
  ],
  coolantC: [
    { unit: '°C', of: (v) => v, digits: 1 },
    { unit: 'degF', of: (v) => 1.8 * v + 32, digits: 0 },
  ],
  intakeAirC: [
    { unit: '°C', of: (v) => v, digits: 1 },
    { unit: 'degF', of: (v) => 1.8 * v + 32, digits: 0 },
  ],
  batteryV: [{ unit: 'V', of: (v) => v, digits: 2 }],
  correctionPct: [
    { unit: '%', of: (v) => v, digits: 1 },
    { unit: 'ratio', of: (v) => 1 + v / 100, digits: 3 },
    { unit: '%', of: (v) => 100 + v, digits: 1 },
  ],
  pulseMs: [
    { unit: 'ms', of: (v) => v, digits: 2 },
    { unit: 'us', of: (v) => 1000 * v, digits: 0 },
  ],
  advanceDegBtdc: [{ unit: 'deg', of: (v) => v, digits: 1 }],
  speedKmh: [
    { unit: 'km/h', of: (v) => v, digits: 1 },
    { unit: 'mph', of: (v) => v / 1.609344, digits: 1 },
  ],
}
const OPTIONAL: readonly Id[] = [
  'throttlePct',
  'intakeAirC',
  'batteryV',
  'pulseMs',
  'advanceDegBtdc',
  'speedKmh',
  'lambdaTarget',
  'correctionPct',
]
const clockOf = (t: number, style: number): string => {
  const whole = 13 * 3600 + 50 * 60 + t
  const [h, m, s] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60]
  const two = (v: number) => String(v).padStart(2, '0')
  const seconds = s.toFixed(1).padStart(4, '0')
  return style === 0
    ? `${two(h)}:${two(m)}:${seconds}`
    : style === 1
      ? `${h % 12 || 12}:${two(m)}:${seconds} ${h < 12 ? 'AM' : 'PM'}`
      : `27.11.2026 ${two(h)}:${two(m)}:${seconds}`
}

/** One log in a dialect drawn from a seed: columns, names, units, where they stand, marks, clock, gaps, preamble. */
export function writtenLog(seed: number, unitsWritten: boolean) {
  const random = new Random(seed)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random.next() * list.length)]
  const driven = drivenColumns(random)
  const ids = (Object.keys(driven) as Id[]).filter((id) => !OPTIONAL.includes(id) || random.next() < 0.8)
  const order = [ids[0], ...ids.slice(1).sort(() => random.next() - 0.5)]
  const language = Math.floor(random.next() * 9)
  const delimiter = pick([',', ';', '\t', '|', ' '])
  const comma = delimiter !== ',' && random.next() < 0.4
  const clock = random.next() < 0.25 && delimiter !== ' '
  const clockStyle = Math.floor(random.next() * 3)
  const place = unitsWritten ? pick(['behind', 'bracket', 'row', 'tail'] as const) : 'nowhere'
  const columns = order.map((id) => {
    const way = pick(unitsWritten ? ways[id] : ways[id].slice(0, 1))
    const name = way.name ?? words[id][language] ?? words[id][0]
    return { id, way, name: delimiter === ' ' ? name.replaceAll(' ', '_') : name }
  })
  const unit = (c: (typeof columns)[number]) =>
    c.id === 'timeS' && clock ? 'hh:mm:ss' : delimiter === ' ' ? c.way.unit.replaceAll(' ', '') : c.way.unit
  const header = columns.map((c) =>
    place === 'behind'
      ? `${c.name} (${unit(c)})`
      : place === 'bracket'
        ? `${c.name} [${unit(c)}]`
        : place === 'tail' && !(c.id === 'timeS' && clock)
          ? `${c.name}_${unit(c)}`
          : c.name,
  )
  const apart = delimiter === ' ' ? '   ' : delimiter
  const cell = (id: Id, i: number, way: (typeof columns)[number]['way']): string => {
    if (id === 'timeS' && clock) return clockOf(driven.timeS[i], clockStyle)
    if (id !== 'timeS' && random.next() < 0.002) return delimiter === ' ' ? '-' : ''
    const text = way.of(driven[id][i]).toFixed(way.digits)
    return comma ? text.replace('.', ',') : text
  }
  const counted = columns.some((c) => c.way.name === 'Vacuum' || c.way.name === 'Manifold gauge')
  const lines = [
    ...(counted || random.next() < 0.3 ? ['Log of a made-up car', `Barometer: ${(10 * BAROMETER_KPA).toFixed(0)} mbar`] : []),
    header.join(apart),
    ...(place === 'row' ? [columns.map(unit).join(apart)] : []),
    ...driven.timeS.map((_, i) => columns.map((c) => cell(c.id, i, c.way)).join(apart)),
  ]
  return { text: `${lines.join(random.next() < 0.5 ? '\n' : '\r\n')}\n`, driven, ids, columns, delimiter, clock, place }
}
