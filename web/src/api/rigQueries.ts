/** Queries of the rig: propellers, supplies, stands, ESCs, adapters, and the bench day. */
import { keepPreviousData, queryOptions } from '@tanstack/vue-query'
import { api, dataOf } from './client'
import { ALL, everyPage } from './pages'

export const propellersQuery = () =>
  queryOptions({
    queryKey: ['propellers'],
    queryFn: () =>
      everyPage(async (page) =>
        dataOf(await api.GET('/api/v1/propellers/', { params: { query: { ...ALL, page } } })),
      ),
  })

/** The first propellers of the library that hold some words. */
export const propellerSearchQuery = (search: string) =>
  queryOptions({
    queryKey: ['propellers', 'search', search],
    queryFn: async () => {
      const query = { search: search || undefined, page_size: 50 }
      return dataOf(await api.GET('/api/v1/propellers/', { params: { query } })).results
    },
    placeholderData: keepPreviousData,
  })

export const commonSizesQuery = () =>
  queryOptions({
    queryKey: ['propellers', 'common-sizes'],
    queryFn: async () => dataOf(await api.GET('/api/v1/propellers/common-sizes/')),
  })

export const propellerQuery = (id: number | null) =>
  queryOptions({
    queryKey: ['propellers', 'one', id],
    queryFn: async () => {
      const query = { id: id ?? undefined, page_size: 1 }
      const page = dataOf(await api.GET('/api/v1/propellers/', { params: { query } }))
      return page.results[0] ?? null
    },
    enabled: id !== null,
    placeholderData: keepPreviousData,
  })

export const suppliesQuery = () =>
  queryOptions({
    queryKey: ['supplies'],
    queryFn: () =>
      everyPage(async (page) =>
        dataOf(await api.GET('/api/v1/supplies/', { params: { query: { ...ALL, page } } })),
      ),
  })

export const standsQuery = () =>
  queryOptions({
    queryKey: ['stands'],
    queryFn: () =>
      everyPage(async (page) =>
        dataOf(await api.GET('/api/v1/stands/', { params: { query: { ...ALL, page } } })),
      ),
  })

export const standQuery = (id: number | null) =>
  queryOptions({
    queryKey: ['stands', id],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/stands/{id}/', { params: { path: { id: id ?? 0 } } })),
    enabled: id !== null,
  })

export const escsQuery = () =>
  queryOptions({
    queryKey: ['escs'],
    queryFn: () =>
      everyPage(async (page) =>
        dataOf(await api.GET('/api/v1/escs/', { params: { query: { ...ALL, page } } })),
      ),
  })

export const adaptersQuery = () =>
  queryOptions({
    queryKey: ['adapters'],
    queryFn: () =>
      everyPage(async (page) =>
        dataOf(await api.GET('/api/v1/adapters/', { params: { query: { ...ALL, page } } })),
      ),
  })

/** A bench day, `2026-10-05` or `today`. */
export const benchDayQuery = (day: string) =>
  queryOptions({
    queryKey: ['bench-day', day],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/bench-days/{day}/', { params: { path: { day } } })),
  })

/** What the chosen gear allows, the binding limit of each kind first. */
export const gearLimitsQuery = (
  sample: number | null,
  supply: number | null,
  stand: number | null,
) =>
  queryOptions({
    queryKey: ['gear-limits', sample, supply, stand],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/bench/limits/', {
          params: {
            query: {
              sample: sample ?? undefined,
              supply: supply ?? undefined,
              stand: stand ?? undefined,
            },
          },
        }),
      ),
    enabled: sample !== null || supply !== null,
  })

/** Kinds of lead: the bench's table, what is usual, what own off-cuts say. */
export const leadWiresQuery = () =>
  queryOptions({
    queryKey: ['lead-wires'],
    queryFn: async () => dataOf(await api.GET('/api/v1/lead-wires/', {})),
  })

/** What went wrong with the gear. */
export const gearIncidentsQuery = () =>
  queryOptions({
    queryKey: ['gear-incidents'],
    queryFn: async () => dataOf(await api.GET('/api/v1/gear-incidents/', {})),
  })
