<script setup lang="ts">
/** The trace of a run: two channels over time, with what was averaged and what was left out. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { traceQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import ChartSheet from '@/charts/ChartSheet.vue'
import { labelOf, runKind } from '@/words/words'
import ChannelPicker from './ChannelPicker.vue'
import { traceOption } from './traceOption'

const props = defineProps<{ run: Schemas['RunDetail'] }>()
const trace = useQuery(traceQuery(props.run.id))
const left = ref('thrust_gf')
const right = ref('current_a')

const channels = computed(() => Object.keys(trace.data.value?.channels ?? {}))
// What is worth looking at first depends on what was done.
watch(
  () => props.run.kind,
  (kind) => {
    const look = kind ? runKind(kind)?.first_look : undefined
    if (look?.length === 2) [left.value, right.value] = look as [string, string]
  },
  { immediate: true },
)
const drawn = computed(() => {
  const first = channels.value.includes(left.value) ? left.value : (channels.value[0] ?? '')
  return right.value && channels.value.includes(right.value) ? [first, right.value] : [first]
})
const option = computed(() =>
  trace.data.value ? traceOption(trace.data.value, drawn.value, props.run.result ?? null) : {},
)
const table = computed(() => ({
  columns: ['time_s', ...drawn.value],
  rows: (trace.data.value?.time_s ?? []).map((time, i) => [
    time,
    ...drawn.value.map((name) => trace.data.value?.channels[name]?.[i] ?? null),
  ]),
}))
</script>

<template>
  <section class="sheet">
    <div class="pick">
      <h2>Trace</h2>
      <ChannelPicker v-model="left" label="left" :channels="channels" />
      <ChannelPicker v-model="right" label="right" :channels="channels" may-be-none />
      <span class="soft small"
        >Shaded: the part that was averaged (green settled, amber not). Diamonds: left out.</span
      >
    </div>
    <PageState :loading="trace.isPending.value" :error="trace.error.value" />
    <ChartSheet
      v-if="trace.data.value"
      :option="option"
      :name="`run-${run.id}-trace`"
      :table="table"
      :height="270"
      :label="`Trace of run ${run.id}: ${drawn.map(labelOf).join(' and ')} over time`"
    />
  </section>
</template>

<style scoped>
.pick {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  align-items: center;
  margin-bottom: 6px;
}
</style>
