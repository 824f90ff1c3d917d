import { createPinia, disposePinia, setActivePinia, type Pinia } from 'pinia'
import { vi } from 'vitest'
import {
  benchReading,
  type BenchReadingKind,
  type BuildData,
  contextOf,
  entryKinds,
  evaluate,
  type HeldAt,
  mergePatch,
  type VerdictFrom,
  type VerdictKind,
  verdictOf,
  viewOf,
} from '@vectum/core'
import { soundBuild } from '../../../core/src/judge/made-up.fixture.ts'
import { useBuild } from '../stores/build.ts'
import { useMe } from '../stores/me.ts'
import { nobodySignsIn } from './me.fixture.ts'

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
    from: r.from ?? null,
    basis: r.basis ?? entryKinds[r.kind].proof?.basis(data, r.value as never) ?? null,
  })) as BuildData['readings']

/** Verdicts that were asked for since the build was opened. */
export const asked: { kind: VerdictKind; from: VerdictFrom }[] = []
let made = 0
type Stored = BuildData['readings'][number]
const entry = (kind: string, value: object, more: object): Stored =>
  ({
    ...{
      id: `made-${++made}`,
      kind,
      value,
      instrument: null,
      who: 'x',
      takenAt: new Date().toISOString(),
      conditions: null,
      supersedes: null,
    },
    ...more,
  }) as unknown as Stored
/** A verdict as the server would work it out from entries; from a session or a log there is none here. */
function verdictHere(data: BuildData, { kind, from }: { kind: VerdictKind; from: VerdictFrom }): Stored | null {
  asked.push({ kind, from })
  const entries = data.readings.filter((r) => from.entryIds?.includes(r.id))
  if (!entries.length) return null
  const value = verdictOf(kind, contextOf(viewOf(data, 'rehearsal')), { entries, frames: null, learned: null, idle: null, trace: null })
  return entry(kind, value, { source: 'app', from })
}

let last: Pinia | null = null

/** A build opened in the store over a server in miniature: what a component changes can be read from the store afterwards. */
export async function openBuild(patch: object = {}, readings: BuildData['readings'] = []) {
  // stores share the browser's storage: one of an earlier test would write its own back
  if (last) disposePinia(last)
  localStorage.clear()
  localStorage.setItem('vectum.person', 'Ada')
  last = createPinia()
  setActivePinia(last)
  useMe().take(nobodySignsIn)
  asked.length = 0
  const data = { ...soundBuild(patch, readings), version: 1 }
  const full = () => ({ ...data, readings: (data.readings = keptReadings(data)), createdAt: '', updatedAt: '', ...evaluate(data) })
  const answer = (body: unknown) => new Response(JSON.stringify(body), { status: 200, headers: { 'content-type': 'application/json' } })
  vi.stubGlobal(
    'fetch',
    vi.fn(async (url: string, options: RequestInit = {}) => {
      if (String(url).endsWith('/files')) return answer([])
      if (options.method === 'PATCH') Object.assign(data, mergePatch(data, JSON.parse(String(options.body))), { version: data.version + 1 })
      const json = options.method === 'POST' ? (JSON.parse(String(options.body)) as never) : null
      if (json && String(url).endsWith('/bench/readings')) {
        const { kind, at } = json as { kind: BenchReadingKind; at: HeldAt }
        const { value, instrument } = benchReading(viewOf(data, 'rehearsal'), kind, at)
        data.readings.push(entry(kind, value, { source: 'bench', instrument: `bench: ${instrument}` }))
        data.readings = keptReadings(data)
        return answer({ ...data.readings.at(-1)!, stands: null })
      }
      if (json && String(url).endsWith('/verdicts')) {
        const verdict = verdictHere(data, json)
        if (verdict) data.readings.push(verdict)
        return answer({})
      }
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
