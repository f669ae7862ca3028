/** One choice of a page that its address names. */
import { computed, type WritableComputedRef } from 'vue'
import { useAddress } from './useAddress'

export function useRouteQuery(name: string, usual: string): WritableComputedRef<string> {
  const { word, ask } = useAddress()
  return computed({
    get: () => word(name) || usual,
    set: (value) => ask({ [name]: value === usual ? undefined : value }),
  })
}
