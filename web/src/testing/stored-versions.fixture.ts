import { vi } from 'vitest'
import type { TuneDocument } from '@vectum/core'

/** Versions of the tune that a screen stores, kept for the test; with another status the server refuses them. The rest of the server answers as before. */
export function catchVersions(status = 201): { document: TuneDocument; parentId: string; origin: string; name?: string }[] {
  const posted: ReturnType<typeof catchVersions> = []
  const around = fetch
  vi.stubGlobal('fetch', async (url: string, options: RequestInit = {}) => {
    if (options.method !== 'POST' || !String(url).endsWith('/tunes')) return around(url, options)
    const sent = JSON.parse(String(options.body)) as (typeof posted)[number] & { id: string }
    posted.push(sent)
    const made = {
      ...{ id: sent.id, number: 2, name: 'x', status: 'draft', origin: 'edited', parentId: sent.parentId, logId: null },
      ...{ createdBy: 'Ada', createdAt: '2026-01-01T00:00:00Z', inCarSince: null, problems: [], document: sent.document },
    }
    const body = status === 201 ? made : { detail: 'It is full.' }
    return new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })
  })
  return posted
}
