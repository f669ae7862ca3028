/** The sample beside the one that is taken apart, and whether it answers the question. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'
import type { Schemas } from '@/api/client'
import { teardownQuery } from '@/api/queries'
import type { Reference } from './answers'
import type { ReferenceChoice } from './references'

export function useReference(question: Ref<Schemas['Attribute'] | undefined>) {
  const chosenReference = ref<ReferenceChoice | null>(null)
  const referenceId = computed(() => chosenReference.value?.id ?? 0)
  const { data: referenceSheet } = useQuery(
    computed(() => ({ ...teardownQuery(referenceId.value), enabled: referenceId.value > 0 })),
  )
  const reference = computed<Reference | null>(() => {
    const chosen = chosenReference.value
    if (!chosen || !question.value) return null
    const seen = referenceSheet.value?.observations.find((o) => o.attribute === question.value?.key)
    return {
      id: chosen.id,
      name: chosen.name,
      family: chosen.group !== 'the bench',
      answered: seen?.status === 'measured' || seen?.status === 'observed',
    }
  })
  return { chosenReference, referenceId, reference }
}
