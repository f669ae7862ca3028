<script setup lang="ts">
/** What a telephone reads, drawn from rows of 0 and 1; four fields of quiet around it. */
import { computed } from 'vue'

const props = defineProps<{ rows: string[] }>()
const QUIET = 4
const side = computed(() => props.rows.length + 2 * QUIET)
const path = computed(() =>
  props.rows
    .flatMap((row, y) =>
      [...row].map((one, x) => (one === '1' ? `M${x + QUIET} ${y + QUIET}h1v1h-1z` : '')),
    )
    .join(''),
)
</script>

<template>
  <svg
    class="code"
    :viewBox="`0 0 ${side} ${side}`"
    role="img"
    aria-label="The secret as a picture for a telephone"
    shape-rendering="crispEdges"
  >
    <rect width="100%" height="100%" fill="#fff" />
    <path :d="path" fill="#000" />
  </svg>
</template>

<style scoped>
.code {
  width: 220px;
  height: 220px;
}
</style>
