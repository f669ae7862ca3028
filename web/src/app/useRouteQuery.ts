/** A choice of a page that its address names, so that a reload and a link keep it. */
import { computed, type WritableComputedRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'

export function useRouteQuery(name: string, usual: string): WritableComputedRef<string> {
  const route = useRoute()
  const router = useRouter()
  return computed({
    get: () => {
      const said = route.query[name]
      return typeof said === 'string' && said ? said : usual
    },
    set: (value) =>
      void router.replace({
        query: { ...route.query, [name]: value === usual ? undefined : value },
      }),
  })
}
