/** A choice of a page that its address names, so that a reload and a link keep it. */
import { computed, type WritableComputedRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/** What was said and has not arrived in the address: two at once must not undo one another. */
let onTheWay: Record<string, string | undefined> = {}
let writes = 0

export function useRouteQuery(name: string, usual: string): WritableComputedRef<string> {
  const route = useRoute()
  const router = useRouter()
  return computed({
    get: () => {
      const said = route.query[name]
      return typeof said === 'string' && said ? said : usual
    },
    set: (value) => {
      onTheWay[name] = value === usual ? undefined : value
      const mine = ++writes
      void router.replace({ query: { ...route.query, ...onTheWay } }).finally(() => {
        if (mine === writes) onTheWay = {}
      })
    },
  })
}
