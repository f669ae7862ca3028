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

/** Sequences of profiles that are kept by name. */
export const savedSequencesQuery = () =>
  queryOptions({
    queryKey: ['saved-profiles', 'sequences'],
    queryFn: async () => dataOf(await api.GET('/api/v1/bench/sequences/')),
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

/** How each pack stands that is in use. */
export const packsNowQuery = () =>
  queryOptions({
    queryKey: ['packs-now'],
    queryFn: async () => dataOf(await api.GET('/api/v1/packs-now/')),
  })

/** Why a supply of a campaign has to wait, and what can be run meanwhile. */
export const meanwhileQuery = (campaign: number | null, supply: number | null) =>
  queryOptions({
    queryKey: ['plan', 'meanwhile', campaign, supply],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/campaigns/{id}/meanwhile/', {
          params: { path: { id: campaign ?? 0 }, query: { supply: supply ?? undefined } },
        }),
      ),
    enabled: campaign !== null && supply !== null,
  })

/** What was decided against the proposals of a campaign. */
export const overridesQuery = (campaign: number | null) =>
  queryOptions({
    queryKey: ['plan', 'overrides', campaign],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/campaigns/{id}/overrides/', {
          params: { path: { id: campaign ?? 0 } },
        }),
      ),
    enabled: campaign !== null,
  })

/** What readers ask of a campaign. */
export const requestsQuery = (campaign: number | null) =>
  queryOptions({
    queryKey: ['plan', 'requests', campaign],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/campaigns/{id}/requests/', {
          params: { path: { id: campaign ?? 0 } },
        }),
      ),
    enabled: campaign !== null,
  })

/** The run sheet that was taken to the bench, and what is done of it. */
export const daySheetQuery = () =>
  queryOptions({
    queryKey: ['day-sheet'],
    queryFn: async () => dataOf(await api.GET('/api/v1/day-sheets/in-use/')),
  })

/** What to look at when a motor does not start. */
export const notStartingQuery = () =>
  queryOptions({
    queryKey: ['not-starting'],
    queryFn: async () => dataOf(await api.GET('/api/v1/not-starting/')),
    staleTime: Infinity,
  })
