/** The figures of a verdict: taken with a sentence or alone, stood by, and read again by order. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, provide, type Ref, ref } from 'vue'
import { api, dataOf } from '@/api/client'
import type { Schemas } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { FIGURES, type VerdictFigure } from './prose'

type Verdict = Schemas['Verdict']

export function useQuoting(id: Ref<number>, verdict: Ref<Verdict | undefined>) {
  const client = useQueryClient()
  /** Figures that were taken a moment ago, before the verdict is read anew. */
  const fresh = ref(new Map<number, VerdictFigure>())
  const figures = computed(
    () =>
      new Map([
        ...fresh.value,
        ...(verdict.value?.figures ?? []).map((one) => [one.id, one] as const),
      ]),
  )
  provide(FIGURES, figures)
  const keep = (taken: readonly VerdictFigure[]) => {
    for (const one of taken) fresh.value.set(one.id, one)
  }

  const adopting = useWrite('verdict', async (what: { key: string; against: number | null }) =>
    dataOf(
      await api.POST('/api/v1/verdicts/{id}/adopt/', {
        params: { path: { id: id.value } },
        body: what,
      }),
    ),
  )
  /** Takes a sentence over; answers with its paragraph, or undefined where it was refused. */
  async function adopt(key: string, against: number | null): Promise<object | undefined> {
    const answer = await adopting.send({ key, against })
    if (!answer) return undefined
    keep(answer.figures)
    return answer.paragraph as object
  }

  const inserting = useWrite('verdict', async (quote: Schemas['Quote']) =>
    dataOf(
      await api.POST('/api/v1/verdicts/{id}/figures/', {
        params: { path: { id: id.value } },
        body: quote,
      }),
    ),
  )
  /** Takes a figure alone; answers with its number, or undefined where it was refused. */
  async function insert(quote: Schemas['Quote']): Promise<number | undefined> {
    const taken = await inserting.send(quote)
    if (taken) keep([taken])
    return taken?.id
  }

  const standing = useWrite('verdict', async (asked: { figure: number; word: string | null }) =>
    dataOf(
      await api.PATCH('/api/v1/verdicts/{id}/figures/{figure_pk}/', {
        params: { path: { id: id.value, figure_pk: asked.figure } },
        body: asked.word === null ? {} : { word: asked.word },
      }),
    ),
  )
  /** Takes a figure anew, or says why it stands as it is. */
  async function stand(figure: number, word: string | null) {
    if (await standing.send({ figure, word }))
      await client.invalidateQueries({ queryKey: ['verdict', id.value] })
  }

  /** Who stands where has changed; the prose was read again. */
  const ordering = useWrite('verdict', async () =>
    dataOf(
      await api.PATCH('/api/v1/verdicts/{id}/', {
        params: { path: { id: id.value } },
        body: { version: verdict.value?.version, order_seen: true },
      }),
    ),
  )
  const refused = computed(
    () =>
      adopting.problem.value ??
      inserting.problem.value ??
      standing.problem.value ??
      ordering.problem.value,
  )
  return { adopt, figures, insert, ordering, refused, stand }
}
