import { createPinia, disposePinia, setActivePinia, type Pinia } from 'pinia'
import { vi } from 'vitest'
import { entryKinds, evaluate, mergePatch, type BuildData } from '@vectum/core'
import { soundBuild } from '../../../core/src/judge/made-up.fixture.ts'
import { useBuild } from '../stores/build.ts'

/** Readings as the server keeps them: in order, with who witnessed them and what a proof was taken on. */
export const keptReadings = (data: BuildData): BuildData['readings'] =>
  data.readings.map((r, i) => ({
    ...r,
    seq: i + 1,
    source: r.source ?? ('view' in r || r.instrument?.startsWith('bench') ? 'bench' : 'person'),
    receivedAt: r.receivedAt ?? r.takenAt,
    seen: null,
    client: null,
    clientSeq: null,
    basis: r.basis ?? entryKinds[r.kind].proof?.basis(data, r.value as never) ?? null,
  })) as BuildData['readings']

let last: Pinia | null = null

/** A build opened in the store over a server in miniature: what a component changes can be read from the store afterwards. */
export async function openBuild(patch: object = {}, readings: BuildData['readings'] = []) {
  // stores share the browser's storage: one of an earlier test would write its own back
  if (last) disposePinia(last)
  localStorage.clear()
  localStorage.setItem('vectum.person', 'Ada')
  last = createPinia()
  setActivePinia(last)
  const data = { ...soundBuild(patch, readings), version: 1 }
  const full = () => ({ ...data, readings: (data.readings = keptReadings(data)), createdAt: '', updatedAt: '', ...evaluate(data) })
  const answer = (body: unknown) => new Response(JSON.stringify(body), { status: 200, headers: { 'content-type': 'application/json' } })
  vi.stubGlobal(
    'fetch',
    vi.fn(async (url: string, options: RequestInit = {}) => {
      if (String(url).endsWith('/files')) return answer([])
      if (options.method === 'PATCH') Object.assign(data, mergePatch(data, JSON.parse(String(options.body))), { version: data.version + 1 })
      if (options.method === 'PUT') {
        const body = JSON.parse(String(options.body)) as BuildData['readings'][number]
        data.readings.push({ ...body, id: String(url).split('/').at(-1)!, instrument: null, who: 'x', conditions: null, supersedes: null })
      }
      return answer(full())
    }),
  )
  const store = useBuild()
  await store.open('sound')
  return store
}
