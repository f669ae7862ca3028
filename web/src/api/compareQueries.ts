/** Queries of comparisons: subjects, what may be compared, torque, and what is kept by name. */
import { keepPreviousData, queryOptions } from '@tanstack/vue-query'
import { api, dataOf } from './client'
import type { paths } from './schema'

export type AskedComparison = NonNullable<paths['/api/v1/compare/']['get']['parameters']['query']>

/** Subjects against each other; what was there stays shown while the next answer is on its way. */
export const comparisonQuery = (asked: AskedComparison) =>
  queryOptions({
    queryKey: ['compare', 'subjects', asked],
    queryFn: async () => dataOf(await api.GET('/api/v1/compare/', { params: { query: asked } })),
    enabled: asked.runs.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  })

export type AskedChoice = NonNullable<
  paths['/api/v1/compare/choices/']['get']['parameters']['query']
>

/** Runs that differ in one thing. */
export const choiceQuery = (asked: AskedChoice) =>
  queryOptions({
    queryKey: ['compare', 'choices', asked],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/compare/choices/', { params: { query: asked } })),
    retry: false,
  })

export type AskedTorque = NonNullable<
  paths['/api/v1/compare/torque/']['get']['parameters']['query']
>

/** A motor's torque over speed with its propellers' loads. */
export const torqueQuery = (asked: AskedTorque | null) =>
  queryOptions({
    queryKey: ['compare', 'torque', asked],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/compare/torque/', { params: { query: asked ?? { motor: 0 } } }),
      ),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    retry: false,
  })

/** Comparisons kept by name. */
export const savedComparisonsQuery = () =>
  queryOptions({
    queryKey: ['compare', 'saved'],
    queryFn: async () => dataOf(await api.GET('/api/v1/compare/saved/')),
  })

export type AskedKinds = NonNullable<paths['/api/v1/compare/tests/']['get']['parameters']['query']>

/** Runs of one kind over the whole bench. */
export const kindTableQuery = (asked: AskedKinds) =>
  queryOptions({
    queryKey: ['compare', 'tests', asked],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/compare/tests/', { params: { query: asked } })),
    placeholderData: keepPreviousData,
    retry: false,
  })

export type AskedKv = NonNullable<paths['/api/v1/compare/one-kv/']['get']['parameters']['query']>

/** Identified motors at one kV. */
export const oneKvQuery = (asked: AskedKv) =>
  queryOptions({
    queryKey: ['compare', 'one-kv', asked],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/compare/one-kv/', { params: { query: asked } })),
    placeholderData: keepPreviousData,
    retry: false,
  })

export type AskedMass = NonNullable<paths['/api/v1/compare/mass/']['get']['parameters']['query']>

/** What each motor weighs and costs. */
export const massQuery = (asked: AskedMass) =>
  queryOptions({
    queryKey: ['compare', 'mass', asked],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/compare/mass/', { params: { query: asked } })),
    placeholderData: keepPreviousData,
    retry: false,
  })
