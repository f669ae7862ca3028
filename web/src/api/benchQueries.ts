/** Queries of the bench: what is in hand, and whether repeats agree. */
import { queryOptions } from '@tanstack/vue-query'
import { api, dataOf, type Schemas } from './client'

/** What is expected along the run in hand; frames carry the rest. */
export const inHandQuery = (run_id: string | null) =>
  queryOptions({
    queryKey: ['in-hand', run_id],
    queryFn: async () => dataOf(await api.GET('/api/v1/bench/in-hand/')),
    enabled: run_id !== null,
    staleTime: Infinity,
    retry: false,
  })

/** Profiles that are kept by name. */
export const savedProfilesQuery = () =>
  queryOptions({
    queryKey: ['saved-profiles'],
    queryFn: async () => dataOf(await api.GET('/api/v1/bench/profiles/')),
  })

/** What is still to run of a campaign on one supply, in the order of a day. */
export const runSheetQuery = (
  campaign: number | null,
  supply: number | null,
  drift: Schemas['RunSheet']['drift'],
) =>
  queryOptions({
    queryKey: ['plan', 'sheet', campaign, supply, drift],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/campaigns/{id}/sheet/', {
          params: { path: { id: campaign ?? 0 }, query: { supply: supply ?? undefined, drift } },
        }),
      ),
    enabled: campaign !== null,
    retry: false,
  })

/** The run to make next of the newest open campaign. */
export const nextRunQuery = () =>
  queryOptions({
    queryKey: ['plan', 'next'],
    queryFn: async () => dataOf(await api.GET('/api/v1/plan/next/')),
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
