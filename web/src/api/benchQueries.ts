/** Queries of the bench: what is in hand, and whether repeats agree. */
import { queryOptions } from '@tanstack/vue-query'
import { api, dataOf } from './client'

/** What is expected along the run in hand; frames carry the rest. */
export const inHandQuery = (run_id: string | null) =>
  queryOptions({
    queryKey: ['in-hand', run_id],
    queryFn: async () => dataOf(await api.GET('/api/v1/bench/in-hand/')),
    enabled: run_id !== null,
    staleTime: Infinity,
    retry: false,
  })

/** The repeats of a run so far, and what to do next. */
export const repeatsQuery = (run: string | null, wanted: number) =>
  queryOptions({
    queryKey: ['repeats', run, wanted],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/bench/repeats/', { params: { query: { run: run ?? '', wanted } } }),
      ),
    enabled: run !== null,
    retry: false,
  })
