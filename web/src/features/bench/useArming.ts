/** What the page asks of the bench: arm, start, reset; whether it may, and why not. */
import { computed, type Ref, ref, watch } from 'vue'
import { api, dataOf, sentenceOf } from '@/api/client'
import { useSession } from '@/app/useSession'
import { useBench } from '@/live/useBench'
import { armBody, type BenchDraft, gapsOf } from './setup'
import { useLookAround } from './useLookAround'

export function useArming(draft: Ref<BenchDraft>) {
  const bench = useBench()
  const { mayWrite, user } = useSession()
  const confirmed = ref(new Set<string>())
  const problem = ref('')
  const refusal = ref<unknown>(null)
  const busy = ref(false)
  const look = useLookAround(draft)
  const state = computed(() => bench.frame?.state ?? 'idle')
  const gaps = computed(() => gapsOf(draft.value, confirmed.value, look.items.value))
  const mayArm = computed(
    () =>
      gaps.value.length === 0 &&
      !busy.value &&
      !bench.away &&
      !bench.silent_s &&
      bench.door.open &&
      Boolean(bench.frame?.link) &&
      ['idle', 'safe', 'zeroed', 'watched'].includes(state.value),
  )
  /** Only who armed a run starts it. */
  const mayStart = computed(() => bench.frame?.operator_id === user.value?.id)
  const armWords = computed(() => {
    if (draft.value.by_hand) return busy.value ? 'Taring…' : 'Hold to record'
    return busy.value ? 'Taring and arming…' : 'Hold to arm'
  })
  /** What stands below the control: what is missing, or why it cannot be armed all the same. */
  const hindrance = computed(() => {
    if (gaps.value.length) return gaps.value.join(' · ')
    if (bench.away || bench.silent_s) return 'The bench agent is away.'
    if (!bench.frame?.link) return bench.frame?.message || 'No stand is linked.'
    if (!bench.door.open) return 'The stop door is shut: this page could not stop the run.'
    return ''
  })

  async function ask(act: () => Promise<unknown>) {
    problem.value = ''
    refusal.value = null
    busy.value = true
    try {
      await act()
    } catch (error) {
      problem.value = sentenceOf(error)
      refusal.value = error
    } finally {
      busy.value = false
    }
  }
  const arm = () =>
    ask(async () => {
      bench.arming = true
      try {
        const body = armBody(draft.value, confirmed.value, look.items.value)
        bench.take(dataOf(await api.POST('/api/v1/bench/arm/', { body })))
      } finally {
        bench.arming = false
      }
    })
  const start = () =>
    ask(async () => {
      const body = { run_id: bench.frame?.run_id ?? '' }
      bench.take(dataOf(await api.POST('/api/v1/bench/start/', { body })))
    })
  const reset = () => ask(async () => bench.take(dataOf(await api.POST('/api/v1/bench/reset/'))))
  // What was refused is not said of what is typed next.
  watch(draft, () => (refusal.value = null), { deep: true })

  return {
    arm,
    armWords,
    busy,
    confirmed,
    hindrance,
    look,
    mayArm,
    mayStart,
    mayWrite,
    problem,
    refusal,
    reset,
    start,
    state,
  }
}
