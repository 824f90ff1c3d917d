import { defineStore } from 'pinia'
import { onScopeDispose, ref } from 'vue'

/** Whether server and database answer. While they do not, it asks every few seconds. */
export const useLink = defineStore('link', () => {
  const state = ref<'up' | 'server' | 'database'>('up')
  const back = new Set<() => void>()
  let timer: ReturnType<typeof setTimeout> | null = null

  async function ask(): Promise<void> {
    timer = null
    try {
      const response = await fetch('/api/health')
      if (response.ok) return found()
      state.value = 'database'
    } catch {
      state.value = 'server'
    }
    timer = setTimeout(() => void ask(), 2500)
  }
  function lost(what: 'server' | 'database'): void {
    state.value = what
    if (!timer) timer = setTimeout(() => void ask(), 1500)
  }
  function found(): void {
    if (state.value === 'up') return
    state.value = 'up'
    for (const tell of back) tell()
  }
  /** called when the link comes back */
  function onBack(tell: () => void): void {
    back.add(tell)
  }
  onScopeDispose(() => {
    if (timer) clearTimeout(timer)
  })
  return { state, lost, found, onBack }
})
