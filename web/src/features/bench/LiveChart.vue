<script setup lang="ts">
/** Thrust and current as they come, over the run in hand or the last minute. */
import type { EChartsOption } from 'echarts'
import { refThrottled } from '@vueuse/core'
import { computed, toRef } from 'vue'
import ChartSheet from '@/charts/ChartSheet.vue'
import { axis, base, DARK, niceCeil } from '@/charts/theme'
import { channelOf, type TrailPoint } from '@/live/trail'

const props = defineProps<{ trail: TrailPoint[]; since_s: number | null; height: number }>()

// Figures follow every frame; four drawings a second are enough for a curve, and leave a slow
// machine its main thread for the keys.
const trail = refThrottled(toRef(props, 'trail'), 250, true)

const THRUST = DARK.left
const CURRENT = DARK.right

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
      { ...colored('thrust_gf', THRUST), min: 0, max: atLeast(100) },
      {
        ...colored('current_a', CURRENT),
        min: 0,
        max: atLeast(5),
        position: 'right' as const,
        splitLine: { show: false },
      },
    ],
    series: [curve('thrust_gf', 0, THRUST), curve('current_a', 1, CURRENT)],
  }
})
</script>

<template>
  <ChartSheet
    :option="option"
    name="live"
    :height="height"
    :colors="DARK"
    label="Live thrust and current over time"
  />
</template>
