import { randomUUID } from 'node:crypto'
import { deflateSync, inflateSync, strFromU8, strToU8 } from 'fflate'
import { type DataSource, type EntityManager, In } from 'typeorm'
import {
  type Choices,
  type EntryKind,
  evidenceOfChange,
  type Facts,
  isUnreadable,
  readChoices,
  readEntry,
  readFacts,
  type SizeId,
  STORED_VERSION,
  type LogMapping,
} from '@vectum/core'
import {
  changesBetween,
  changeSays,
  checkTune,
  madeFrom,
  tuneDifferences,
  tuneFigures,
  evaluate,
  mergePatch,
  pathWords,
  wordsOf,
  type BuildData,
  type Evaluation,
  type LogSummary,
  type StoredReading,
  TuneDocument,
  type TuneSummary,
  tuneInCar,
  type View,
  viewOf,
} from '@vectum/core'
import {
  BuildEntity,
  LogbookEntity,
  LogEntity,
  ReadingEntity,
  TuneEntity,
  type BuildRow,
  type LogRow,
  type ReadingRow,
  type TuneRow,
} from '../db/entities.ts'
import { Problem } from '../http/problem.ts'

export interface Build extends BuildData {
  version: number
  createdAt: string
  updatedAt: string
}

export const readingOf = (row: ReadingRow): StoredReading =>
  ({
    id: row.id,
    kind: row.kind,
    value: JSON.parse(row.value),
    instrument: row.instrument,
    who: row.who,
    takenAt: row.takenAt.toISOString(),
    conditions: row.conditions,
    supersedes: row.supersedes,
    seq: Number(row.buildSeq),
    source: row.source,
    receivedAt: row.receivedAt.toISOString(),
    seen: row.seen,
    client: row.client,
    clientSeq: row.clientSeq,
    basis: row.basis === null ? null : JSON.parse(row.basis),
    from: row.workedFrom === null ? null : JSON.parse(row.workedFrom),
  }) as StoredReading
export const tuneSummaryOf = (row: Omit<TuneRow, 'document'>): TuneSummary & { logId: string | null; createdBy: string } => ({
  id: row.id,
  number: row.number,
  name: row.name,
  status: row.status as TuneSummary['status'],
  origin: row.origin as TuneSummary['origin'],
  parentId: row.parentId,
  logId: row.logId,
  createdBy: row.createdBy,
  createdAt: row.createdAt.toISOString(),
  inCarSince: row.inCarSince?.toISOString() ?? null,
  problems: JSON.parse(row.problems),
})
const logSummaryOf = (row: LogRow): LogSummary => ({
  id: row.id,
  name: row.name,
  rows: row.rows,
  durationS: row.durationS,
  source: row.source as LogSummary['source'],
  createdAt: row.createdAt.toISOString(),
  topRpm: row.topRpm,
  topMapKpa: row.topMapKpa,
  tuneId: row.tuneId,
  ...((JSON.parse(row.mapping) as LogMapping).loopOpen ? { loopOpen: true } : {}),
})

const packTune = (document: TuneDocument): Buffer => Buffer.from(deflateSync(strToU8(JSON.stringify(document))))
/** Read through the schema: a tune stored before a parameter was there gets its usual value. */
export const unpackTune = (data: Uint8Array): TuneDocument => TuneDocument.parse(JSON.parse(strFromU8(inflateSync(data))))

const tuneColumns = {
  id: true,
  buildId: true,
  number: true,
  name: true,
  status: true,
  origin: true,
  parentId: true,
  logId: true,
  problems: true,
  createdBy: true,
  createdAt: true,
  inCarSince: true,
} as const

function assemble(row: BuildRow, readings: ReadingRow[], tunes: TuneRow[], logs: LogRow[]): Build {
  const facts = readFacts(row.schemaVersion, JSON.parse(row.facts))
  const choices = readChoices(row.schemaVersion, JSON.parse(row.choices))
  const entries = readings.map((r) => readEntry(r.schemaVersion, readingOf(r)))
  const unreadable = [...facts.unreadable, ...choices.unreadable, ...entries.filter(isUnreadable)]
  return {
    id: row.id,
    title: row.title,
    version: row.version,
    facts: facts.value,
    choices: choices.value,
    createdAt: row.createdAt.toISOString(),
    updatedAt: row.updatedAt.toISOString(),
    readings: entries.filter((e): e is StoredReading => !isUnreadable(e)),
    tunes: tunes.map(tuneSummaryOf),
    logs: logs.map(logSummaryOf),
    ...(unreadable.length ? { unreadable } : {}),
  }
}

/** A person's own figure in the place of a computed one carries whose it is, and since when: set here, never by a client. */
function signed<T extends { choices: Choices }>(current: Build, who: string, next: T): T {
  const { plan } = next.choices
  if (!plan?.overrides) return next
  const said = (o: { value: number; reason: string } | undefined) => o && JSON.stringify([o.value, o.reason])
  const overrides = Object.fromEntries(
    Object.entries(plan.overrides).map(([id, own]) => {
      const before = current.choices.plan?.overrides?.[id as SizeId]
      return [id, said(before) === said(own) ? before! : { value: own.value, reason: own.reason, who, at: new Date().toISOString() }]
    }),
  )
  return { ...next, choices: { ...next.choices, plan: { ...plan, overrides } } }
}

const KEEP_BUILDS = 500

/** Builds as judgement needs them. Every write goes through here with its line in the logbook, in one transaction. */
export class BuildStore {
  constructor(readonly db: DataSource) {}

  /** Builds as last read, each good for one revision; a rise of the revision by any server makes it stale. */
  private readonly kept = new Map<string, { revision: number; build: Build }>()

  async all(): Promise<Build[]> {
    const rows: { id: string; revision: number }[] = await this.db.query('SELECT id, revision FROM build ORDER BY created_at, id')
    return Promise.all(rows.map(({ id, revision }) => this.atRevision(id, revision)))
  }

  /** @throws Problem NOT_FOUND */
  async get(id: string): Promise<Build> {
    const rows: { revision: number }[] = await this.db.query('SELECT revision FROM build WHERE id = ?', [id])
    if (rows.length === 0) throw new Problem(404, 'NOT_FOUND', 'There is no build with this id')
    return this.atRevision(id, rows[0].revision)
  }

  private async atRevision(id: string, revision: number): Promise<Build> {
    const known = this.kept.get(id)
    if (known?.revision === revision) return known.build
    const { manager } = this.db
    // one snapshot, so that a build is never put together from two moments
    const [row, readings, tunes, logs] = await manager.transaction(
      'REPEATABLE READ',
      async (one) =>
        [
          await one.getRepository(BuildEntity).findOneByOrFail({ id }),
          await one.getRepository(ReadingEntity).find({ where: { buildId: id }, order: { buildSeq: 'ASC' } }),
          await one.getRepository(TuneEntity).find({ select: tuneColumns, where: { buildId: id }, order: { number: 'ASC' } }),
          await one.getRepository(LogEntity).find({ where: { buildId: id }, order: { createdAt: 'ASC' } }),
        ] as const,
    )
    const build = assemble(row, readings as ReadingRow[], tunes as TuneRow[], logs as LogRow[])
    await this.judgeTunes(build)
    this.kept.delete(id)
    this.kept.set(id, { revision: row.revision, build })
    if (this.kept.size > KEEP_BUILDS) this.kept.delete(this.kept.keys().next().value!)
    return build
  }

  /** What each tune's checks say of the car as it is now; good until facts or choices change. */
  private readonly checked = new Map<string, { version: number } & Pick<TuneSummary, 'problems' | 'figures'>>()
  private async judgeTunes(build: Build): Promise<void> {
    const stale = build.tunes.filter((t) => this.checked.get(t.id)?.version !== build.version)
    if (stale.length) {
      const rows = await this.db
        .getRepository(TuneEntity)
        .find({ select: { id: true, document: true }, where: { id: In(stale.map((t) => t.id)) } })
      for (const { id, document } of rows) {
        const tune = unpackTune(document)
        this.checked.set(id, { version: build.version, problems: checkTune(tune, build), figures: tuneFigures(tune, build) })
      }
    }
    await this.compareTunes(build.tunes)
    for (const tune of build.tunes) {
      const known = this.checked.get(tune.id)
      if (known) Object.assign(tune, { problems: known.problems, figures: known.figures })
      const changed = this.changed.get(tune.id)
      if (changed) tune.changed = changed
    }
  }

  /** What each version changed of the one it was made of: neither of them ever changes. */
  private readonly changed = new Map<string, readonly string[]>()
  private async compareTunes(tunes: readonly TuneSummary[]): Promise<void> {
    const pairs = tunes.flatMap((t) => {
      const of = madeFrom(tunes, t)
      return of && !this.changed.has(t.id) ? [[t.id, of.id] as const] : []
    })
    if (!pairs.length) return
    const rows = await this.db.getRepository(TuneEntity).find({ select: { id: true, document: true }, where: { id: In(pairs.flat()) } })
    const documents = new Map(rows.map((row) => [row.id, unpackTune(row.document)]))
    for (const [id, of] of pairs) {
      const [made, from] = [documents.get(id), documents.get(of)]
      if (made && from)
        this.changed.set(
          id,
          tuneDifferences(from, made).map((d) => d.id),
        )
    }
  }

  async create(input: { id?: string; title: string; facts?: Facts; choices?: Choices }, who: string): Promise<Build> {
    const now = new Date()
    const id = input.id ?? randomUUID()
    await this.db.transaction(async (manager) => {
      if (await manager.getRepository(BuildEntity).existsBy({ id })) throw new Problem(409, 'ALREADY_EXISTS', 'A build with this id exists')
      await manager.getRepository(BuildEntity).insert({
        id,
        title: input.title,
        version: 1,
        schemaVersion: STORED_VERSION,
        revision: 1,
        facts: JSON.stringify(input.facts ?? {}),
        choices: JSON.stringify(input.choices ?? {}),
        createdAt: now,
        updatedAt: now,
      })
      await this.note(manager, id, who, 'build', `Build opened: ${input.title}`, { facts: input.facts ?? {} })
    })
    return this.get(id)
  }

  /**
   * Merge patch under a version: saved whole or not at all.
   * @throws Problem CHANGED_UNDERNEATH with the current build when the version is not the one given
   */
  async patch(
    id: string,
    version: number,
    patch: { title?: string; facts?: unknown; choices?: unknown },
    who: string,
    change: 'car' | 'record',
    parse: (merged: { facts: unknown; choices: unknown }) => { facts: Facts; choices: Choices },
  ): Promise<Build> {
    const current = await this.get(id)
    const conflict = async () => {
      const now = await this.get(id)
      return new Problem(412, 'CHANGED_UNDERNEATH', `You changed version ${version}; the build is at version ${now.version} now.`, {
        current: withEvaluation(now),
      })
    }
    if (current.version !== version) throw await conflict()
    const { facts, choices } = signed(
      current,
      who,
      parse({
        facts: mergePatch(current.facts, patch.facts ?? {}),
        choices: mergePatch(current.choices, patch.choices ?? {}),
      }),
    )
    const changes = [...changesBetween(current.facts, facts), ...changesBetween(current.choices, choices)]
    const title = patch.title ?? current.title
    if (title !== current.title) changes.push({ path: 'title', from: current.title, to: title })
    if (changes.length === 0) return current
    await this.db.transaction(async (manager) => {
      // what could not be read leaves the document with this write; the logbook keeps it as it was
      if (current.unreadable) {
        const { facts, choices } = await manager.getRepository(BuildEntity).findOneByOrFail({ id })
        await this.note(manager, id, who, 'facts', 'Kept as it was stored: what could not be read', { facts, choices })
      }
      const done = await manager
        .createQueryBuilder()
        .update(BuildEntity)
        .set({
          title,
          version: version + 1,
          schemaVersion: STORED_VERSION,
          facts: JSON.stringify(facts),
          choices: JSON.stringify(choices),
          updatedAt: new Date(),
        })
        .where('id = :id AND version = :version', { id, version })
        .execute()
      if (done.affected !== 1) throw await conflict()
      const summary =
        changes.length === 1
          ? wordsOf(changeSays(changes[0]))
          : `${changes.length} facts changed: ${changes.map((c) => pathWords(c.path)).join(', ')}`
      await this.note(manager, id, who, 'facts', summary, { changes })
      const entry = evidenceOfChange(
        current,
        { ...current, facts, choices },
        [...changesBetween(current.facts, facts, 'facts'), ...changesBetween(current.choices, choices, 'choices')].map((c) => c.path),
        `${[...new Set(changes.map((c) => pathWords(c.path)))].join(', ')} changed`,
        change,
      )
      if (entry) await this.append(manager, id, who, entry)
    })
    return this.get(id)
  }

  /** Puts a tune into the bench's unit: the rehearsal's choice, which leaves the car's tune where it is. */
  async rehearseTune(id: string, tuneId: string, who: string): Promise<void> {
    await this.db.transaction(async (manager) => {
      const builds = manager.getRepository(BuildEntity)
      const row = await builds.findOneOrFail({ where: { id }, lock: { mode: 'pessimistic_write' } })
      const choices = JSON.parse(row.choices) as Choices
      const rehearsal = { ...choices.rehearsal, tuneId, tuneSince: new Date().toISOString() }
      await builds.update({ id }, { version: row.version + 1, choices: JSON.stringify({ ...choices, rehearsal }), updatedAt: new Date() })
      const { number } = await manager.getRepository(TuneEntity).findOneOrFail({ select: { number: true }, where: { id: tuneId } })
      await this.note(manager, id, who, 'tune', `Tune ${number} put in the bench’s unit: rehearsal`, { tuneId })
    })
  }

  /** The logbook's line of a write; in the same transaction it raises the build's revision. */
  async note(manager: EntityManager, buildId: string, who: string, kind: string, summary: string, detail: unknown = {}): Promise<void> {
    await manager.query('UPDATE build SET revision = revision + 1 WHERE id = ?', [buildId])
    await manager
      .getRepository(LogbookEntity)
      .insert({ buildId, at: new Date(), who, kind, summary: summary.slice(0, 400), detail: JSON.stringify(detail) })
  }

  /** Appends an entry of the server's own; the caller's write has the build's row lock. */
  private async append(
    manager: EntityManager,
    buildId: string,
    who: string,
    { kind, value }: { kind: EntryKind; value: object },
  ): Promise<void> {
    const now = new Date()
    await manager.getRepository(ReadingEntity).insert({
      id: randomUUID(),
      buildId,
      kind,
      value: JSON.stringify(value),
      instrument: null,
      who,
      takenAt: now,
      receivedAt: now,
      schemaVersion: STORED_VERSION,
      conditions: null,
      supersedes: null,
      buildSeq: await this.nextSeq(manager, buildId),
      source: 'person',
      seen: null,
      client: null,
      clientSeq: null,
      basis: null,
      workedFrom: null,
    })
  }
  /** The next place in a build's order; only under its row lock, which every line of the logbook takes. */
  async nextSeq(manager: EntityManager, buildId: string): Promise<number> {
    const [{ top }] = (await manager.query('SELECT COALESCE(MAX(build_seq), 0) AS top FROM reading WHERE build_id = ?', [buildId])) as {
      top: number
    }[]
    return 1 + Number(top)
  }

  /** Stores a tune version with what its own checks say; numbers run on within a build. */
  async addTune(
    build: Build,
    input: {
      id?: string
      name?: string
      document: TuneDocument
      origin: TuneSummary['origin']
      parentId?: string | null
      logId?: string | null
      status?: TuneSummary['status']
    },
    who: string,
  ): Promise<string> {
    const id = input.id ?? randomUUID()
    const problems = checkTune(input.document, build)
    await this.db.transaction(async (manager) => {
      // the row lock makes numbers run on when two people save at once
      await manager.query('SELECT id FROM build WHERE id = ? FOR UPDATE', [build.id])
      const number =
        1 +
        Number(
          ((await manager.query('SELECT COALESCE(MAX(number), 0) AS top FROM tune WHERE build_id = ?', [build.id])) as { top: number }[])[0]
            .top,
        )
      const name =
        input.name ?? { computed: 'Base tune', edited: 'Edited by hand', learned: 'Learned from a log', imported: 'Imported' }[input.origin]
      await manager.getRepository(TuneEntity).insert({
        schemaVersion: STORED_VERSION,
        id,
        buildId: build.id,
        number,
        name,
        status: input.status === 'in-car' ? 'ready' : (input.status ?? 'draft'),
        origin: input.origin,
        parentId: input.parentId ?? null,
        logId: input.logId ?? null,
        document: packTune(input.document),
        problems: JSON.stringify(problems),
        createdBy: who,
        createdAt: new Date(),
        inCarSince: null,
      })
      await this.note(manager, build.id, who, 'tune', `Tune ${number} stored: ${name}`, {
        tuneId: id,
        origin: input.origin,
        parentId: input.parentId ?? null,
        logId: input.logId ?? null,
      })
    })
    return id
  }

  /** @throws Problem NOT_FOUND */
  async tune(buildId: string, tuneId: string): Promise<TuneRow> {
    const row = await this.db.getRepository(TuneEntity).findOneBy({ id: tuneId, buildId })
    if (!row) throw new Problem(404, 'NOT_FOUND', 'There is no tune with this id on this build')
    return row
  }

  /** The tune that a view's unit holds; null when there is none. */
  async tuneInUse(build: Build, view: View): Promise<TuneRow | null> {
    const inUse = tuneInCar(seenFrom(build, view))
    return inUse ? this.tune(build.id, inUse.id) : null
  }
}

type PerView<T> = Partial<Record<View, T>>
/** One thing worked out of a build as read, for each view once. */
function oncePerView<T>(work: (build: Build, view: View) => T): (build: Build, view?: View) => T {
  const known = new WeakMap<Build, PerView<T>>()
  return (build, view = 'car') => {
    const have: PerView<T> = known.get(build) ?? {}
    known.set(build, have)
    return (have[view] ??= work(build, view))
  }
}
/** A build as a view sees it. */
export const seenFrom = oncePerView(viewOf<Build>)
/** Judgement of a build as read. */
export const evaluated = oncePerView((build, view): Evaluation => {
  const fresh = evaluate(seenFrom(build, view))
  for (const { rule, error } of fresh.failures) console.error(`build ${build.id}: the rule ${rule} failed: ${error}`)
  return fresh
})

/** A build as the API gives it: all its data, with state of each station and the next action as the view has them. */
function withEvaluation(build: Build, view: View = 'car'): Build & Omit<Evaluation, 'failures' | 'standings'> {
  const { stations, next } = evaluated(build, view)
  return { ...build, stations, next }
}
/** `withEvaluation` as JSON; the same object is written out once. */
export const answerText = oncePerView((build, view): string => JSON.stringify(withEvaluation(build, view)))
