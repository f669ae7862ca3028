/** Queries of other benches: their packs, what they say of a motor, what is read apart. */
import { queryOptions } from '@tanstack/vue-query'
import { api, dataOf } from './client'

export const otherBenchesQuery = () =>
  queryOptions({
    queryKey: ['other-benches'],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/other-benches/', { params: { query: { page_size: 200 } } }))
        .results,
  })

/** One with its packs, held against ours. */
export const otherBenchQuery = (id: number | null) =>
  queryOptions({
    queryKey: ['other-benches', id],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/other-benches/{id}/', { params: { path: { id: id ?? 0 } } })),
    enabled: id !== null,
  })

/** What other benches say of a motor of ours. */
export const quotedQuery = (motor: number) =>
  queryOptions({
    queryKey: ['other-benches', 'motor', motor],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/motors/{id}/quoted/', { params: { path: { id: motor } } })),
  })
