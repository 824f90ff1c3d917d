import {
  ChangedPerson,
  CodeFor,
  FirstOwner,
  Invited,
  Me,
  NewPerson,
  NewSecret,
  OneTimeCode,
  Members,
  Member,
  SignIn,
  SignInByCode,
} from '@vectum/core'
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import { z } from 'zod'
import { InvalidInput, Problem } from '../http/problem.ts'
import { docs } from '../http/schema.ts'
import { giveCookie, type Identity, isHere, takeCookie, tokenOf } from './identity.ts'
import { type PeopleStore, personOf } from './store.ts'

const tags = ['people']
const PersonParams = z.object({ personId: z.uuid() })

/** Tries from one address, and at one name, in five minutes. */
const TRIES = { byAddress: 30, byName: 10, timeWindow: '5 minutes' } as const

/** @throws InvalidInput for a secret that whoever knows the name would try first */
function refuseEasy(secret: string, name: string): void {
  const plain = secret.toLowerCase()
  const easy =
    new Set(plain).size < 5 ? 'is made of too few different characters' : plain.includes(name.toLowerCase()) ? 'holds the name' : null
  if (easy) throw new InvalidInput([{ path: 'secret', message: `${easy}; three or four words that do not belong together are good` }])
}
const device = (request: FastifyRequest): string => request.headers['user-agent'] ?? 'not told'

/** People, signing in and out, and one-time codes. `addresses` are where a tablet on this network finds the server. */
export function peopleRoutes(app: FastifyInstance, people: PeopleStore, addresses: readonly string[]): void {
  const meOf = async (request: FastifyRequest, identity: Identity | null = request.identity): Promise<z.input<typeof Me>> => {
    const exist = await people.exist()
    return {
      access: identity?.kind === 'open' ? 'open' : identity ? 'signed-in' : 'signed-out',
      person: identity?.kind === 'person' ? { id: identity.person.personId, name: identity.name, role: identity.role } : null,
      role: identity?.role ?? null,
      wantsSecret: identity?.kind === 'person' && identity.person.wantsSecret,
      firstOwner: !exist && isHere(request),
    }
  }
  const signedIn = async (request: FastifyRequest, reply: FastifyReply, personId: string, setsSecret = false) => {
    // who was signed in on this browser until now is no longer
    const before = tokenOf(request)
    if (before !== undefined) await people.signOutToken(before)
    const token = await people.signIn(personId, device(request), setsSecret)
    giveCookie(request, reply, token)
    const { who } = (await people.whoIs(token, false))!
    return meOf(request, { kind: 'person', role: who.role, name: who.name, person: who })
  }
  const self = (request: FastifyRequest) => {
    if (request.identity?.kind === 'person') return request.identity.person
    throw new Problem(403, 'SIGN_IN_FIRST', 'This is done by a person who is signed in.')
  }
  const codeOf = async (personId: string, setsSecret: boolean) => {
    const { code, expiresAt } = await people.makeCode(personId, setsSecret)
    return { code, expiresAt: expiresAt.toISOString(), addresses: [...addresses] }
  }
  const slow = (access: 'anyone' | 'reader') => ({
    access,
    keepsNoAnswer: true,
    rateLimit: { max: TRIES.byAddress, timeWindow: TRIES.timeWindow },
  })
  const countName = app.createRateLimit({
    max: TRIES.byName,
    timeWindow: TRIES.timeWindow,
    keyGenerator: (request) => `name ${(request.body as z.infer<typeof SignIn>).name.trim().toLowerCase()}`,
  })
  const byName = async (request: FastifyRequest, reply: FastifyReply) => {
    const tries = await countName(request)
    if (tries.isAllowed || !tries.isExceeded) return
    reply.header('retry-after', tries.ttlInSeconds)
    throw new Problem(
      429,
      'TOO_MANY_REQUESTS',
      `Too many tries at this name. Wait ${Math.ceil(tries.ttlInSeconds / 60)} min, or use a one-time code.`,
    )
  }

  app.get('/api/me', { config: { access: 'anyone' }, schema: docs({ summary: 'Who is signed in here', tags, answer: Me }) }, (request) =>
    meOf(request),
  )
  app.post<{ Body: z.infer<typeof FirstOwner> }>(
    '/api/people/first',
    {
      config: slow('anyone'),
      schema: docs({ summary: 'Makes the first owner; only on the machine itself', tags, body: FirstOwner, answer: Me, answerStatus: 201 }),
    },
    async (request, reply) => {
      if (!isHere(request))
        throw new Problem(403, 'LOOPBACK_ONLY', 'The first owner is made on the machine that runs Vectum, by its address localhost.')
      const { name, secret } = request.body
      refuseEasy(secret, name)
      const person = await people.addFirst(name, secret)
      return reply.code(201).send(await signedIn(request, reply, person.id))
    },
  )
  app.post<{ Body: z.infer<typeof SignIn> }>(
    '/api/sign-in',
    {
      config: slow('anyone'),
      preHandler: byName,
      schema: docs({ summary: 'Signs in by name and secret; the answer sets the session cookie', tags, body: SignIn, answer: Me }),
    },
    async (request, reply) => {
      const person = await people.check(request.body.name, request.body.secret)
      if (!person) throw new Problem(401, 'SIGN_IN_FAILED', 'Name and secret do not belong together.')
      return signedIn(request, reply, person.id)
    },
  )
  app.post<{ Body: z.infer<typeof SignInByCode> }>(
    '/api/sign-in/code',
    {
      config: slow('anyone'),
      schema: docs({ summary: 'Signs in by a one-time code: a tablet, or somebody invited', tags, body: SignInByCode, answer: Me }),
    },
    async (request, reply) => {
      const used = await people.useCode(request.body.code)
      if (!used) throw new Problem(401, 'SIGN_IN_FAILED', 'This code is none, was used, or is too old. Ask for a new one.')
      return signedIn(request, reply, used.person.id, used.setsSecret)
    },
  )
  app.post(
    '/api/sign-out',
    { config: { access: 'reader' }, schema: docs({ summary: 'Ends this sign-in', tags, answer: Me }) },
    async (request, reply) => {
      await people.signOut(self(request).signInId)
      takeCookie(request, reply)
      return meOf(request, null)
    },
  )
  app.post<{ Body: z.infer<typeof NewSecret> }>(
    '/api/me/secret',
    {
      config: slow('reader'),
      schema: docs({ summary: 'Sets one’s own secret; ends one’s other sign-ins', tags, body: NewSecret, answer: Me }),
    },
    async (request) => {
      const me = self(request)
      const { secret, current } = request.body
      if (!me.wantsSecret && !(await people.check(me.name, current ?? '')))
        throw new Problem(403, 'SIGN_IN_FAILED', 'The secret until now is another one.')
      refuseEasy(secret, me.name)
      await people.setSecret(me.personId, secret, me.signInId)
      return meOf(request, { kind: 'person', role: me.role, name: me.name, person: { ...me, wantsSecret: false } })
    },
  )
  app.get('/api/people', { schema: docs({ summary: 'Who works here, and who did', tags, answer: Members }) }, async () =>
    (await people.list()).map(personOf),
  )
  app.post<{ Body: z.infer<typeof NewPerson> }>(
    '/api/people',
    {
      config: { access: 'owner' },
      schema: docs({
        summary: 'Invites somebody: the code signs them in once, to set a secret',
        tags,
        body: NewPerson,
        answer: Invited,
        answerStatus: 201,
      }),
    },
    async (request, reply) => {
      self(request)
      const person = await people.add(request.body.name, request.body.role)
      return reply.code(201).send({ person: personOf(person), invitation: await codeOf(person.id, true) })
    },
  )
  app.patch<{ Params: z.infer<typeof PersonParams>; Body: z.infer<typeof ChangedPerson> }>(
    '/api/people/:personId',
    {
      config: { access: 'owner' },
      schema: docs({
        summary: 'Another role, or leaving: their entries stay',
        tags,
        params: PersonParams,
        body: ChangedPerson,
        answer: Member,
      }),
    },
    async (request) => {
      self(request)
      return personOf(await people.change(request.params.personId, request.body))
    },
  )
  app.post<{ Body: z.infer<typeof CodeFor> }>(
    '/api/pairings',
    {
      config: { access: 'reader', keepsNoAnswer: true },
      schema: docs({
        summary: 'A one-time code: without a person, for another device of one’s own; an owner also for somebody who sets a new secret',
        tags,
        body: CodeFor,
        answer: OneTimeCode,
        answerStatus: 201,
      }),
    },
    async (request, reply) => {
      const me = self(request)
      const { personId } = request.body
      if (personId === undefined || personId === me.personId) return reply.code(201).send(await codeOf(me.personId, false))
      if (me.role !== 'owner') throw new Problem(403, 'ROLE_TOO_LOW', 'Only an owner makes a code for somebody else.')
      const person = await people.get(personId)
      if (person.leftAt) throw new Problem(409, 'HAS_LEFT', `${person.name} has left.`)
      return reply.code(201).send(await codeOf(person.id, true))
    },
  )
}
