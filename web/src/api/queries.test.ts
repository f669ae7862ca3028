import { QueryClient } from '@tanstack/vue-query'
import { afterEach, expect, it, vi } from 'vitest'
import { runsQuery, snapshotsQuery } from './queries'
import { propellersQuery, standsQuery, suppliesQuery } from './rigQueries'

afterEach(() => vi.unstubAllGlobals())

/** A bench of so many rows, in pages of the size that is asked for. */
function bench(count: number): string[] {
  const asked: string[] = []
  vi.stubGlobal('fetch', async (request: Request) => {
    const url = new URL(request.url, 'http://bench')
    asked.push(url.search)
    const size = Number(url.searchParams.get('page_size'))
    const page = Number(url.searchParams.get('page'))
    const from = (page - 1) * size
    const results = Array.from({ length: Math.min(size, count - from) }, (_, k) => ({
      id: from + k,
    }))
    const next = from + size < count ? 'more' : null
    return new Response(JSON.stringify({ count, next, results }), { status: 200 })
  })
  return asked
}

const LISTS = {
  propellers: propellersQuery,
  supplies: suppliesQuery,
  stands: standsQuery,
  snapshots: snapshotsQuery,
  'runs of a motor': () => runsQuery({ motor: 3 }),
}

it.each(Object.entries(LISTS))('loads %s past the largest page, each once', async (_, query) => {
  const asked = bench(1201)
  const rows = await new QueryClient().fetchQuery(query() as ReturnType<typeof standsQuery>)
  expect(new Set(rows.map((row) => row.id)).size).toBe(1201)
  expect(asked).toHaveLength(3)
})

const load = () => new QueryClient().fetchQuery(propellersQuery())

it('loads a large library whole, each propeller once', async () => {
  const asked = bench(2000)
  const rows = await load()
  expect(rows).toHaveLength(2000)
  expect(new Set(rows.map((row) => row.id)).size).toBe(2000)
  expect(asked).toHaveLength(4)
})

it('asks once where one page holds them all', async () => {
  const asked = bench(9)
  expect(await load()).toHaveLength(9)
  expect(asked).toHaveLength(1)
})
