import { inject, nextTick, provide, ref, watch, type InjectionKey, type Ref } from 'vue'
import { useRoute, useRouter, type RouteLocationRaw } from 'vue-router'
import type { Where } from '@vectum/core'

/** What a tap on "Next" or on a finding leads to, while its screen is open: the field or element, and a value offered there. */
export interface Landing {
  at: Ref<string | null>
  offer: Ref<string | null>
  /** the offer was taken or waved away */
  done: () => void
}
export const LANDING: InjectionKey<Landing> = Symbol('landing')
const SHOWN_MS = 3000

/** The address of a place: the station's screen, the room open in it, and what to point at. */
export const routeTo = ({ station, part, field, offer }: Where, buildId: string): RouteLocationRaw => ({
  name: station,
  params: { id: buildId },
  query: {
    ...(part === undefined ? {} : { tab: part }),
    ...(field === undefined ? {} : { at: field }),
    ...(offer === undefined ? {} : { offer: String(offer) }),
  },
})

function show(at: string, tries = 100): void {
  const found = document.querySelector<HTMLElement & SVGElement>(`[data-at="${CSS.escape(at)}"]`)
  if (!found) {
    // a screen that has just been asked for loads first
    if (tries > 0) setTimeout(() => show(at, tries - 1), 100)
    return
  }
  found.scrollIntoView({ block: 'center' })
  const control = found.matches('button, input, [tabindex]')
    ? found
    : found.querySelector<HTMLElement>('input, select, textarea, button, [tabindex]')
  control?.focus({ preventScroll: true })
  found.classList.add('landed')
  setTimeout(() => found.classList.remove('landed'), SHOWN_MS)
}

/** In the shell: whoever comes with a place in the address is taken to it. */
export function provideLanding(): Landing {
  const route = useRoute()
  const router = useRouter()
  const text = (value: unknown): string | null => (typeof value === 'string' && value !== '' ? value : null)
  const at = ref<string | null>(null)
  const offer = ref<string | null>(null)
  watch(
    () => [route.name, route.query.at, route.query.offer, route.query.tab] as const,
    ([, place, value]) => {
      at.value = text(place)
      offer.value = text(value)
      if (at.value) void nextTick(() => show(at.value!))
    },
    { immediate: true },
  )
  const landing: Landing = {
    at,
    offer,
    done: () => {
      const { at: _, offer: __, ...query } = route.query
      void router.replace({ query })
    },
  }
  provide(LANDING, landing)
  return landing
}
const nowhere: Landing = { at: ref(null), offer: ref(null), done: () => undefined }
export const useLanding = (): Landing => inject(LANDING, nowhere)
