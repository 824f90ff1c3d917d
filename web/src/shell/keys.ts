import { onBeforeUnmount, onMounted } from 'vue'
import type { Router } from 'vue-router'

export interface Shortcut {
  keys: string
  does: string
}

/** Every key the shell knows, for the sheet and for the handler alike; stations tell theirs. */
export const stationKeys = (stations: readonly { id: string; title: string; key: string }[]): (Shortcut & { name: string })[] => [
  ...stations.map((s) => ({ keys: `g ${s.key}`, does: s.title, name: s.id })),
  { keys: 'g b', does: 'Board', name: 'board' },
  { keys: 'g o', does: 'Logbook', name: 'logbook' },
  { keys: 'g u', does: 'Control unit', name: 'unit' },
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

export function useKeys(
  router: Router,
  build: () => { id: string; stations: readonly { id: string; title: string; key: string }[] } | null,
  help: () => void,
  palette: () => void,
): void {
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
    const hit = stationKeys(build()?.stations ?? []).find((s) => s.keys === `g ${event.key}`)
    armedUntil = 0
    if (!hit) return
    const id = build()?.id
    if (hit.name === 'board') void router.push('/')
    else if (id) void router.push({ name: hit.name, params: { id } })
  }
  onMounted(() => window.addEventListener('keydown', onKey))
  onBeforeUnmount(() => window.removeEventListener('keydown', onKey))
}
