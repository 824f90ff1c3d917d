import { computed, type WritableComputedRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/** A choice of what to look at, kept in the address: a reload or a link shows the same. */
export function useRouteQuery(name: string, standard: string): WritableComputedRef<string> {
  const route = useRoute()
  const router = useRouter()
  return computed({
    get: () => (typeof route.query[name] === 'string' ? route.query[name] : standard),
    set: (value) => void router.replace({ query: { ...route.query, [name]: value } }),
  })
}
