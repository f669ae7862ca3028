/** People, where one is logged in, and what somebody did. */
import { queryOptions } from '@tanstack/vue-query'
import { api, dataOf } from './client'

export const peopleQuery = () =>
  queryOptions({
    queryKey: ['people', 'all'],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/users/', { params: { query: { page_size: 200 } } })).results,
  })

export const loginsQuery = () =>
  queryOptions({
    queryKey: ['logins'],
    queryFn: async () => dataOf(await api.GET('/api/v1/session/logins/')),
  })

export const secondFactorQuery = () =>
  queryOptions({
    queryKey: ['second-factor'],
    queryFn: async () => dataOf(await api.GET('/api/v1/session/second-factor/')),
  })

export const accessRuleQuery = () =>
  queryOptions({
    queryKey: ['people', 'rule'],
    queryFn: async () => dataOf(await api.GET('/api/v1/access-rule/')),
  })

export const deedsQuery = (person: number) =>
  queryOptions({
    queryKey: ['people', 'deeds', person],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/users/{id}/deeds/', { params: { path: { id: person } } })),
  })
