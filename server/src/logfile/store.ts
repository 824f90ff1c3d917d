import { randomUUID } from 'node:crypto'
import type { EntityManager } from 'typeorm'
import type { LogMapping } from '@vectum/core'
import { LogChannelEntity, LogEntity, MappingEntity, type LogRow } from '../db/entities.ts'
import type { ImportResult } from '../heavy/tasks.ts'
import { Problem } from '../http/problem.ts'
import type { BuildStore } from '../job/store.ts'

export const LogStore = {
  async remembered(store: BuildStore): Promise<Record<string, LogMapping>> {
    const rows = await store.db.getRepository(MappingEntity).find({ order: { usedAt: 'DESC' }, take: 200 })
    return Object.fromEntries(rows.map((row) => [row.fingerprint, JSON.parse(row.mapping) as LogMapping]))
  },

  /** Stores a log whole or not at all. */
  async add(
    store: BuildStore,
    buildId: string,
    input: ImportResult & {
      id?: string
      name: string
      source: 'import' | 'bench'
      remember: boolean
      fileHash?: string
      tuneId?: string | null
    },
    who: string,
  ): Promise<string> {
    const id = input.id ?? randomUUID()
    await store.db.transaction(async (manager: EntityManager) => {
      await this.refuseTwin(manager, buildId, input)
      const bad = input.rejected.reduce((sum, r) => sum + r.count, 0)
      await store.note(
        manager,
        buildId,
        who,
        'log',
        `${input.source === 'bench' ? 'Trace saved from the bench' : 'Log imported'}: ${input.name}, ${input.rows} rows, ${(input.durationS / 60).toFixed(1)} min${bad ? `, ${bad} cells or rows left out` : ''}`,
        { logId: id, rejected: input.rejected },
      )
      await manager.getRepository(LogEntity).insert({
        id,
        buildId,
        name: input.name.slice(0, 200),
        source: input.source,
        rows: input.rows,
        durationS: input.durationS,
        rejected: JSON.stringify(input.rejected),
        mapping: JSON.stringify(input.mapping),
        fingerprint: input.fingerprint,
        createdBy: who,
        createdAt: new Date(),
        fileHash: input.fileHash ?? null,
        tuneId: input.tuneId ?? null,
        topRpm: input.topRpm ?? null,
        topMapKpa: input.topMapKpa ?? null,
      })
      // one statement for each channel: a whole log in one would be larger than a packet may be
      for (const { channel, data } of input.columns)
        await manager.query('INSERT INTO log_channel (log_id, channel, data) VALUES (?, ?, ?)', [
          id,
          channel,
          Buffer.from(data.buffer, data.byteOffset, data.byteLength),
        ])
      if (input.remember)
        await manager
          .getRepository(MappingEntity)
          .upsert({ fingerprint: input.fingerprint, mapping: JSON.stringify(input.mapping), usedAt: new Date() }, ['fingerprint'])
    })
    return id
  },

  /** The same file with the same mapping and tune is shown, not stored again. @throws Problem ALREADY_STORED with `logId` */
  async refuseTwin(
    manager: EntityManager,
    buildId: string,
    input: { fileHash?: string; mapping: LogMapping; tuneId?: string | null },
  ): Promise<void> {
    if (!input.fileHash) return
    const mapping = JSON.stringify(input.mapping)
    const twins = await manager.getRepository(LogEntity).findBy({ buildId, fileHash: input.fileHash })
    const twin = twins.find((l) => l.mapping === mapping && l.tuneId === (input.tuneId ?? null))
    if (twin)
      throw new Problem(409, 'ALREADY_STORED', `This file is already stored as “${twin.name}”, read the same way.`, { logId: twin.id })
  },

  /** Logs of the same build from the same file, this one not among them. */
  async sameFile(store: BuildStore, log: LogRow): Promise<LogRow[]> {
    if (!log.fileHash) return []
    const twins = await store.db.getRepository(LogEntity).findBy({ buildId: log.buildId, fileHash: log.fileHash })
    return twins.filter((l) => l.id !== log.id)
  },

  async get(store: BuildStore, id: string): Promise<LogRow> {
    const row = await store.db.getRepository(LogEntity).findOneBy({ id })
    if (!row) throw new Problem(404, 'NOT_FOUND', 'There is no log with this id')
    return row
  },

  async columns(store: BuildStore, id: string): Promise<{ channel: string; data: Uint8Array }[]> {
    const rows = await store.db.getRepository(LogChannelEntity).findBy({ logId: id })
    return rows.map(({ channel, data }) => ({ channel, data }))
  },
  several: (store: BuildStore, ids: readonly string[]): Promise<{ columns: { channel: string; data: Uint8Array }[] }[]> =>
    Promise.all(ids.map(async (id) => ({ columns: await LogStore.columns(store, id) }))),
}
