/** Answers that wait for a lost server: kept in this browser, sent again, never doubled. */
import type { Current, Schemas } from '@/api/client'

export type Answer = Schemas['ObservationRequest']

export interface Waiting {
  sample: number
  answer: Answer
  /** What stood on record when the answer was made from it; empty when there was nothing. */
  base: object
  /** Set when it cannot be sent as it is: a refusal in words, or what stands there by now. */
  refused?: string
  current?: Current
}

const isFor = (item: Waiting, sample: number, attribute: string) =>
  item.sample === sample && item.answer.attribute === attribute

/** Put an answer at the end; a later answer to the same question replaces the earlier one. */
export function put(waiting: Waiting[], item: Waiting): Waiting[] {
  return [...without(waiting, item.sample, item.answer.attribute), item]
}

export function without(waiting: Waiting[], sample: number, attribute: string): Waiting[] {
  return waiting.filter((item) => !isFor(item, sample, attribute))
}

/** The next that can be sent by itself; what was refused waits for a person. */
export function nextToSend(waiting: Waiting[]): Waiting | null {
  return waiting.find((item) => !item.refused && !item.current) ?? null
}

/** What is on record of a sample with what waits in its place, as one will see it once sent. */
export function withWaiting(
  observations: Schemas['Observation'][],
  waiting: Waiting[],
  sample: number,
): Schemas['Observation'][] {
  const last = new Map(
    waiting
      .filter((item) => item.sample === sample)
      .map((item) => [item.answer.attribute as string, item]),
  )
  const own = [...last.values()]
  const kept = observations.filter(
    (seen) => !own.some((item) => item.answer.attribute === seen.attribute),
  )
  return [
    ...kept,
    ...own.map((item, at) => ({
      id: -1 - at,
      sample,
      choice: '',
      value: null,
      u: null,
      ordinal: '' as const,
      instrument: '',
      note: '',
      reference: null,
      reference_name: '',
      reference_changed: false,
      observed_at: '',
      observed_by_name: '',
      ...item.answer,
    })),
  ]
}
