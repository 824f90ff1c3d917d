import { defineStore } from 'pinia'
import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { computed } from 'vue'
import { formatQuantity, wordsOf, type Dimension, type Said, type UnitPreferences } from '@vectum/core'

/** What one person likes, kept in their browser: name, units, mixture, theme. */
export const useSettings = defineStore('settings', () => {
  const person = useLocalStorage('vectum.person', '')
  const system = useLocalStorage<'metric' | 'inch'>('vectum.units', 'metric')
  const mixture = useLocalStorage<'lambda' | 'AFR'>('vectum.mixture', 'lambda')
  const theme = useLocalStorage<'auto' | 'light' | 'dark'>('vectum.theme', 'auto')
  const prefersDark = usePreferredDark()
  const dark = computed(() => theme.value === 'dark' || (theme.value === 'auto' && prefersDark.value))
  const units = computed<UnitPreferences>(() => ({ system: system.value, mixture: mixture.value, stoichAfr: 14.7 }))
  const format = (value: number | null | undefined, dimension: Dimension, decimals?: number) =>
    formatQuantity(value, dimension, units.value, decimals)
  /** a sentence of the core in this person's units */
  const say = (said: Said) => wordsOf(said, units.value)
  return { person, system, mixture, theme, dark, units, format, say }
})
