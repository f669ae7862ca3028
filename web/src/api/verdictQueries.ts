/** Queries of verdicts: how they stand, their prose and figures, what may be said, how it is spoken. */
import { keepPreviousData, queryOptions } from '@tanstack/vue-query'
import { api, dataOf } from './client'

/** How each stands is looked up anew after every write: a page of them must not be long. */
export const VERDICTS_A_PAGE = 20

/** How each verdict stands, the one changed last first. */
export const verdictsQuery = (page: number) =>
  queryOptions({
    queryKey: ['verdicts', page],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/verdicts/', {
          params: { query: { page, page_size: VERDICTS_A_PAGE } },
        }),
      ),
    placeholderData: keepPreviousData,
  })

/** One verdict with its figures as they were and are. */
export const verdictQuery = (id: number) =>
  queryOptions({
    queryKey: ['verdict', id],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/verdicts/{id}/', { params: { path: { id } } })),
    retry: false,
  })

/** What may be said in a verdict, held against a motor where one is named. */
export const proposalsQuery = (id: number, against: number | null) =>
  queryOptions({
    queryKey: ['proposals', id, against],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/verdicts/{id}/proposals/', {
          params: { path: { id }, query: against === null ? {} : { against } },
        }),
      ),
    placeholderData: keepPreviousData,
  })

/** Figures that can be put into a verdict's prose. */
export const quotableQuery = (id: number, against: number | null) =>
  queryOptions({
    queryKey: ['quotable', id, against],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/verdicts/{id}/figures/', {
          params: { path: { id }, query: against === null ? {} : { against } },
        }),
      ),
  })

/** A verdict as it is spoken. */
export const notesQuery = (id: number) =>
  queryOptions({
    queryKey: ['notes', id],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/verdicts/{id}/notes/', { params: { path: { id } } })),
  })

/** What became of a verdict: its proposal, its page and the page's editions. */
export const publicationQuery = (id: number) =>
  queryOptions({
    queryKey: ['publication', id],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/verdicts/{id}/publication/', { params: { path: { id } } })),
  })

/** What is published. */
export const publishedPagesQuery = (page: number) =>
  queryOptions({
    queryKey: ['publications', page],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/publications/', { params: { query: { page } } })),
    placeholderData: keepPreviousData,
  })

/** How the bench publishes. */
export const publishingRulesQuery = () =>
  queryOptions({
    queryKey: ['publishing-rules'],
    queryFn: async () => dataOf(await api.GET('/api/v1/publishing-rules/')),
  })
