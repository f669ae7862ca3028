/** How the installation stands, asked anew every quarter of a minute while it is looked at. */
import { queryOptions } from '@tanstack/vue-query'
import { api, dataOf } from './client'

export const upkeepQuery = () =>
  queryOptions({
    queryKey: ['upkeep'],
    queryFn: async () => {
      const before = Date.now()
      const found = dataOf(await api.GET('/api/v1/upkeep/'))
      // The server told its time somewhere between the two.
      const middle = (before + Date.now()) / 2
      return { ...found, browser_ahead_s: (middle - Date.parse(found.clock.server_at)) / 1000 }
    },
    refetchInterval: 15_000,
  })
