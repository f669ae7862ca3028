/** What a run may have been fed by and mounted on, each with "not noted" before the others. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { standsQuery, suppliesQuery } from '@/api/rigQueries'

const orNone = (rows: readonly { id: number; name: string }[] | undefined) => [
  { key: 0, label: 'not noted' },
  ...(rows ?? []).map((row) => ({ key: row.id, label: row.name })),
]

export function useSupplyAndStand() {
  const { data: supplies } = useQuery(suppliesQuery())
  const { data: stands } = useQuery(standsQuery())
  return {
    supplies: computed(() => orNone(supplies.value)),
    stands: computed(() => orNone(stands.value)),
  }
}
