import { onBeforeUnmount, onMounted } from 'vue'
import type { Router } from 'vue-router'
import { stations, type StationId } from '@vectum/core'

export interface Shortcut {
  keys: string
  does: string
}

const letters: Record<StationId, string> = {
  survey: 's',
  plan: 'n',
  fuel: 'u',
  spark: 'p',
  tune: 't',
  start: 'f',
  learn: 'l',
  handover: 'h',
}

/** Every key the shell knows, for the sheet and for the handler alike. */
export const stationKeys: (Shortcut & { name: string })[] = [
  ...stations.map((s) => ({ keys: `g ${letters[s.id]}`, does: s.title, name: s.id as string })),
  { keys: 'g b', does: 'Board', name: 'board' },
  { keys: 'g o', does: 'Logbook', name: 'logbook' },
]
export const gridKeys: Shortcut[] = [
  { keys: 'arrows', does: 'move in a table' },
  { keys: 'Shift + arrows', does: 'stretch the block' },
  { keys: '+ and −', does: 'add or take one step' },
  { keys: 'type a number, Enter', does: 'set the block' },
  { keys: 'Ctrl + Z, Ctrl + Y', does: 'undo, redo' },
]
export const dialKeys: Shortcut[] = [
  { keys: '← →', does: 'move what has the focus by 1°' },
  { keys: 'Shift + ← →', does: 'by 5°' },
]

const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))

export function useKeys(router: Router, buildId: () => string | null, help: () => void, palette: () => void): void {
  let armedUntil = 0
  function onKey(event: KeyboardEvent): void {
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
      event.preventDefault()
      return palette()
    }
    if (typing(event.target) || event.ctrlKey || event.metaKey || event.altKey) return
    if (event.key === '?') return help()
    if (event.key === 'g') {
      armedUntil = Date.now() + 1500
      return
    }
    if (Date.now() > armedUntil) return
    const hit = stationKeys.find((s) => s.keys === `g ${event.key}`)
    armedUntil = 0
    if (!hit) return
    const id = buildId()
    if (hit.name === 'board') void router.push('/')
    else if (id) void router.push({ name: hit.name, params: { id } })
  }
  onMounted(() => window.addEventListener('keydown', onKey))
  onBeforeUnmount(() => window.removeEventListener('keydown', onKey))
}
