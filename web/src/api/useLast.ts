/** The last answer that was one: what was shown stays while the next is on its way or refused. */
import { type Ref, shallowRef, watch } from 'vue'

export function useLast<T>(data: Ref<T | undefined>): Ref<T | undefined> {
  const last = shallowRef<T | undefined>(data.value)
  watch(
    data,
    (now) => {
      if (now !== undefined) last.value = now
    },
    { immediate: true },
  )
  return last
}
