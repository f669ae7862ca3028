/** Answers that wait for a lost server: kept in this browser, sent again, never doubled. */
import type { Current, Schemas } from '@/api/client'

export type Answer = Schemas['ObservationRequest']

export interface Waiting {
  sample: number
  /** Who gave the answer; nobody else's login sends it. */
  person?: number
  answer: Answer
  /** What stood on record when the answer was made from it; empty when there was nothing. */
  base: object
  /** Set when it cannot be sent as it is: a refusal in words, or what stands there by now. */
  refused?: string
  current?: Current
}

const isFor = (item: Waiting, sample: number, attribute: string, person: number | undefined) =>
  item.sample === sample &&
  item.answer.attribute === attribute &&
  (item.person === undefined || person === undefined || item.person === person)

/** Put an answer at the end; a later one of the same person to the same question replaces it. */
export function put(waiting: Waiting[], item: Waiting): Waiting[] {
  return [...without(waiting, item), item]
}

/** Without what this person answered to this question. */
export function without(waiting: Waiting[], of: Waiting): Waiting[] {
  return waiting.filter((item) => !isFor(item, of.sample, of.answer.attribute, of.person))
}

/** The next that can be sent by itself for who is logged in; what was refused waits for them. */
export function nextToSend(waiting: Waiting[], person: number | undefined): Waiting | null {
  return ofPerson(waiting, person).find((item) => !item.refused && !item.current) ?? null
}

/** What waits of one person; what an earlier version kept without a name is anybody's. */
export function ofPerson(waiting: Waiting[], person: number | undefined): Waiting[] {
  return waiting.filter((item) => item.person === undefined || item.person === person)
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
      reference_short: '',
      reference_changed: false,
      observed_at: '',
      observed_by_name: '',
      ...item.answer,
    })),
  ]
}
