import Papa from 'papaparse'
import { type BuildData, type EntryKind, type Said, type StoredReading, tuneInCar, wordsOf } from '../kernel/index.ts'
import type { LogData } from '../logfile/index.ts'
import { type TableName, tableNames, tableToCsv, type TuneDocument } from '../tune/index.ts'
import { compareAnswers, type Compared, temporaryAnswers, unreleased } from '../unit/index.ts'
import { contextOf, evaluate } from './judgement.ts'

interface PacketInput {
  build: BuildData
  tune: TuneDocument | null
  log: (Pick<LogData, 'timeS' | 'channels'> & { name: string }) | null
  withOwner: boolean
  symptom: string
  question: string
  /** what the logbook says of an entry */
  words: (kind: EntryKind, value: unknown) => Said
}
export interface PacketMember {
  name: string
  text: string
}
const csv = (rows: (string | number | null)[][]): string => Papa.unparse(rows, { newline: '\n' }) + '\n'
const LOG_DECIMALS = 4

/** Facts without whose car it is. */
function withoutOwner(facts: BuildData['facts']): BuildData['facts'] {
  if (!facts.car) return facts
  const { owner: _, ...car } = facts.car
  return { ...facts, car }
}
const answerRow = ({ answer, told, state }: Compared): (string | number | null)[] => [
  answer.words,
  answer.value,
  answer.unit,
  answer.from || (answer.missing ?? ''),
  told?.value ?? null,
  state,
]
const logCsv = ({ timeS, channels }: NonNullable<PacketInput['log']>): string => {
  const names = Object.keys(channels) as (keyof typeof channels)[]
  const rows = Array.from(timeS, (t, i) => [
    Number(t.toFixed(3)),
    ...names.map((n) => (Number.isFinite(channels[n]![i]) ? Number(channels[n]![i].toPrecision(LOG_DECIMALS + 2)) : null)),
  ])
  return csv([['timeS', ...names], ...rows])
}
/** Moments that somebody marked while driving: rising edges of the marker, each with where the engine was. */
function marksOf(log: PacketInput['log']): (string | number | null)[][] {
  const { marker, rpm, mapKpa, throttlePct, lambda, coolantC } = log?.channels ?? {}
  if (!log || !marker) return []
  const at = (values: Float32Array | undefined, i: number) =>
    values && Number.isFinite(values[i]) ? Number(values[i].toPrecision(LOG_DECIMALS)) : null
  return Array.from(marker, (v, i) => ({ v, i }))
    .filter(({ v, i }) => v >= 0.5 && !(marker[i - 1] >= 0.5))
    .map(({ i }) => [Number(log.timeS[i].toFixed(2)), ...[rpm, mapKpa, throttlePct, lambda, coolantC].map((c) => at(c, i))])
}
/** A person's name never leaves unasked: entries say what was done, not by whom. */
const readingRow = (r: StoredReading, words: PacketInput['words']): (string | number | null)[] => [
  r.takenAt,
  r.kind,
  wordsOf(words(r.kind, r.value)),
  r.instrument ?? '',
]

/**
 * What a tuner, a maker's line or a dyno needs to help without seeing the car (handbook 10): set-up, unit with firmware, symptom, what was tested
 * with results, settings, log with its marks, and what is asked.
 * @returns files of the packet, the sheet first
 */
export function helpPacket({ build, tune, log, withOwner, symptom, question, words }: PacketInput): PacketMember[] {
  const c = contextOf(build)
  const answers = compareAnswers(c)
  const { stations } = evaluate(build)
  const inCar = tuneInCar(build)
  const open = stations.flatMap((s) => s.findings.filter((f) => f.severity !== 'note').map((f) => `${s.title}: ${f.message}. ${f.because}`))
  const facts = withOwner ? build.facts : withoutOwner(build.facts)
  const { firmware, learns, setBy } = build.choices.unit ?? {}
  const marks = marksOf(log)
  const sheet = [
    `# Help wanted: ${withOwner ? build.title : 'a conversion'}`,
    '',
    `Asked: ${question || 'see the symptom'}`,
    `Symptom: ${symptom || 'none told'}`,
    '',
    `Unit: ${build.choices.plan?.unit?.name ?? 'name not told'}, firmware ${firmware ?? 'not told'}, set by ${setBy ?? 'not told'}, learning: ${learns ?? 'not told'}`,
    `Tune in the car: ${inCar ? `version ${inCar.number}, ${inCar.name}` : 'none'}`,
    ...unreleased(c).map(
      ({ value: { what, value } }) => `For the time being: ${temporaryAnswers[what].label}${value === undefined ? '' : ` at ${value}`}`,
    ),
    `Log: ${log ? `${log.name}, ${log.timeS.length} rows; ${marks.length ? `${marks.length} ${marks.length === 1 ? 'mark' : 'marks'}, see marks.csv` : 'it has no marks'}` : 'none'}`,
    '',
    '## Open findings',
    ...(open.length ? open.map((f) => `- ${f}`) : ['- none']),
    '',
    'Numbers are metric. What is inside: setup.json, answers.csv, tested.csv, the tune and its tables, the log.',
    'Nothing here goes before the maker’s sheet of a part, local code, or a licensed trade.',
    '',
  ].join('\n')
  const setup = {
    facts,
    choices: { plan: build.choices.plan, fuel: build.choices.fuel, spark: build.choices.spark, unit: build.choices.unit },
  }
  return [
    { name: 'sheet.md', text: sheet },
    { name: 'setup.json', text: JSON.stringify(setup, null, 1) },
    { name: 'answers.csv', text: csv([['question', 'answer', 'unit', 'from', 'told by the unit', 'state'], ...answers.map(answerRow)]) },
    { name: 'tested.csv', text: csv([['when', 'kind', 'what', 'with'], ...c.readings.map((r) => readingRow(r, words))]) },
    ...(tune ? [{ name: 'tune.json', text: JSON.stringify(tune, null, 1) }] : []),
    ...(tune ? tableNames.map((name: TableName) => ({ name: `tables/${name}.csv`, text: tableToCsv(tune, name) })) : []),
    ...(log ? [{ name: 'log.csv', text: logCsv(log) }] : []),
    ...(marks.length
      ? [{ name: 'marks.csv', text: csv([['timeS', 'rpm', 'mapKpa', 'throttlePct', 'lambda', 'coolantC'], ...marks]) }]
      : []),
  ]
}
