import { v4 as uuid } from 'uuid'
import { until, useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import {
  Anything,
  type Build,
  BuildAnswer,
  contextOf,
  type EntryKind,
  entryKinds,
  lostByEdit,
  evaluate,
  type HeldAt,
  type RehearsedField,
  type StoredReading,
  JudgedReadingAnswer,
  type ReadingInput,
  rehearsalPath,
  valueAt,
  type VerdictFrom,
  type VerdictKind,
  type View,
  viewOf,
} from '@vectum/core'
import { ApiError, api } from '../api/client.ts'
import { useLink } from './link.ts'
import {
  conflictsOf,
  emptyOutbox,
  heldBack,
  nextToSend,
  ofSigner,
  entriesOf,
  type Outbox,
  outboxAfter,
  type OutboxEvent,
  type PendingChange,
  type PendingReading,
  patchOf,
  waitingIn,
  withChanges,
} from './outbox.ts'
import { useMe } from './me.ts'
import { useSettings } from './settings.ts'

const KEPT = 'vectum.pending'
type KeptOutboxes = Record<string, Outbox>

/**
 * The build on the screen. A change shows at once (judged by the core in the browser), is kept in the browser until the server has it,
 * and survives a reload, a dead server and somebody else's edit.
 */
export const useBuild = defineStore('build', () => {
  const link = useLink()
  const settings = useSettings()
  const me = useMe()
  const saved = shallowRef<Build | null>(null)
  const loading = ref(false)
  const error = ref<ApiError | null>(null)
  const saving = ref(false)
  const refused = ref<string | null>(null)
  const kept = useLocalStorage<KeptOutboxes>(KEPT, {})

  const id = computed(() => saved.value?.id ?? null)
  const allPending = computed<Outbox>(() => (id.value ? (kept.value[id.value] ?? emptyOutbox) : emptyOutbox))
  /** what leaves under who is signed in; the rest waits for whose it is */
  const pending = computed(() => ofSigner(allPending.value, me.signer))
  const held = computed(() => heldBack(allPending.value, me.signer))
  const pendingCount = computed(() => waitingIn(pending.value))
  const conflicts = computed(() => conflictsOf(pending.value, saved.value))

  /** which judgement is looked at: the car's own, or the rehearsal's, where the bench counts as well */
  const keptViews = useLocalStorage<Record<string, View>>('vectum.view', {})
  const view = computed<View>({
    get: () => (id.value && keptViews.value[id.value]) || 'car',
    set: (next) => {
      if (id.value) keptViews.value = { ...keptViews.value, [id.value]: next }
    },
  })
  const judged = (all: Build): Build => {
    const seen = viewOf(all, view.value)
    return { ...seen, ...evaluate(seen) }
  }
  /** the build with what is still on its way to the server */
  const current = computed<Build | null>(() => {
    const base = saved.value
    if (!base) return null
    const { changes, readings } = pending.value
    if (changes.length === 0 && readings.length === 0) return view.value === 'car' ? viewOf(base, 'car') : judged(base)
    const data = withChanges({ facts: base.facts, choices: base.choices }, changes)
    const waiting = entriesOf(readings).map(({ id: readingId, body }) => ({
      id: readingId,
      kind: body.kind,
      value: body.value,
      instrument: body.instrument ?? null,
      who: body.who ?? settings.person,
      takenAt: body.takenAt ?? new Date().toISOString(),
      conditions: null,
      supersedes: body.supersedes ?? null,
      source: body.view === 'rehearsal' ? 'bench' : 'person',
    }))
    return judged({ ...base, ...data, readings: [...base.readings, ...(waiting as Build['readings'])] })
  })
  const context = computed(() => (current.value ? contextOf(current.value) : null))
  const station = (stationId: string) => current.value?.stations.find((s) => s.id === stationId) ?? null
  /** whether a station's requirement is met; one that this car does not have is */
  const met = (stationId: string, requirement: string) => station(stationId)?.requirements.find((r) => r.id === requirement)?.met ?? true

  function tell(event: OutboxEvent): void {
    if (!id.value) return
    // another tab may have written since this one was told: what stands in the browser is changed, not what this tab remembers of it
    const standing = JSON.parse(localStorage.getItem(KEPT) ?? '{}') as KeptOutboxes
    const next = { ...standing, [id.value]: outboxAfter(standing[id.value] ?? emptyOutbox, event) }
    localStorage.setItem(KEPT, JSON.stringify(next))
    kept.value = next
  }

  let opened = ''
  async function open(buildId: string): Promise<void> {
    opened = buildId
    if (saved.value?.id !== buildId) saved.value = null
    loading.value = saved.value === null
    error.value = null
    try {
      const answer = await api(`/builds/${buildId}`, BuildAnswer)
      if (opened !== buildId) return
      // an answer that was overtaken by one to a later question says what stood there before
      if (saved.value === null || answer.version >= saved.value.version) saved.value = answer
      void flush()
    } catch (e) {
      if (opened === buildId) error.value = e as ApiError
    } finally {
      if (opened === buildId) loading.value = false
    }
  }
  const reload = () => (saved.value ? open(saved.value.id) : Promise.resolve())

  /** an edit that proofs rest on: it waits until a person has said whether the car or only the record changes */
  const edit = shallowRef<{ path: string; value: unknown; lost: string[] } | null>(null)
  /** a reader is told before they have typed more of it */
  function onlyLooks(): boolean {
    if (!me.mayAct && me.signer)
      refused.value = `${me.signer.name} is a reader: nothing was changed. An owner gives another role, under People.`
    return !me.mayAct
  }
  const by = computed(() => (me.signer ? { by: me.signer } : {}))
  /** Sets one fact or choice by its path, such as "facts.engine.boreMm"; undefined means not known. */
  function change(path: string, value: unknown, how?: 'car' | 'record'): void {
    const now = current.value
    if (onlyLooks()) return
    if (!now || JSON.stringify(valueAt(now, path)) === JSON.stringify(value)) return
    const after = { ...now, ...withChanges({ facts: now.facts, choices: now.choices }, [{ path, value, base: undefined }]) }
    // what is turned while practising stands over the car's choices and leaves them, and what was proved on them, alone
    const over = view.value === 'rehearsal' && !how ? rehearsalPath(path) : null
    if (over) {
      const [, , part, field] = over.split('.')
      const fieldIn = (choices: object | undefined): unknown =>
        (choices as Record<string, Record<string, unknown>> | undefined)?.[part]?.[field]
      const turned = fieldIn(after.choices)
      const ofCar = fieldIn(withChanges({ choices: saved.value!.choices }, pending.value.changes).choices)
      const value = JSON.stringify(turned) === JSON.stringify(ofCar) ? undefined : turned
      tell({ event: 'typed', path: over, value, saved: saved.value, order: ++clientSeq.value, ...by.value })
      refused.value = null
      void flush()
      return
    }
    const lost = how ? [] : lostByEdit(now, after, path)
    if (lost.length) {
      edit.value = { path, value, lost: lost.map((r) => entryKinds[r.kind].title) }
      return
    }
    edit.value = null
    tell({
      event: 'typed',
      path,
      value,
      saved: saved.value,
      order: ++clientSeq.value,
      ...(how === 'record' ? { change: how } : {}),
      ...by.value,
    })
    refused.value = null
    void flush()
  }

  const client = useLocalStorage('vectum.client', () => uuid())
  const clientSeq = useLocalStorage('vectum.client-seq', 0)
  /** entries that wait for the name of whoever makes them */
  const unnamed = shallowRef<(() => void)[]>([])
  function sign(name: string): void {
    settings.person = name
    const waiting = unnamed.value
    unnamed.value = []
    for (const go of waiting) go()
  }
  const dropUnnamed = (): void => void (unnamed.value = [])

  /**
   * Appends a reading; kept here until the server has it, and never recorded twice. It says what this browser knew when it was made.
   * @param then what is asked of the server next, of the entry that was made
   */
  function record(
    kind: EntryKind,
    value: Record<string, unknown>,
    more: Partial<ReadingInput> = {},
    then?: (entryId: string) => void,
  ): void {
    if (onlyLooks()) return
    // an entry says who witnessed it: asked once, before the first, which then goes on its way
    if (!settings.person) {
      unnamed.value = [...unnamed.value, () => record(kind, value, more, then)]
      return
    }
    const body: ReadingInput = {
      kind,
      value,
      takenAt: new Date().toISOString(),
      seen: saved.value?.readings.at(-1)?.seq ?? 0,
      client: client.value,
      clientSeq: ++clientSeq.value,
      ...(view.value === 'rehearsal' ? { view: 'rehearsal' as const } : {}),
      ...(settings.person ? { who: settings.person } : {}),
      ...more,
    }
    const entryId = uuid()
    tell({ event: 'recorded', reading: { id: entryId, order: clientSeq.value, body, ...by.value } })
    then?.(entryId)
    void flush()
  }
  /** Asks the server for a verdict on what was recorded before; kept here until it has answered. */
  function ask(kind: VerdictKind, from: VerdictFrom): void {
    tell({ event: 'recorded', reading: { id: uuid(), order: ++clientSeq.value, ask: { kind, from }, ...by.value } })
    void flush()
  }
  /**
   * Has the server read one of the bench's instruments: practice, so from here on one looks at the rehearsal.
   * @returns the entry, or null when it was refused, in words at the top
   */
  async function readBench(kind: EntryKind, at: HeldAt = {}): Promise<StoredReading | null> {
    view.value = 'rehearsal'
    refused.value = null
    try {
      // what was turned before it is on the bench before it is read
      await flushed()
      const entry = await api(`/builds/${saved.value!.id}/bench/readings`, JudgedReadingAnswer, { method: 'POST', body: { kind, at } })
      await reload()
      return entry
    } catch (e) {
      refused.value = (e as ApiError).message
      return null
    }
  }
  /** The rehearsal's settings, field by field, done on the car as well; or dropped. */
  function endRehearsal(take: readonly RehearsedField[]): void {
    const order = ++clientSeq.value
    for (const { path, rehearsed } of take) tell({ event: 'typed', path, value: rehearsed, saved: saved.value, order, ...by.value })
    tell({ event: 'typed', path: 'choices.rehearsal', value: undefined, saved: saved.value, order, ...by.value })
    void flush()
  }

  let again = false
  /** Sends what waits and returns when it is there, or the link is lost. */
  async function flushed(): Promise<void> {
    await flush()
    while (saving.value) await until(saving).toBe(false)
  }
  async function flush(): Promise<void> {
    if (saving.value) {
      again = true
      return
    }
    if (!saved.value || !me.known || pendingCount.value === 0 || conflicts.value.length > 0) return
    saving.value = true
    try {
      for (let next = nextToSend(pending.value); next && conflicts.value.length === 0; next = nextToSend(pending.value))
        if ('reading' in next) await sendReading(next.reading)
        else if (!(await sendChanges(next.changes))) break
    } catch (e) {
      if (!(e instanceof ApiError && e.temporary)) throw e
    } finally {
      saving.value = false
      if (again) {
        again = false
        void flush()
      }
    }
  }

  async function sendReading(reading: PendingReading): Promise<void> {
    const build = `/builds/${saved.value!.id}`
    try {
      if (reading.ask) await api(`${build}/verdicts`, Anything, { method: 'POST', body: reading.ask, headers: { 'event-id': reading.id } })
      else await api(`${build}/readings/${reading.id}`, Anything, { method: 'PUT', body: reading.body })
      // read back before it is let go of here, so that it never leaves the screen in between
      saved.value = await api(build, BuildAnswer)
    } catch (e) {
      if ((e as ApiError).temporary) throw e
      refused.value = (e as ApiError).message
    }
    tell({ event: 'reading-done', id: reading.id })
  }

  const TRIES = 4
  /** @returns false when somebody else's write must be looked at first, or keeps coming in between */
  async function sendChanges(changes: PendingChange[]): Promise<boolean> {
    tell({ event: 'sending', changes })
    for (let attempt = 1; ; attempt++) {
      try {
        saved.value = await api(`/builds/${saved.value!.id}`, BuildAnswer, {
          method: 'PATCH',
          body: { ...(patchOf(changes, saved.value) as object), ...(changes[0].change ? { change: changes[0].change } : {}) },
          headers: { 'if-match': `"${saved.value!.version}"` },
        })
      } catch (e) {
        if (!(e instanceof ApiError) || e.temporary) throw e
        if (e.status === 412) {
          saved.value = e.body.current as Build
          // what came in between is looked at before it is written over
          if (conflicts.value.length > 0 || attempt === TRIES) return false
          continue
        }
        // the server will never take these: say why, and let go of them
        refused.value = e.fields.map((f) => `${f.path} ${f.message}`).join('; ') || e.message
      }
      tell({ event: 'changes-done', changes, saved: saved.value })
      return true
    }
  }

  /** A person has decided between their own value and the one that came in between. */
  function settle(path: string, take: 'mine' | 'theirs'): void {
    tell({ event: 'settled', path, take, saved: saved.value, ...by.value })
    if (conflicts.value.length === 0) void flush()
  }

  /** What was typed here before anybody signed in is taken as one's own, or let go. */
  function signHeld(take: boolean): void {
    tell({ event: 'unsigned', take: take ? me.signer : null })
    void flush()
  }

  const comeBack = (): void => {
    if (saved.value) void flush()
    else if (error.value && lastAsked) void open(lastAsked)
  }
  link.onBack(comeBack)
  me.onEntered(comeBack)
  let lastAsked: string | null = null
  const openAndRemember = (buildId: string) => {
    lastAsked = buildId
    return open(buildId)
  }

  return {
    saved,
    view,
    current,
    context,
    loading,
    error,
    saving,
    pendingCount,
    held,
    signHeld,
    conflicts,
    refused,
    open: openAndRemember,
    reload,
    change,
    edit,
    record,
    ask,
    readBench,
    endRehearsal,
    unnamed,
    sign,
    dropUnnamed,
    flush,
    flushed,
    settle,
    station,
    met,
  }
})
