<script setup lang="ts">
/** What the bench is at: what is warm and when it is ready, and what the day has brought. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { inboxQuery } from '@/api/queries'
import type { Schemas } from '@/api/client'
import { dateTime, duration, formatNumber } from '@/figures/format'
import PacksNow from '@/features/rig/PacksNow.vue'
import BenchDay from '@/features/rig/BenchDay.vue'
import { useBench } from '@/live/useBench'

const props = defineProps<{ day: Schemas['BenchDay'] | null }>()
const bench = useBench()
const { data: inbox } = useQuery(inboxQuery())
const frame = computed(() => (bench.away || bench.silent_s ? null : bench.frame))
const temperature = computed(() => frame.value?.values.motor_temp_c)
const left_s = computed(() => frame.value?.ready_in_s ?? null)
const clock = (iso: string) => dateTime(iso).slice(11)
/** When a motor that is warm may be run again, by the clock on the wall. */
const readyAt = computed(() =>
  left_s.value ? clock(new Date(Date.now() + 1000 * left_s.value).toISOString()) : '',
)
const runs = (n: number) => `${n} ${n === 1 ? 'run' : 'runs'}`
const came = computed(() => {
  const day = props.day
  if (!day) return 'Nothing was run yet.'
  const from = clock(day.first_at)
  const to = clock(day.last_at)
  const when = day.today ? 'Today' : String(day.day)
  const cut = day.not_completed ? `, ${day.not_completed} cut short` : ''
  const off = day.rejected ? `, ${day.rejected} rejected` : ''
  return `${when}: ${runs(day.runs)}${cut}${off}, ${from === to ? `at ${from}` : `from ${from} to ${to}`}.`
})
</script>

<template>
  <section class="sheet" aria-label="The bench now">
    <h2>The bench</h2>
    <p v-if="inbox?.count">
      <span class="tag caution">inbox</span> {{ inbox.count }}
      {{ inbox.count === 1 ? 'file waits' : 'files wait' }}:
      <RouterLink to="/import">look at them</RouterLink>.
    </p>
    <p v-if="!frame">Nothing is known of it: the agent is away.</p>
    <p v-else-if="!frame.link">No stand is linked.</p>
    <p v-else-if="bench.hot">
      {{ frame.title }} is on the stand: <RouterLink to="/bench">look at the run</RouterLink>.
    </p>
    <p v-else-if="temperature === undefined">The stand tells no motor temperature.</p>
    <p v-else-if="left_s">
      <span class="tag caution">warm</span> {{ frame.title }}
      <span class="figure">{{ formatNumber(temperature, 0) }}<span class="unit">°C</span></span
      >, ready at about {{ readyAt }}, in {{ duration(left_s) }}.
    </p>
    <p v-else>
      <span class="tag within">cool</span> Motor at
      <span class="figure">{{ formatNumber(temperature, 0) }}<span class="unit">°C</span></span
      >: a run can begin.
    </p>
    <PacksNow brief />
    <BenchDay />
    <p class="soft small">{{ day && !day.today ? 'The last bench day, ' : '' }}{{ came }}</p>
  </section>
</template>

<style scoped>
p {
  margin: 4px 0 0;
}
</style>
