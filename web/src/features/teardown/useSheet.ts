/**
 * One sample's answers: read from the record, written to it, and kept here while the server is
 * away. Shared by the teardown and by the outside measures of intake.
 */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref, type Ref, shallowRef } from 'vue'
import { api, currentOf, dataOf, isOffline, type Schemas, sentenceOf } from '@/api/client'
import { refreshAnswers, teardownQuery } from '@/api/queries'
import { useSession } from '@/app/useSession'
import { nextToSend, ofPerson, put, type Waiting, withWaiting, without } from './outbox'

const RETRY_MS = 4000
/** One sender for all that show a sheet. */
let sending = false
const outbox = useLocalStorage<Waiting[]>('spindle.answers-waiting', [])

export function useSheet(sample: Ref<number>) {
  const client = useQueryClient()
  const { user } = useSession()
  const person = computed(() => user.value?.id)
  const query = useQuery(
    computed(() => ({ ...teardownQuery(sample.value), enabled: sample.value > 0 })),
  )
  const problem = ref<unknown>(null)
  /** What is on its way is shown at once; it is taken back where it is refused. */
  const underway = shallowRef<Waiting[]>([])

  const sender = useMutation({
    // The outbox keeps what a lost network does not take; nothing is paused here.
    networkMode: 'always',
    mutationFn: async (item: Waiting) =>
      dataOf(
        await api.PUT('/api/v1/samples/{id}/teardown/', {
          params: { path: { id: item.sample } },
          body: item.answer,
        }),
      ),
    onMutate: (item) => {
      underway.value = put(underway.value, item)
    },
    onSuccess: (seen, item) => {
      client.setQueryData(
        teardownQuery(item.sample).queryKey,
        (old: Schemas['TeardownSheet'] | undefined) =>
          old && {
            ...old,
            observations: [
              ...old.observations.filter((o) => o.attribute !== item.answer.attribute),
              seen,
            ],
          },
      )
      void refreshAnswers(client, item.sample)
    },
    onSettled: (_, __, item) => {
      underway.value = without(underway.value, item)
    },
  })

  const observations = computed(() =>
    withWaiting(
      query.data.value?.observations ?? [],
      [...ofPerson(outbox.value, person.value), ...underway.value],
      sample.value,
    ),
  )
  const answers = computed(
    () => new Map(observations.value.map((seen) => [seen.attribute as string, seen])),
  )
  const waiting = computed(() =>
    ofPerson(outbox.value, person.value).filter((item) => item.sample === sample.value),
  )

  let before: Promise<unknown> = Promise.resolve()
  /**
   * Send, and say whether the answer is safe: on record, or waiting here. Answers go one after the
   * other, so that each is made from what the one before it left.
   */
  function record(
    answer: Omit<Partial<Schemas['ObservationRequest']>, 'attribute'> & { attribute: string },
  ): Promise<boolean> {
    const of = sample.value
    // Shown at once, also while another is on its way.
    const shown = { status: 'observed', ...answer } as Schemas['ObservationRequest']
    underway.value = put(underway.value, {
      sample: of,
      person: person.value,
      answer: shown,
      base: {},
    })
    const safe = before.then(() => recordNow(of, answer))
    before = safe.catch(() => {})
    return safe
  }

  async function recordNow(
    of: number,
    answer: Omit<Partial<Schemas['ObservationRequest']>, 'attribute'> & { attribute: string },
  ): Promise<boolean> {
    problem.value = null
    const sheet = client.getQueryData(teardownQuery(of).queryKey)
    const stored = sheet?.observations.find((o) => o.attribute === answer.attribute)
    // A half-typed answer names the version it was begun from, which may be older than this one.
    const full = {
      status: 'observed',
      version: stored?.version,
      ...answer,
    } as Schemas['ObservationRequest']
    const base = stored?.version === full.version ? (stored ?? {}) : {}
    const item: Waiting = { sample: of, person: person.value, answer: full, base }
    const outcome = await send(item)
    return outcome !== 'refused'
  }

  async function send(item: Waiting): Promise<'sent' | 'waits' | 'refused'> {
    const { attribute } = item.answer
    try {
      await sender.mutateAsync(item)
      outbox.value = without(outbox.value, item)
      return 'sent'
    } catch (failure) {
      if (isOffline(failure)) {
        outbox.value = put(outbox.value, item)
        return 'waits'
      }
      const current = currentOf(failure)
      if (current) {
        outbox.value = put(outbox.value, { ...item, current })
        return 'waits'
      }
      // One that waited and is refused stays, with the reason; a fresh one is still in its field.
      if (outbox.value.some((w) => w.sample === item.sample && w.answer.attribute === attribute))
        outbox.value = put(outbox.value, { ...item, refused: sentenceOf(failure) })
      problem.value = failure
      return 'refused'
    }
  }

  async function flush() {
    if (sending) return
    sending = true
    try {
      let item = nextToSend(outbox.value, person.value)
      while (item && (await send(item)) === 'sent') item = nextToSend(outbox.value, person.value)
    } finally {
      sending = false
    }
  }
  useIntervalFn(flush, RETRY_MS)
  useEventListener(window, 'online', () => void flush())

  /** Settle a conflict: send again from the version that stands there now. */
  function settle(item: Waiting, values: Record<string, unknown>, version: number) {
    const answer = { ...item.answer, ...values, version } as Schemas['ObservationRequest']
    outbox.value = put(outbox.value, { ...item, answer, current: undefined, refused: undefined })
    void flush()
  }

  function drop(item: Waiting) {
    outbox.value = without(outbox.value, item)
    void client.invalidateQueries({ queryKey: ['teardown', item.sample] })
  }

  return { query, observations, answers, waiting, problem, record, settle, drop }
}
