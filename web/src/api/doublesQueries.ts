/** What may be on the bench twice. */
import { queryOptions } from '@tanstack/vue-query'
import { api, dataOf } from './client'

export const doublesQuery = () =>
  queryOptions({
    queryKey: ['doubles'],
    queryFn: async () => dataOf(await api.GET('/api/v1/doubles/')),
  })
