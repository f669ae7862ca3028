/** Queries of the judgements: which motor leads, and what suits a craft. */
import { keepPreviousData, queryOptions } from '@tanstack/vue-query'
import type { paths } from './schema'
import { api, dataOf } from './client'

export type AskedRanking = NonNullable<paths['/api/v1/rank/']['get']['parameters']['query']>

/** A cohort scored; what was there stays shown while the next answer is on its way. */
export const rankingQuery = (asked: AskedRanking) =>
  queryOptions({
    queryKey: ['rank', 'ranking', asked],
    queryFn: async () => dataOf(await api.GET('/api/v1/rank/', { params: { query: asked } })),
    placeholderData: keepPreviousData,
    retry: false,
  })

/** Weights by use, and those that somebody keeps. */
export const weightsQuery = () =>
  queryOptions({
    queryKey: ['rank', 'weights'],
    queryFn: async () => dataOf(await api.GET('/api/v1/rank/weights/')),
  })

/** Rankings as they stood. */
export const keptRankingsQuery = () =>
  queryOptions({
    queryKey: ['rank', 'kept'],
    queryFn: async () => dataOf(await api.GET('/api/v1/rank/kept/')),
  })

/** Who moved since a kept ranking. */
export const movesQuery = (kept: number | null, asked: AskedRanking) =>
  queryOptions({
    queryKey: ['rank', 'moves', kept, asked],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/rank/kept/{id}/moves/', {
          params: { path: { id: kept ?? 0 }, query: asked },
        }),
      ),
    enabled: kept !== null,
    retry: false,
  })

/** Craft, those in use first. */
export const craftListQuery = () =>
  queryOptions({
    queryKey: ['match', 'craft'],
    queryFn: async () => dataOf(await api.GET('/api/v1/craft/')),
  })

/** Every motor on every propeller on a craft. */
export const matchQuery = (craft: number | null) =>
  queryOptions({
    queryKey: ['match', 'on', craft],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/craft/{id}/match/', { params: { path: { id: craft ?? 0 } } })),
    enabled: craft !== null,
    retry: false,
  })

/** One combination on a craft, looked at closer. */
export const closerQuery = (
  craft: number,
  motor: number,
  propeller: number | null,
  cells: number | null,
) =>
  queryOptions({
    queryKey: ['match', 'closer', craft, motor, propeller, cells],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/craft/{id}/closer/', {
          params: {
            path: { id: craft },
            query: { motor, propeller: propeller ?? 0, cells: cells ?? undefined },
          },
        }),
      ),
    enabled: propeller !== null,
    placeholderData: keepPreviousData,
    retry: false,
  })

export type AskedTable = NonNullable<paths['/api/v1/compare/bench/']['get']['parameters']['query']>

/** The whole bench under one condition. */
export const benchTableQuery = (asked: AskedTable) =>
  queryOptions({
    queryKey: ['compare', 'bench', asked],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/compare/bench/', { params: { query: asked } })),
    placeholderData: keepPreviousData,
    retry: false,
  })
