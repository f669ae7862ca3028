/** What to compare where nobody has said it: the motor in hand against its nearest like run. */
import type { QueryClient } from '@tanstack/vue-query'
import type { Schemas } from '@/api/client'
import { runPageQuery, type RunsAsked } from '@/api/queries'

const LOOKED_AT = 100

/** Kinds of run that are a curve over thrust; the others have no table at equal thrust. */
const CURVES = ['steps', 'ramp', 'readings']

/** Numbers of one or two runs, none where none can be compared; `motor` first, if it has any. */
export async function firstPair(client: QueryClient, motor: number | null): Promise<number[]> {
  const usable = async (asked: RunsAsked): Promise<Schemas['Run'][]> => {
    const page = await client.fetchQuery(runPageQuery({ ...asked, page_size: LOOKED_AT }))
    return page.results.filter(
      (run) => run.comparable && run.review !== 'rejected' && CURVES.includes(run.kind ?? 'steps'),
    )
  }
  const own = motor ? await usable({ motor }) : []
  const first = own[0] ?? (await usable({}))[0]
  if (!first) return []
  const same = first.propeller ? await usable({ propeller: first.propeller }) : []
  const like = same.find(
    (run) => run.motor !== first.motor && run.supply_name === first.supply_name,
  )
  return like ? [first.id, like.id] : [first.id]
}
