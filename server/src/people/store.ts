import { randomUUID } from 'node:crypto'
import type { Member, Role } from '@vectum/core'
import { type DataSource, In, IsNull, LessThan, MoreThan, Not } from 'typeorm'
import { CodeEntity, PersonEntity, type PersonRow, SignInEntity, type SignInRow } from '../db/entities.ts'
import { Problem } from '../http/problem.ts'
import { hashSecret, hashToken, isSecret, newCode, newToken } from './secrets.ts'

const MINUTE = 60_000
const HOUR = 60 * MINUTE
/** A tablet left in the workshop over night signs in again; nobody stays signed in longer than a week. */
const IDLE_MS = 12 * HOUR
export const ABSOLUTE_MS = 7 * 24 * HOUR
const ROTATE_MS = HOUR
/** what was asked for with the token before the last may still be on its way */
const GRACE_MS = MINUTE
const CODE_MS = 10 * MINUTE
const INVITATION_MS = 48 * HOUR
const SEEN_EVERY_MS = MINUTE
const CACHE_MS = 2000

/** Somebody signed in, as a request carries them. */
export interface SignedIn {
  signInId: string
  personId: string
  name: string
  role: Role
  /** signed in by a code made for it: may set a secret without the old one */
  wantsSecret: boolean
}

export const personOf = (row: PersonRow): Member => ({
  id: row.id,
  name: row.name,
  role: row.role as Role,
  since: row.createdAt.toISOString(),
  leftAt: row.leftAt?.toISOString() ?? null,
  ready: row.secret !== null,
})

/** Who works here, who is signed in where, and the one-time codes. Secrets and tokens are kept as hashes only. */
export class PeopleStore {
  private anyone = { known: false, at: 0 }
  private readonly cache = new Map<string, { who: SignedIn; until: number }>()
  /** counts what makes the cache untrue: an answer that was read before it is not kept after it */
  private era = 0
  private readonly streams = new Map<string, Set<() => void>>()
  private readonly checker: ReturnType<typeof setInterval>

  constructor(
    private readonly db: DataSource,
    private readonly now: () => number = Date.now,
  ) {
    // another server on the same database may have ended a sign-in
    this.checker = setInterval(() => void this.endStreams().catch(() => {}), 30_000).unref()
  }
  close(): void {
    clearInterval(this.checker)
  }

  private forget(): void {
    this.era++
    this.cache.clear()
  }

  private get people() {
    return this.db.getRepository(PersonEntity)
  }
  private get signIns() {
    return this.db.getRepository(SignInEntity)
  }
  private get codes() {
    return this.db.getRepository(CodeEntity)
  }

  /** Whether anybody signs in here at all. Nobody is ever deleted: once true it stays true. */
  async exist(): Promise<boolean> {
    if (this.anyone.known) return true
    if (this.now() - this.anyone.at < 1000) return false
    this.anyone = { known: await this.people.exists(), at: this.now() }
    return this.anyone.known
  }
  list(): Promise<PersonRow[]> {
    return this.people.find({ order: { createdAt: 'ASC' } })
  }
  async get(id: string): Promise<PersonRow> {
    const row = await this.people.findOneBy({ id })
    if (!row) throw new Problem(404, 'NOT_FOUND', 'There is no such person.')
    return row
  }
  byName(name: string): Promise<PersonRow | null> {
    return this.people.findOneBy({ name })
  }

  /** @throws Problem ALREADY_EXISTS when somebody was quicker */
  async addFirst(name: string, secret: string): Promise<PersonRow> {
    const hashed = await hashSecret(secret)
    return this.db.transaction(async (manager) => {
      // one row that both would have to write: of two at once one waits, and finds somebody
      await manager.query("INSERT INTO meta (name, value) VALUES ('first-owner', '1') ON DUPLICATE KEY UPDATE value = value")
      await manager.query("SELECT value FROM meta WHERE name = 'first-owner' FOR UPDATE")
      if (await manager.getRepository(PersonEntity).exists())
        throw new Problem(409, 'ALREADY_EXISTS', 'There is an owner already. Sign in, or let an owner invite you.')
      const row = this.row(name, 'owner', hashed)
      await manager.getRepository(PersonEntity).insert(row)
      this.anyone = { known: true, at: this.now() }
      return row
    })
  }
  private row(name: string, role: Role, secret: string | null): PersonRow {
    return { id: randomUUID(), name, role, secret, createdAt: new Date(this.now()), leftAt: null }
  }
  /** @throws Problem ALREADY_EXISTS: a name stands in logbooks, so it is never given twice, also not after somebody has left */
  async add(name: string, role: Role): Promise<PersonRow> {
    const row = this.row(name, role, null)
    try {
      await this.people.insert(row)
    } catch (error) {
      if ((error as { driverError?: { code?: string } }).driverError?.code !== 'ER_DUP_ENTRY') throw error
      throw new Problem(409, 'ALREADY_EXISTS', `"${name}" is or was somebody here, and stands in the logbooks. Choose another name.`)
    }
    return row
  }
  /** Another role, or leaving; what they wrote stays under their name. @throws Problem LAST_OWNER */
  async change(id: string, change: { role?: Role; leaves?: true }): Promise<PersonRow> {
    const changed = await this.db.transaction(async (manager) => {
      const people = manager.getRepository(PersonEntity)
      const owners = await people.find({ where: { role: 'owner', leftAt: IsNull() }, lock: { mode: 'pessimistic_write' } })
      const row = await people.findOneBy({ id })
      if (!row) throw new Problem(404, 'NOT_FOUND', 'There is no such person.')
      if (row.leftAt) throw new Problem(409, 'HAS_LEFT', `${row.name} has left; who comes back is invited under a new name.`)
      const stopsOwning = row.role === 'owner' && (change.leaves || (change.role ?? 'owner') !== 'owner')
      if (stopsOwning && !owners.some((o) => o.id !== id && o.secret !== null))
        throw new Problem(
          409,
          'LAST_OWNER',
          'Nobody else could say who comes in. Make another person owner first, and let them sign in once.',
        )
      const next = { ...row, role: change.role ?? row.role, leftAt: change.leaves ? new Date(this.now()) : null }
      await people.save(next)
      return next
    })
    if (change.leaves) await this.endAll(id)
    this.forget()
    return changed
  }

  /** @returns null for an unknown name and for a wrong secret alike, after the same work */
  async check(name: string, secret: string): Promise<PersonRow | null> {
    const row = await this.people.findOneBy({ name: name.trim(), leftAt: IsNull() })
    return (await isSecret(secret, row?.secret ?? null)) ? row : null
  }
  /** Sets a secret and ends every other sign-in of that person. */
  async setSecret(id: string, secret: string, keep: string): Promise<void> {
    await this.people.update({ id }, { secret: await hashSecret(secret) })
    await this.signIns.update({ id: keep }, { setsSecret: false })
    await this.signIns.delete({ personId: id, id: Not(keep) })
    this.forget()
    await this.endStreams()
  }

  /** @param setsSecret who signs in by it has forgotten the secret, or has none yet, and sets one */
  async makeCode(personId: string, setsSecret: boolean): Promise<{ code: string; expiresAt: Date }> {
    const code = newCode()
    const expiresAt = new Date(this.now() + (setsSecret ? INVITATION_MS : CODE_MS))
    await this.codes.delete({ expiresAt: LessThan(new Date(this.now())) })
    await this.codes.insert({ hash: hashToken(code), personId, setsSecret, expiresAt })
    return { code, expiresAt }
  }
  /** @returns null when it is none, was used, or is too old */
  async useCode(code: string): Promise<{ person: PersonRow; setsSecret: boolean } | null> {
    const found = await this.codes.findOneBy({ hash: hashToken(code), expiresAt: MoreThan(new Date(this.now())) })
    // of two who use it at once only one deletes it
    if (!found || (await this.codes.delete({ hash: found.hash })).affected !== 1) return null
    const person = await this.people.findOneBy({ id: found.personId, leftAt: IsNull() })
    return person && { person, setsSecret: found.setsSecret }
  }

  async signIn(personId: string, device: string, setsSecret = false): Promise<string> {
    const token = newToken()
    const at = new Date(this.now())
    await this.signIns.delete({ createdAt: LessThan(new Date(this.now() - ABSOLUTE_MS)) })
    await this.signIns.insert({
      id: randomUUID(),
      tokenHash: hashToken(token),
      previousHash: null,
      personId,
      device: device.slice(0, 120),
      createdAt: at,
      seenAt: at,
      rotatedAt: at,
      setsSecret,
    })
    return token
  }
  async signOutToken(token: string): Promise<void> {
    const who = await this.whoIs(token, false)
    if (who) await this.signOut(who.who.signInId)
  }
  async signOut(signInId: string): Promise<void> {
    await this.signIns.delete({ id: signInId })
    this.forget()
    await this.endStreams()
  }
  private async endAll(personId: string): Promise<void> {
    await this.signIns.delete({ personId })
    await this.codes.delete({ personId })
    this.forget()
    await this.endStreams()
  }

  /**
   * Who a token stands for, and a new one when it has grown old.
   * @param mayRotate false where the answer cannot carry a cookie
   */
  async whoIs(token: string, mayRotate: boolean): Promise<{ who: SignedIn; token?: string } | null> {
    const hash = hashToken(token)
    const held = this.cache.get(hash)
    const { era } = this
    if (held && held.until > this.now()) return { who: held.who }
    const row = await this.signIns.findOne({ where: [{ tokenHash: hash }, { previousHash: hash }] })
    const now = this.now()
    if (!row || now - row.seenAt.getTime() > IDLE_MS || now - row.createdAt.getTime() > ABSOLUTE_MS) {
      if (row) await this.signIns.delete({ id: row.id })
      return null
    }
    const person = await this.people.findOneBy({ id: row.personId, leftAt: IsNull() })
    if (!person) return null
    const who = {
      signInId: row.id,
      personId: person.id,
      name: person.name,
      role: person.role as Role,
      wantsSecret: row.setsSecret || person.secret === null,
    }
    const fresh = await this.renewed(row, hash, now, mayRotate)
    if (!fresh) {
      if (this.cache.size > 1000) this.cache.clear()
      if (era === this.era) this.cache.set(hash, { who, until: now + CACHE_MS })
    }
    return fresh ? { who, token: fresh } : { who }
  }
  /** Marks a sign-in as seen, and gives it a new token each hour. The one before goes on until the new one was seen: an answer may be lost. */
  private async renewed(row: SignInRow, hash: string, now: number, mayRotate: boolean): Promise<string | null> {
    const age = now - row.rotatedAt.getTime()
    const old = hash === row.previousHash
    if (mayRotate && age > (old ? GRACE_MS : ROTATE_MS)) {
      const token = newToken()
      const { affected } = await this.signIns.update(
        { id: row.id, tokenHash: row.tokenHash },
        { tokenHash: hashToken(token), previousHash: hash, rotatedAt: new Date(now), seenAt: new Date(now) },
      )
      return affected === 1 ? token : null
    }
    if (!old && row.previousHash && age > GRACE_MS) await this.signIns.update({ id: row.id }, { previousHash: null })
    if (now - row.seenAt.getTime() > SEEN_EVERY_MS) await this.signIns.update({ id: row.id }, { seenAt: new Date(now) })
    return null
  }

  /** A stream is closed when the sign-in it was opened by ends. @returns stops watching */
  watch(signInId: string, close: () => void): () => void {
    const mine = this.streams.get(signInId) ?? new Set()
    this.streams.set(signInId, mine.add(close))
    return () => {
      mine.delete(close)
      if (mine.size === 0) this.streams.delete(signInId)
    }
  }
  private async endStreams(): Promise<void> {
    const open = [...this.streams.keys()]
    if (open.length === 0) return
    const rows = await this.signIns.find({ where: { id: In(open), createdAt: MoreThan(new Date(this.now() - ABSOLUTE_MS)) } })
    const standing = new Set(rows.map((row) => row.id))
    for (const [id, closers] of [...this.streams]) if (!standing.has(id)) for (const close of [...closers]) close()
  }
}
