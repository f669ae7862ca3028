/** Queries of what comes afterwards: flights, letters, what waits, a motor's life so far. */
import { keepPreviousData, queryOptions } from '@tanstack/vue-query'
import { api, dataOf } from './client'

/** What came due, and what nobody answered. */
export const waitingQuery = () =>
  queryOptions({
    queryKey: ['afterwards', 'waiting'],
    queryFn: async () => dataOf(await api.GET('/api/v1/afterwards/')),
  })

export const afterwardsQuery = (motor: number, wearHours?: number) =>
  queryOptions({
    queryKey: ['afterwards', 'motor', motor, wearHours],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/motors/{id}/afterwards/', {
          params: { path: { id: motor }, query: { wear_hours: wearHours } },
        }),
      ),
  })

export const flightsQuery = (craft: number | null, page: number) =>
  queryOptions({
    queryKey: ['afterwards', 'flights', craft, page],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/flights/', {
          params: { query: { page, page_size: 50, ...(craft === null ? {} : { craft }) } },
        }),
      ),
    placeholderData: keepPreviousData,
  })

/** What the flights of a craft say together. */
export const flownQuery = (craft: number | null) =>
  queryOptions({
    queryKey: ['afterwards', 'flown', craft],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/craft/{id}/flown/', { params: { path: { id: craft ?? 0 } } })),
    enabled: craft !== null,
  })

export const lettersQuery = (page: number) =>
  queryOptions({
    queryKey: ['afterwards', 'letters', page],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/letters/', { params: { query: { page, page_size: 50 } } })),
    placeholderData: keepPreviousData,
  })

/** One letter, for who begins a campaign that answers it. */
export const letterQuery = (id: number | null) =>
  queryOptions({
    queryKey: ['afterwards', 'letter', id],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/letters/{id}/', { params: { path: { id: id ?? 0 } } })),
    enabled: id !== null,
  })

export const followUpsQuery = () =>
  queryOptions({
    queryKey: ['afterwards', 'follow-ups'],
    queryFn: async () => dataOf(await api.GET('/api/v1/follow-ups/')),
  })
