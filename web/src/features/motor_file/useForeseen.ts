/** What the model foresees of a maker's rows, by row and figure. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type MaybeRefOrGetter, toValue } from 'vue'
import type { Schemas } from '@/api/client'
import { foreseenLoadsQuery } from '@/api/queries'

export function useForeseen(
  motor: MaybeRefOrGetter<number>,
  loads: MaybeRefOrGetter<readonly Schemas['LoadOnFile'][]>,
) {
  const query = useQuery(computed(() => foreseenLoadsQuery(toValue(motor), toValue(loads).length)))
  const rows = computed(() => new Map((query.data.value ?? []).map((row) => [row.id, row])))
  return {
    /** One stated figure as it is foreseen; nothing until it is known, or where it is not. */
    of: (load: number, name: string) => {
      const found = rows.value.get(load)?.figures.find((one) => one.name === name)
      return found?.foreseen.value == null ? null : found
    },
    restsOn: (load: number) => rows.value.get(load)?.rests_on ?? '',
    whyNot: (load: number) => rows.value.get(load)?.why_not ?? '',
  }
}
