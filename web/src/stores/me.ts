import { mayAs, type Me } from '@vectum/core'
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { useSettings } from './settings.ts'

/** Whose a thing is that was typed here and waits. */
export interface Signer {
  id: string
  name: string
}

/** Who is signed in on this screen; before anybody signs in at all, whoever sits here. */
export const useMe = defineStore('me', () => {
  const settings = useSettings()
  /** null: not asked yet */
  const me = shallowRef<Me | null>(null)
  const told = new Set<() => void>()

  const access = computed(() => me.value?.access ?? 'open')
  /** nothing leaves before it is known whose it would be */
  const known = computed(() => me.value !== null && me.value.access !== 'signed-out')
  const signer = computed<Signer | null>(() => (me.value?.person ? { id: me.value.person.id, name: me.value.person.name } : null))
  const role = computed(() => me.value?.role ?? 'owner')
  const mayAct = computed(() => mayAs(role.value, 'fitter'))

  function take(next: Me): void {
    const entered = me.value === null || access.value === 'signed-out'
    me.value = next
    if (next.person) settings.person = next.person.name
    if (next.access !== 'signed-out' && entered) for (const tell of told) tell()
  }
  /** an answer said that nobody is signed in here any more: what was typed stays, a sheet asks */
  function lost(): void {
    me.value = { access: 'signed-out', person: null, role: null, wantsSecret: false, firstOwner: false }
  }
  /** called when it becomes known who works here: on the first answer, and when somebody signs in */
  function onEntered(tell: () => void): void {
    told.add(tell)
  }
  return { me, access, known, signer, role, mayAct, take, lost, onEntered }
})
