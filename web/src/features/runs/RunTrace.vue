<script setup lang="ts">
/** The trace of a run: two channels over time, with what was averaged and what was left out. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { traceQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import ChartSheet from '@/charts/ChartSheet.vue'
import { labelOf, runKind } from '@/words/words'
import ChannelPicker from './ChannelPicker.vue'
import { traceOption } from './traceOption'
import { askedFor, isAll, moved, percentOf, scaled, type Span, spanOf } from './traceWindow'
import { count } from '@/figures/format'

const props = defineProps<{ run: Schemas['RunDetail'] }>()
const whole = useQuery(traceQuery(props.run.id))
const all = computed<Span>(() => ({
  from: whole.data.value?.begin_s ?? 0,
  until: whole.data.value?.end_s ?? 0,
}))
/** What is looked at; null is all of it. */
const looked = shallowRef<Span | null>(null)
const settled = refDebounced(looked, 150)
const near = useQuery(
  computed(() => {
    const part = settled.value && askedFor(settled.value, all.value)
    return {
      ...traceQuery(props.run.id, part),
      enabled: part !== null,
      placeholderData: (before: Schemas['Trace'] | undefined) => before,
    }
  }),
)
const trace = computed(() =>
  looked.value ? (near.data.value ?? whole.data.value) : whole.data.value,
)
const look = (part: Span) => (looked.value = isAll(part, all.value) ? null : part)
const step = (change: (part: Span, whole: Span, by: number) => Span, by: number) =>
  look(change(looked.value ?? all.value, all.value, by))
const left = ref('thrust_gf')
const right = ref('current_a')

const channels = computed(() => Object.keys(trace.value?.channels ?? {}))
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
  trace.value
    ? traceOption(
        trace.value,
        drawn.value,
        props.run.result ?? null,
        // Where it was dragged to stays until what is there has come.
        percentOf(settled.value ?? all.value, all.value),
      )
    : {},
)
const table = computed(() => ({
  columns: ['time_s', ...drawn.value],
  rows: (trace.value?.time_s ?? []).map((time, i) => [
    time,
    ...drawn.value.map((name) => trace.value?.channels[name]?.[i] ?? null),
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
    <PageState :loading="whole.isPending.value" :error="whole.error.value ?? near.error.value" />
    <ChartSheet
      v-if="trace"
      :option="option"
      :name="`run-${run.id}-trace`"
      :table="table"
      :height="270"
      :label="`Trace of run ${run.id}: ${drawn.map(labelOf).join(' and ')} over time`"
      @zoom="(start, end) => look(spanOf(start, end, all))"
    />
    <p v-if="trace" class="near">
      <el-button-group size="small">
        <el-button :disabled="!looked" @click="step(moved, -0.5)">Earlier</el-button>
        <el-button :disabled="!looked" @click="step(moved, 0.5)">Later</el-button>
        <el-button @click="step(scaled, 0.5)">Nearer</el-button>
        <el-button :disabled="!looked" @click="step(scaled, 2)">Further</el-button>
        <el-button :disabled="!looked" @click="looked = null">All of it</el-button>
      </el-button-group>
      <span class="soft small"
        >{{ count(trace.row_count) }} samples;
        {{
          trace.thinned ? 'the lowest and highest of each few are drawn' : 'each of these is drawn'
        }}. Drag to move, Ctrl with the wheel for nearer and further.</span
      >
    </p>
  </section>
</template>

<style scoped>
.near {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  margin: 4px 0 0;
}
.pick {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  align-items: center;
  margin-bottom: 6px;
}
</style>
