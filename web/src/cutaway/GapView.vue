<script setup lang="ts">
/** The air gap ten times as large, as a group; `at` is its middle, `size` its edge in millimetres. */
import { computed } from 'vue'
import { airGap, type Dimensions } from './dimensions'
import { polygon } from './shapes'
import { formatNumber } from '@/figures/format'

const props = defineProps<{
  dimensions: Dimensions
  at: readonly [number, number]
  size: number
}>()
const gap = computed(() => airGap(props.dimensions))
const move = (at: readonly [number, number]) => `translate(${at[0]} ${at[1]})`

const INSET_ZOOM = 10
const detail = computed(() => {
  const half = props.size / 2
  const gapHalf = (gap.value.value * INSET_ZOOM) / 2
  const edge = Math.min(gapHalf, half * 0.9)
  return {
    half,
    stator: polygon([
      [-half, -half],
      [-edge, -half],
      [-edge, half],
      [-half, half],
    ]),
    magnet: polygon([
      [edge, -half],
      [half, -half],
      [half, half],
      [edge, half],
    ]),
    edge,
  }
})
</script>

<template>
  <g :transform="move(at)">
    <path :d="detail.stator" class="stator" />
    <path :d="detail.magnet" class="magnet north" />
    <line
      class="edge"
      :class="{ assumed: gap.basis !== 'measured' }"
      :x1="-detail.edge"
      :x2="-detail.edge"
      :y1="-detail.half"
      :y2="detail.half"
    />
    <line
      class="edge"
      :class="{ assumed: gap.basis !== 'measured' }"
      :x1="detail.edge"
      :x2="detail.edge"
      :y1="-detail.half"
      :y2="detail.half"
    />
    <rect class="lens" :x="-detail.half" :y="-detail.half" :width="size" :height="size" />
    <text y="0" :dy="detail.half + 1.8" text-anchor="middle">
      {{ gap.basis === 'measured' ? '' : '~' }}{{ formatNumber(gap.value, 2) }} mm gap, 10 ×
    </text>
  </g>
</template>

<style scoped src="./cutaway.css"></style>
