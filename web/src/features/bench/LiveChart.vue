<script setup lang="ts">
/** Thrust and current as they come, over the run in hand or the last minute. */
import type { EChartsOption } from 'echarts'
import { computed } from 'vue'
import ChartSheet from '@/charts/ChartSheet.vue'
import { axis, base, DARK } from '@/charts/theme'
import { channelOf, type TrailPoint } from '@/live/trail'

const props = defineProps<{ trail: TrailPoint[]; since_s: number | null }>()

const option = computed<EChartsOption>(() => {
  const last = props.trail.at(-1)?.time_s ?? 0
  const since = props.since_s ?? Math.max(0, last - 60)
  const curve = (name: string, yAxisIndex: number, color: string) => ({
    type: 'line' as const,
    showSymbol: false,
    yAxisIndex,
    lineStyle: { color, width: 2.2 },
    itemStyle: { color },
    data: channelOf(props.trail, name, since),
    endLabel: {
      show: true,
      color,
      fontSize: 13,
      formatter: name === 'thrust_gf' ? 'thrust' : 'current',
    },
  })
  const scale = base(DARK)
  return {
    ...scale,
    grid: { left: 64, right: 84, top: 14, bottom: 42 },
    tooltip: { show: false },
    xAxis: { ...axis(DARK, 'time_s', false), min: 0 },
    yAxis: [
      { ...axis(DARK, 'thrust_gf', true), min: 0 },
      {
        ...axis(DARK, 'current_a', true),
        min: 0,
        position: 'right' as const,
        splitLine: { show: false },
      },
    ],
    series: [curve('thrust_gf', 0, '#f0b98a'), curve('current_a', 1, '#7fc7bd')],
  }
})
</script>

<template>
  <ChartSheet
    :option="option"
    name="live"
    :height="196"
    :colors="DARK"
    label="Live thrust and current over time"
  />
</template>
