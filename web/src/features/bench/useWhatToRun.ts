/** What the chosen motor, supply and stand bring to a draft: a sample, a stand, floors, proposals. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { motorOfSampleQuery, motorQuery } from '@/api/queries'
import { propellerQuery, standsQuery, suppliesQuery } from '@/api/rigQueries'
import { useInHand } from '@/app/useInHand'
import { proposed } from './limits'
import type { BenchDraft } from './setup'

export function useWhatToRun(draft: Ref<BenchDraft>, wantedMotor: () => number | null) {
  const inHand = useInHand()
  const { data: supplies } = useQuery(suppliesQuery())
  const { data: stands } = useQuery(standsQuery())
  const { data: motor } = useQuery(computed(() => motorOfSampleQuery(draft.value.sample)))
  const { data: wanted } = useQuery(computed(() => motorQuery(wantedMotor() ?? inHand.value)))
  const { data: propeller } = useQuery(computed(() => propellerQuery(draft.value.propeller)))
  const live = computed(() => stands.value?.filter((one) => one.live && !one.retired) ?? [])
  const supply = computed(() => supplies.value?.find((item) => item.id === draft.value.supply))

  // A draft of something that is gone is dropped.
  watch(motor, (found) => {
    if (found === null) draft.value.sample = null
  })
  // What the plan sets up is chosen here; once, so that another can be chosen after it.
  const route = useRoute()
  for (const name of ['sample', 'propeller', 'supply'] as const) {
    const wantedId = Number(route.query[name])
    if (wantedId) draft.value[name] = wantedId
  }
  // What is asked for or in hand is on the stand; once, so that another can be chosen after it.
  let applied: number | null = null
  watch(
    wanted,
    (row) => {
      if (!row?.samples.length || row.id === applied || route.query.sample) return
      applied = row.id
      if (!row.samples.some((sample) => sample.id === draft.value.sample))
        draft.value.sample = row.samples[0]?.id ?? null
    },
    { immediate: true },
  )
  watch([propeller], () => {
    if (propeller.value === null) draft.value.propeller = null
  })
  watch(
    [live, supplies],
    () => {
      if (live.value.length === 1) draft.value.stand = live.value[0]?.id ?? null
      if (supplies.value && !supply.value) draft.value.supply = null
    },
    { immediate: true },
  )
  // Each supply brings its own floor; the reviewer may change it afterwards.
  watch(
    () => supply.value?.id,
    (now, before) => {
      const changed = before !== undefined && now !== before
      if (supply.value && (changed || !draft.value.limits.voltage_floor_v))
        draft.value.limits.voltage_floor_v = String(supply.value.floor_v ?? '')
    },
    { immediate: true },
  )
  // Power and speed are proposed from what is chosen, until somebody types there.
  const proposedBefore: Record<string, string> = {}
  watch(
    () => [draft.value.limits.current_a, supply.value?.open_circuit_v, motor.value?.id] as const,
    () => {
      for (const name of ['power_w', 'speed_rpm'] as const) {
        const text = draft.value.limits[name]
        const next = proposed(
          name,
          draft.value.limits.current_a,
          supply.value?.open_circuit_v ?? undefined,
          motor.value?.kv_label_rpm_per_v,
        )
        if (next && (!text || text === proposedBefore[name])) draft.value.limits[name] = next
        proposedBefore[name] = next
      }
    },
    { immediate: true },
  )
  const takeInHand = (motorId: number) => (inHand.value = motorId)
  const offered = computed(() => supplies.value?.filter((one) => !one.retired))
  return { takeInHand, supplies: offered, supply, stands, live }
}
