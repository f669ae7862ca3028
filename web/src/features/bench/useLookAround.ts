/** What of the checklist this run asks for; the whole list until the server has said less. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { type AskedLook, checklistQuery } from '@/api/queries'
import { kindOf } from './profile'
import { type BenchDraft, checklistOf } from './setup'

export function useLookAround(draft: Ref<BenchDraft>) {
  const asked = computed<AskedLook>(() => ({
    sample: draft.value.sample ?? undefined,
    load: (kindOf(draft.value).needs_propeller && draft.value.propeller) || undefined,
    supply: draft.value.supply ?? undefined,
    stand: draft.value.stand ?? undefined,
    kind: kindOf(draft.value).key as AskedLook['kind'],
    off: draft.value.off as AskedLook['off'],
    page_grace_s: draft.value.page_grace_s,
    guarded: draft.value.guarded,
    by_hand: draft.value.by_hand,
  }))
  const told = useQuery(computed(() => checklistQuery(asked.value)))
  const items = computed(() => {
    const whole = checklistOf(draft.value)
    const wanted = told.data.value?.items
    return wanted ? whole.filter((item) => wanted.includes(item.key)) : whole
  })
  return { items, why: computed(() => told.data.value?.why ?? ''), busy: told.isFetching }
}
