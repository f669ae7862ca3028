/** Every query of the application in one place, reused by the pages. */
import { keepPreviousData, queryOptions, type QueryClient } from '@tanstack/vue-query'
import { api, dataOf } from './client'

const ALL = { page_size: 500 }

export const sessionQuery = () =>
  queryOptions({
    queryKey: ['session'],
    queryFn: async () => dataOf(await api.GET('/api/v1/session/')),
    staleTime: 60_000,
  })

export const boardQuery = () =>
  queryOptions({
    queryKey: ['board'],
    queryFn: async () => dataOf(await api.GET('/api/v1/board/')),
  })

export const motorsQuery = () =>
  queryOptions({
    queryKey: ['motors'],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/motors/', { params: { query: ALL } })).results,
  })

export const motorFileQuery = (id: number) =>
  queryOptions({
    queryKey: ['motors', id],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/motors/{id}/', { params: { path: { id } } })),
  })

export const vocabularyQuery = () =>
  queryOptions({
    queryKey: ['vocabulary'],
    queryFn: async () => dataOf(await api.GET('/api/v1/teardown/vocabulary/')),
    staleTime: Infinity,
  })

export const teardownQuery = (sample: number) =>
  queryOptions({
    queryKey: ['teardown', sample],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/samples/{id}/teardown/', { params: { path: { id: sample } } })),
  })

export const claimQuantitiesQuery = () =>
  queryOptions({
    queryKey: ['claim-quantities'],
    queryFn: async () => dataOf(await api.GET('/api/v1/claim-quantities/')),
    staleTime: Infinity,
  })

export const propellersQuery = () =>
  queryOptions({
    queryKey: ['propellers'],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/propellers/', { params: { query: ALL } })).results,
  })

export const suppliesQuery = () =>
  queryOptions({
    queryKey: ['supplies'],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/supplies/', { params: { query: ALL } })).results,
  })

export const standsQuery = () =>
  queryOptions({
    queryKey: ['stands'],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/stands/', { params: { query: ALL } })).results,
  })

export const runsQuery = (filter: { motor?: number; uid?: string } = {}) =>
  queryOptions({
    queryKey: ['runs', filter],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/runs/', {
          params: { query: { ...ALL, sample__motor: filter.motor, uid: filter.uid } },
        }),
      ).results,
    placeholderData: keepPreviousData,
  })

export const runQuery = (id: number) =>
  queryOptions({
    queryKey: ['run', id],
    queryFn: async () => dataOf(await api.GET('/api/v1/runs/{id}/', { params: { path: { id } } })),
  })

export const traceQuery = (id: number) =>
  queryOptions({
    queryKey: ['trace', id],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/runs/{id}/trace/', { params: { path: { id } } })),
    staleTime: Infinity,
  })

export const comparisonQuery = (runs: number[], baseline: number | null, thrusts: number[]) =>
  queryOptions({
    queryKey: ['compare', runs, baseline, thrusts],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/compare/', {
          params: {
            query: {
              runs: runs.join(','),
              baseline: baseline ?? undefined,
              thrusts: thrusts.length ? thrusts.join(',') : undefined,
            },
          },
        }),
      ),
    enabled: runs.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  })

export const snapshotsQuery = () =>
  queryOptions({
    queryKey: ['snapshots'],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/snapshots/', { params: { query: ALL } })).results,
  })

/** After a write: everything that counts or lists what has changed. */
export async function refreshRecord(client: QueryClient): Promise<void> {
  await Promise.all(
    ['board', 'motors', 'runs', 'run', 'teardown', 'compare'].map((key) =>
      client.invalidateQueries({ queryKey: [key] }),
    ),
  )
}
