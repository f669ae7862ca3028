<script setup lang="ts">
/** A curve the size of a word: its course alone; the figures stand beside it. */
import { computed } from 'vue'

const props = defineProps<{
  x: readonly number[]
  y: readonly number[]
  /** The ends of both axes, the same for all that stand together. */
  most: { x: number; y: number }
  /** Where a figure beside it was read. */
  at?: number | null
  name: string
}>()
const WIDTH = 120
const HEIGHT = 30
const px = (x: number) => (WIDTH * x) / (props.most.x || 1)
const py = (y: number) => HEIGHT - (HEIGHT * y) / (props.most.y || 1)
const line = computed(() =>
  props.x.map((x, i) => `${px(x).toFixed(1)},${py(props.y[i] ?? 0).toFixed(1)}`).join(' '),
)
</script>

<template>
  <svg
    class="small-curve"
    :viewBox="`0 -1 ${WIDTH} ${HEIGHT + 2}`"
    :width="WIDTH"
    :height="HEIGHT + 2"
    role="img"
    :aria-label="name"
  >
    <path :d="`M0 ${HEIGHT}H${WIDTH}`" class="ground" />
    <path v-if="at" :d="`M${px(at)} 0V${HEIGHT}`" class="at" />
    <polyline :points="line" />
  </svg>
</template>

<style scoped>
.small-curve {
  display: block;
}
polyline {
  fill: none;
  stroke: var(--copper);
  stroke-width: 1.6;
}
.ground {
  stroke: var(--line);
}
.at {
  stroke: var(--ink-soft);
  stroke-dasharray: 2 2;
}
</style>
