import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { IsNull } from 'typeorm'
import { z } from 'zod'
import { MAX_BUILD_FILES, MAX_FILE_BYTES, MAX_THUMB_BYTES, type AttachedFile, FileAnswer, Files } from '@vectum/core'
import { FileEntity, type FileRow } from '../db/entities.ts'
import { InvalidInput, Problem } from '../http/problem.ts'
import { BuildParams, docs } from '../http/schema.ts'
import { takenType } from './file-type.ts'
import { whoOf } from '../people/identity.ts'
import type { BuildStore } from '../job/store.ts'

const FileParams = z.object({ fileId: z.uuid() })
const RemoveParams = z.object({ id: z.uuid(), fileId: z.uuid() })
const Fields = z.object({
  id: z.uuid('must be a UUID').optional(),
  item: z
    .string()
    .regex(/^[a-zA-Z0-9.:>_-]{1,80}$/, 'must name what the file shows, in letters, digits and . : > _ -')
    .default('car'),
})
const MB = 1024 * 1024

const answerOf = (row: FileRow & { hasThumb?: boolean }, thumb: boolean): AttachedFile => ({
  id: row.id,
  item: row.item,
  name: row.name,
  type: row.type,
  size: row.size,
  thumb,
  who: row.who,
  createdAt: row.createdAt.toISOString(),
})

export function fileRoutes(app: FastifyInstance, store: BuildStore): void {
  const files = () => store.db.getRepository(FileEntity)

  app.get<{ Params: { id: string } }>(
    '/api/builds/:id/files',
    { schema: docs({ summary: 'Photos and files of a build, newest first', tags: ['job'], answer: Files, params: BuildParams }) },
    async (request) => {
      await store.get(request.params.id)
      const rows = await files()
        .createQueryBuilder('f')
        .addSelect('f.thumb IS NOT NULL', 'has_thumb')
        .where('f.build_id = :id AND f.removed_at IS NULL', { id: request.params.id })
        .orderBy('f.created_at', 'DESC')
        .getRawAndEntities<{ has_thumb: number | string }>()
      return rows.entities.map((row, i) => answerOf(row, Number(rows.raw[i].has_thumb) === 1))
    },
  )

  app.post<{ Params: { id: string } }>(
    '/api/builds/:id/files',
    {
      schema: docs({
        summary: 'Keep a photo or file (multipart: file; optional thumb as JPEG, item it shows, id)',
        description: `JPEG, PNG, WebP, PDF or plain text, at most ${MAX_FILE_BYTES / MB} MB. The same id with the same content again is no second file.`,
        tags: ['job'],
        answer: FileAnswer,
        answerStatus: 201,
        params: BuildParams,
        consumes: ['multipart/form-data'],
      }),
    },
    async (request, reply) => {
      const build = await store.get(request.params.id)
      const fields: Record<string, string> = {}
      let file: { name: string; data: Buffer } | null = null
      let thumb: Buffer | null = null
      for await (const part of request.parts({ limits: { fileSize: MAX_FILE_BYTES, files: 2, fieldSize: 1024 } })) {
        if (part.type !== 'file') {
          fields[part.fieldname] = String(part.value)
          continue
        }
        const chunks: Buffer[] = []
        for await (const chunk of part.file) chunks.push(chunk as Buffer)
        const data = Buffer.concat(chunks)
        if (part.file.truncated)
          throw new Problem(
            413,
            'FILE_TOO_LARGE',
            `"${part.filename}" is larger than ${MAX_FILE_BYTES / MB} MB. Take the photo smaller, or cut the document.`,
          )
        if (part.fieldname === 'thumb') thumb = data
        else file = { name: (part.filename || 'file').slice(0, 200), data }
      }
      if (!file) throw new Problem(400, 'FILE_MISSING', 'Send the file as the multipart part "file".')
      const parsed = Fields.safeParse(fields)
      if (!parsed.success) throw new InvalidInput(parsed.error.issues.map((i) => ({ path: i.path.join('.'), message: i.message })))
      const type = await takenType(file.data)
      if (type === null)
        throw new Problem(
          415,
          'FILE_TYPE',
          `"${file.name}" is no photo (JPEG, PNG, WebP), PDF or plain text by its content. Save it as one of these.`,
        )
      // a thumbnail that is none is left out; the file itself counts
      if (thumb && (thumb.length > MAX_THUMB_BYTES || (await takenType(thumb)) !== 'image/jpeg')) thumb = null
      const id = parsed.data.id ?? randomUUID()
      const existing = await files().findOne({
        where: { id },
        select: { id: true, buildId: true, size: true, data: true, item: true, name: true, type: true, who: true, createdAt: true },
      })
      if (existing) {
        if (existing.buildId === build.id && Buffer.compare(existing.data, file.data) === 0)
          return reply.code(200).send(answerOf(existing, thumb !== null))
        throw new Problem(409, 'ALREADY_EXISTS', 'Another file has this id')
      }
      if ((await files().countBy({ buildId: build.id, removedAt: IsNull() })) >= MAX_BUILD_FILES)
        throw new Problem(409, 'TOO_MANY_FILES', `This build holds ${MAX_BUILD_FILES} files; remove some first.`)
      const row: FileRow = {
        id,
        buildId: build.id,
        item: parsed.data.item,
        name: file.name,
        type,
        size: file.data.length,
        data: file.data,
        thumb,
        who: whoOf(request),
        createdAt: new Date(),
        removedAt: null,
      }
      await store.db.transaction(async (manager) => {
        await store.note(manager, build.id, row.who, 'file', `File kept: ${row.name} (${row.item})`, {
          fileId: id,
          type,
          size: row.size,
          item: row.item,
        })
        await manager.getRepository(FileEntity).insert(row)
      })
      return reply.code(201).send(answerOf(row, thumb !== null))
    },
  )

  const send = (column: 'data' | 'thumb') => async (fileId: string) => {
    const row = await files().findOne({ where: { id: fileId }, select: { id: true, name: true, type: true, [column]: true } })
    const data = row?.[column]
    if (!row || !data)
      throw new Problem(404, 'NOT_FOUND', column === 'thumb' ? 'This file has no thumbnail' : 'There is no file with this id')
    return { row, data }
  }
  app.get<{ Params: { fileId: string } }>(
    '/api/files/:fileId',
    { schema: docs({ summary: 'The file as it was kept', tags: ['job'], params: FileParams }) },
    async (request, reply) => {
      const { row, data } = await send('data')(request.params.fileId)
      return reply
        .type(row.type)
        .header('content-disposition', `inline; filename*=UTF-8''${encodeURIComponent(row.name)}`)
        .header('content-security-policy', "default-src 'none'; sandbox")
        .header('cache-control', 'private, max-age=31536000, immutable')
        .send(data)
    },
  )
  app.get<{ Params: { fileId: string } }>(
    '/api/files/:fileId/thumb',
    { schema: docs({ summary: 'Its thumbnail, JPEG', tags: ['job'], params: FileParams }) },
    async (request, reply) => {
      const { data } = await send('thumb')(request.params.fileId)
      return reply.type('image/jpeg').header('cache-control', 'private, max-age=31536000, immutable').send(data)
    },
  )

  app.delete<{ Params: { id: string; fileId: string } }>(
    '/api/builds/:id/files/:fileId',
    { schema: docs({ summary: 'Take a file out of sight; the logbook still names it', tags: ['job'], params: RemoveParams }) },
    async (request, reply) => {
      const { id, fileId } = request.params
      const row = await files().findOneBy({ id: fileId, buildId: id, removedAt: IsNull() })
      if (!row) throw new Problem(404, 'NOT_FOUND', 'This build has no such file')
      await store.db.transaction(async (manager) => {
        await store.note(manager, id, whoOf(request), 'file', `File removed: ${row.name} (${row.item})`, { fileId })
        await manager.getRepository(FileEntity).update({ id: fileId }, { removedAt: new Date() })
      })
      return reply.code(204).send()
    },
  )
}
