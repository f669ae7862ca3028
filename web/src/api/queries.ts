/** Queries of motors, plans and runs, reused by the pages; each other room has its own file. */
import { keepPreviousData, queryOptions, type QueryClient } from '@tanstack/vue-query'
import { tellTimesIn } from '@/figures/format'
import { api, dataOf, type Schemas } from './client'
import { ALL, everyPage } from './pages'
import type { paths } from './schema'

export const sessionQuery = () =>
  queryOptions({
    queryKey: ['session'],
    queryFn: async () => {
      const found = dataOf(await api.GET('/api/v1/session/'))
      tellTimesIn(found.time_zone)
      return found
    },
    staleTime: 60_000,
  })

/** Words and units; the same until the server is another version. */
export const wordsQuery = () =>
  queryOptions({
    queryKey: ['words'],
    queryFn: async () => dataOf(await api.GET('/api/v1/vocabulary/')),
    staleTime: Infinity,
  })

export const boardQuery = (search = '', inHand: number | null = null) =>
  queryOptions({
    queryKey: ['board', search, inHand],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/board/', {
          params: { query: { search: search || undefined, in_hand: inHand ?? undefined } },
        }),
      ),
    placeholderData: keepPreviousData,
  })

/** A page of motors that hold some words; for records too large to list whole. */
export const motorSearchQuery = (search: string, page: number) =>
  queryOptions({
    queryKey: ['motors', 'search', search, page],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/motors/', { params: { query: { search, page, page_size: 50 } } }),
      ),
    placeholderData: keepPreviousData,
  })

/** The motor that a sample is of. */
export const motorOfSampleQuery = (sample: number | null) =>
  queryOptions({
    queryKey: ['motors', 'of-sample', sample],
    queryFn: async () => {
      const query = { sample: sample ?? undefined, page_size: 1 }
      const page = dataOf(await api.GET('/api/v1/motors/', { params: { query } }))
      return page.results[0] ?? null
    },
    enabled: sample !== null,
  })

/** One motor as lists show it; null where there is none. */
export const motorQuery = (id: number | null) =>
  queryOptions({
    queryKey: ['motors', 'one', id],
    queryFn: async () => {
      const query = { id: id ?? undefined, page_size: 1 }
      const page = dataOf(await api.GET('/api/v1/motors/', { params: { query } }))
      return page.results[0] ?? null
    },
    enabled: id !== null,
  })

export const motorFitQuery = (
  id: number,
  asked: {
    sample?: number
    arm_thickness_mm?: number
    screw_length_mm?: number
    washer_mm?: number
    lead_needed_mm?: number
  },
) =>
  queryOptions({
    queryKey: ['fit', id, asked],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/motors/{id}/fit/', { params: { path: { id }, query: asked } })),
    placeholderData: keepPreviousData,
    retry: false,
  })

export const samplePhotosQuery = (sample: number) =>
  queryOptions({
    queryKey: ['photos', 'sample', sample],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/samples/{id}/photos/', { params: { path: { id: sample } } })),
  })

export const teardownComparisonQuery = (samples: number[]) =>
  queryOptions({
    queryKey: ['teardown', 'compare', samples],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/teardown/compare/', {
          params: { query: { samples: samples.join(',') } },
        }),
      ),
    enabled: samples.length > 1,
    placeholderData: keepPreviousData,
    retry: false,
  })

export const motorFileQuery = (id: number) =>
  queryOptions({
    queryKey: ['motor', id],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/motors/{id}/', { params: { path: { id } } })),
  })

/** A maker's rows as the model foresees them; nothing is asked where there are none. */
export const foreseenLoadsQuery = (id: number, rows: number) =>
  queryOptions({
    queryKey: ['motor', id, 'foreseen-loads'],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/motors/{id}/foreseen-loads/', { params: { path: { id } } })),
    enabled: rows > 0,
  })

/** What a motor does on each propeller, and its heat. */
export const performanceQuery = (id: number) =>
  queryOptions({
    queryKey: ['motor', id, 'performance'],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/motors/{id}/performance/', { params: { path: { id } } })),
  })

/** The constants of a motor as its accepted runs tell them. */
export const identifiedQuery = (id: number) =>
  queryOptions({
    queryKey: ['motor', id, 'identified'],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/motors/{id}/identified/', { params: { path: { id } } })),
  })

/** CT and CP of every propeller that its runs tell. */
export const coefficientsQuery = () =>
  queryOptions({
    queryKey: ['propellers', 'identified'],
    queryFn: async () => dataOf(await api.GET('/api/v1/propellers/identified/')),
  })

/** What was expected of a run against what it gave. */
export const runExpectedQuery = (id: number) =>
  queryOptions({
    queryKey: ['run', id, 'expected'],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/runs/{id}/expected/', { params: { path: { id } } })),
  })

export interface AskedRun {
  kind?: NonNullable<paths['/api/v1/expectation/']['get']['parameters']['query']>['kind']
  needs_propeller?: boolean
  sample: number | null
  propeller: number | null
  supply: number | null
  highest_pct?: number
}

/** What a run that may be made will draw and give. */
export const expectationQuery = ({ needs_propeller: needed = true, ...asked }: AskedRun) =>
  queryOptions({
    queryKey: ['expectation', asked],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/expectation/', {
          params: {
            query: {
              ...asked,
              sample: asked.sample ?? 0,
              supply: asked.supply ?? 0,
              propeller: asked.propeller ?? undefined,
            },
          },
        }),
      ),
    enabled:
      asked.sample !== null && asked.supply !== null && (!needed || asked.propeller !== null),
    placeholderData: keepPreviousData,
    retry: false,
  })

/** What a profile commands, and how long it takes; null while it is not whole. */
export const profileQuery = (body: Schemas['ProfileRequest'] | null) =>
  queryOptions({
    queryKey: ['profile', body],
    queryFn: async () => dataOf(await api.POST('/api/v1/bench/profile/', { body: body ?? {} })),
    enabled: body !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  })

export type AskedLook = NonNullable<paths['/api/v1/bench/checklist/']['get']['parameters']['query']>

/** What of the checklist has to be confirmed before a run, and why that much. */
export const checklistQuery = (asked: AskedLook) =>
  queryOptions({
    queryKey: ['checklist', asked],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/bench/checklist/', { params: { query: asked } })),
    retry: false,
  })

/** Campaigns, the open ones first. */
export const campaignsQuery = () =>
  queryOptions({
    queryKey: ['plan', 'campaigns'],
    queryFn: () =>
      everyPage(async (page) =>
        dataOf(await api.GET('/api/v1/campaigns/', { params: { query: { ...ALL, page } } })),
      ),
  })

/** Every cell of a campaign on one of its supplies, and the run to make next. */
export const matrixQuery = (campaign: number | null, supply: number | null) =>
  queryOptions({
    queryKey: ['plan', 'matrix', campaign, supply],
    queryFn: async () =>
      dataOf(
        await api.GET('/api/v1/campaigns/{id}/matrix/', {
          params: { path: { id: campaign ?? 0 }, query: { supply: supply ?? undefined } },
        }),
      ),
    enabled: campaign !== null,
    placeholderData: keepPreviousData,
    retry: false,
  })

/** Over all runs that had a prediction: was the stated u right? */
export const hindsightQuery = () =>
  queryOptions({
    queryKey: ['hindsight'],
    queryFn: async () => dataOf(await api.GET('/api/v1/hindsight/')),
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

export type RunsAsked = NonNullable<paths['/api/v1/runs/']['get']['parameters']['query']>

/** One page of runs, filtered and ordered by the server. */
export const runPageQuery = (asked: RunsAsked) =>
  queryOptions({
    queryKey: ['runs', 'page', asked],
    queryFn: async () => dataOf(await api.GET('/api/v1/runs/', { params: { query: asked } })),
    placeholderData: keepPreviousData,
  })

export const runsQuery = (filter: { motor?: number; uid?: string } = {}) =>
  queryOptions({
    queryKey: ['runs', filter],
    queryFn: () =>
      everyPage(async (page) =>
        dataOf(await api.GET('/api/v1/runs/', { params: { query: { ...ALL, ...filter, page } } })),
      ),
    placeholderData: keepPreviousData,
  })

export const runQuery = (id: number) =>
  queryOptions({
    queryKey: ['run', id],
    queryFn: async () => dataOf(await api.GET('/api/v1/runs/{id}/', { params: { path: { id } } })),
  })

/** A trace for drawing: all of it, or a part of it more finely. */
export const traceQuery = (id: number, part: { from_s: number; until_s: number } | null = null) =>
  queryOptions({
    queryKey: ['trace', id, part],
    queryFn: async () => {
      const query = part ? { ...part, points: 2000 } : {}
      return dataOf(await api.GET('/api/v1/runs/{id}/trace/', { params: { path: { id }, query } }))
    },
    staleTime: Infinity,
  })

export const snapshotsQuery = () =>
  queryOptions({
    queryKey: ['snapshots'],
    queryFn: () =>
      everyPage(async (page) =>
        dataOf(await api.GET('/api/v1/snapshots/', { params: { query: { ...ALL, page } } })),
      ),
  })

/**
 * After one answer of a teardown: its sheet has new findings, and a motor file that is shown has
 * other open points. What else rests on answers is read anew when somebody looks at it.
 */
export async function refreshAnswers(client: QueryClient, sample: number): Promise<void> {
  for (const key of ['board', 'motors', 'fit', 'teardown', 'motor'])
    void client.invalidateQueries({ queryKey: [key], refetchType: 'none' })
  await Promise.all([
    client.refetchQueries({ queryKey: ['teardown', sample], type: 'active' }),
    client.refetchQueries({ queryKey: ['motor'], type: 'active' }),
  ])
}

/** Cells of typed readings that wait for footage, of a run or a motor. */
export const owedQuery = (of: { run?: number; motor?: number }) =>
  queryOptions({
    queryKey: ['runs', 'owed', of],
    queryFn: async () =>
      dataOf(await api.GET('/api/v1/readings/later/', { params: { query: of } })),
  })

/** Files that wait in the drop folder; the folder is watched by the server. */
export const inboxQuery = () =>
  queryOptions({
    queryKey: ['runs', 'inbox'],
    queryFn: async () => dataOf(await api.GET('/api/v1/imports/inbox/', {})),
    refetchInterval: 10_000,
  })

/** Large files that are not stored yet. */
export const largeFilesQuery = () =>
  queryOptions({
    queryKey: ['runs', 'large'],
    queryFn: async () => dataOf(await api.GET('/api/v1/imports/large/', {})),
    refetchInterval: 10_000,
  })

const AT_WORK_MS = 1_000
const IDLE_MS = 30_000

/** Long work, the newest first; asked for often only while something is at work. */
export const workQuery = () =>
  queryOptions({
    queryKey: ['work'],
    queryFn: async () => dataOf(await api.GET('/api/v1/work/', {})),
    refetchInterval: (query) =>
      query.state.data?.results.some((work) => ['waiting', 'running'].includes(work.state ?? ''))
        ? AT_WORK_MS
        : IDLE_MS,
  })

/** Archives of runs, the newest first; asked for often only while one is being made. */
export const exportsQuery = () =>
  queryOptions({
    queryKey: ['exports'],
    queryFn: async () => dataOf(await api.GET('/api/v1/exports/', {})),
    refetchInterval: (query) =>
      query.state.data?.results.some((one) => ['waiting', 'running'].includes(one.state))
        ? AT_WORK_MS
        : false,
  })
