import { Invited, Me, Members, OneTimeCode, Member, type Role } from '@vectum/core'
import { ref } from 'vue'
import { api, type ApiError } from '../api/client.ts'
import { useMe } from '../stores/me.ts'

/** Signing in and out, and who works here: what is asked of the server, one thing at a time, and what it said against it. */
export function usePeople() {
  const store = useMe()
  const busy = ref(false)
  const refused = ref('')
  async function doing<T>(work: () => Promise<T>): Promise<T | null> {
    busy.value = true
    refused.value = ''
    try {
      return await work()
    } catch (e) {
      const error = e as ApiError
      refused.value = error.fields?.map((f) => `${f.path} ${f.message}`).join('; ') || error.message
      return null
    } finally {
      busy.value = false
    }
  }
  const post = (body?: object) => ({ method: 'POST', body })
  const entered = (path: string, body: object) =>
    doing(async () => {
      store.take(await api(path, Me, post(body)))
      return true
    })
  return {
    busy,
    refused,
    makeFirst: (name: string, secret: string) => entered('/people/first', { name, secret }),
    signIn: (name: string, secret: string) => entered('/sign-in', { name, secret }),
    byCode: (code: string) => entered('/sign-in/code', { code }),
    setSecret: (secret: string, current?: string) => entered('/me/secret', { secret, ...(current ? { current } : {}) }),
    signOut: () =>
      doing(async () => {
        store.take(await api('/sign-out', Me, post()))
      }),
    list: () => doing(() => api('/people', Members)),
    invite: (name: string, role: Role) => doing(() => api('/people', Invited, post({ name, role }))),
    change: (id: string, change: { role?: Role; leaves?: true }) =>
      doing(() => api(`/people/${id}`, Member, { method: 'PATCH', body: change })),
    code: (personId?: string) => doing(() => api('/pairings', OneTimeCode, post(personId ? { personId } : {}))),
  }
}
