<script setup lang="ts">
/** The course of a column, the size of a word; gaps where nothing was written. */
import { computed } from 'vue'

const props = defineProps<{ values: readonly (number | null)[] }>()
const WIDTH = 92
const HEIGHT = 20
const ends = computed(() => {
  const known = props.values.filter((value): value is number => value !== null)
  return { low: Math.min(...known), high: Math.max(...known) }
})
const path = computed(() => {
  const { low, high } = ends.value
  const span = high - low || 1
  const step = WIDTH / Math.max(1, props.values.length - 1)
  let pen = 'M'
  return props.values
    .map((value, at) => {
      if (value === null) {
        pen = 'M'
        return ''
      }
      const point = `${pen}${(at * step).toFixed(1)} ${(HEIGHT * (1 - (value - low) / span)).toFixed(1)}`
      pen = 'L'
      return point
    })
    .join('')
})
</script>

<template>
  <svg
    :viewBox="`-1 -1 ${WIDTH + 2} ${HEIGHT + 2}`"
    :width="WIDTH + 2"
    :height="HEIGHT + 2"
    aria-hidden="true"
  >
    <path :d="path" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}
path {
  fill: none;
  stroke: var(--copper);
  stroke-width: 1.4;
}
</style>
