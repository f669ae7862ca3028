/** Who is compared and how: what the address asks, a kept comparison, or the nearest like pair. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import { savedComparisonsQuery } from '@/api/compareQueries'
import { useAddress } from '@/app/useAddress'
import { useInHand } from '@/app/useInHand'
import { askedIn, numbersIn } from './asked'
import type { ChartMark } from './curves'
import { firstPair } from './firstPair'

type Saved = Schemas['SavedComparison']

export function useCompared() {
  const route = useRoute()
  const router = useRouter()
  const address = useAddress()
  const client = useQueryClient()
  const inHand = useInHand()
  const asked = computed(() => askedIn(route.query))
  const chosen = computed(() => numbersIn(asked.value.runs))
  /** The kept comparison that is open. */
  const open = computed(() => Number(route.query.saved) || null)
  const noted = ref<ChartMark[]>([])
  const nothing = ref(false)
  const looking = ref(false)
  const listError = ref<unknown>(null)

  // Who is on the way elsewhere is not called back by an answer that comes late.
  let leaving = false
  onBeforeRouteLeave(() => {
    leaving = true
  })
  function ask(changes: Record<string, string | undefined>) {
    if (!leaving) address.ask(changes)
  }
  const choose = (runs: readonly number[], by?: string) =>
    ask({ runs: runs.join(','), ...(by ? { by, baseline: undefined } : {}) })
  function take(saved: Saved | null) {
    if (saved) noted.value = [...saved.marks]
    if (leaving) return
    void router.replace({
      path: '/compare',
      query: saved ? { ...saved.asked, saved: saved.id } : { ...route.query, saved: undefined },
    })
  }
  const named = async () =>
    (await client.fetchQuery(savedComparisonsQuery())).find((row) => row.id === open.value)

  /** Without runs in the address: what is kept under its name, or the motor in hand's first pair. */
  async function look() {
    looking.value = true
    listError.value = null
    try {
      const kept = open.value ? await named() : undefined
      if (kept) return take(kept)
      const pair = await firstPair(client, Number(route.query.motor) || inHand.value)
      nothing.value = !pair.length
      if (!chosen.value.length && pair.length) choose(pair)
    } catch (failure) {
      listError.value = failure
    } finally {
      looking.value = false
    }
  }
  if (!chosen.value.length) void look()
  else if (open.value)
    // Its marks come with it; what the address asks goes before what was kept.
    void named()
      .then((one) => {
        if (one) noted.value = [...one.marks]
      })
      .catch(() => undefined)

  return { ask, asked, choose, chosen, listError, look, looking, noted, nothing, open, take }
}
