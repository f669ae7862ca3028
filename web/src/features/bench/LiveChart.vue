<script setup lang="ts">
/** What the kind of run is looked at by, as it comes: over the run in hand or the last minute. */
import type { EChartsOption } from 'echarts'
import { refThrottled } from '@vueuse/core'
import { computed, toRef } from 'vue'
import ChartSheet from '@/charts/ChartSheet.vue'
import { axis, base, DARK, niceCeil } from '@/charts/theme'
import { channelOf, type TrailPoint } from '@/live/trail'
import { labelOf, midSentence, runKind } from '@/words/words'

const props = defineProps<{
  trail: TrailPoint[]
  since_s: number | null
  height: number
  /** The kind of run in hand; thrust and current where there is none. */
  kind?: string
}>()
const looked = computed(() => runKind(props.kind ?? '')?.first_look ?? ['thrust_gf', 'current_a'])
const left = computed(() => looked.value[0] ?? 'thrust_gf')
const right = computed(() => looked.value[1] ?? 'current_a')
/** An empty axis of a quantity reaches at least this far. */
const LEAST: Record<string, number> = {
  thrust_gf: 100,
  current_a: 5,
  speed_rpm: 5000,
  throttle_pct: 100,
  motor_temp_c: 40,
}

// Figures follow every frame; four drawings a second are enough for a curve, and leave a slow
// machine its main thread for the keys.
const trail = refThrottled(toRef(props, 'trail'), 250, true)

const LEFT = DARK.left
const RIGHT = DARK.right

/** An axis that does not blow up the noise of a stand at rest. */
const atLeast = (least: number) => (range: { max: number }) => niceCeil(Math.max(least, range.max))
const colored = (name: string, color: string) => {
  const plain = axis(DARK, name, true)
  return { ...plain, nameTextStyle: { ...plain.nameTextStyle, color } }
}

const option = computed<EChartsOption>(() => {
  const last = trail.value.at(-1)?.time_s ?? 0
  const since = props.since_s ?? Math.max(0, last - 60)
  const curve = (name: string, yAxisIndex: number, color: string) => ({
    type: 'line' as const,
    showSymbol: false,
    yAxisIndex,
    lineStyle: { color, width: 2.2 },
    itemStyle: { color },
    data: channelOf(trail.value, name, since),
  })
  const scale = base(DARK)
  return {
    ...scale,
    grid: { left: 64, right: 84, top: 14, bottom: 42 },
    tooltip: { show: false },
    xAxis: { ...axis(DARK, 'time_s', false), min: 0, max: atLeast(30) },
    yAxis: [
      { ...colored(left.value, LEFT), min: 0, max: atLeast(LEAST[left.value] ?? 1) },
      {
        ...colored(right.value, RIGHT),
        min: 0,
        max: atLeast(LEAST[right.value] ?? 1),
        position: 'right' as const,
        splitLine: { show: false },
      },
    ],
    series: [curve(left.value, 0, LEFT), curve(right.value, 1, RIGHT)],
  }
})
</script>

<template>
  <ChartSheet
    :option="option"
    name="live"
    :height="height"
    :colors="DARK"
    :label="`Live ${midSentence(labelOf(left))} and ${midSentence(labelOf(right))} over time`"
  />
</template>
