<script setup lang="ts">
/** The motor's colour and marker shape. */
import { computed } from 'vue'
import { motorMark, type Mark } from './motorMark'

const props = defineProps<{ motor: number; mark?: Mark }>()
const mark = computed(() => props.mark ?? motorMark(props.motor))
</script>

<template>
  <svg class="mark" width="12" height="12" viewBox="-6 -6 12 12" aria-hidden="true">
    <circle v-if="mark.symbol === 'circle'" r="4.6" :fill="mark.color" />
    <rect
      v-else-if="mark.symbol === 'rect'"
      x="-4.4"
      y="-4.4"
      width="8.8"
      height="8.8"
      :fill="mark.color"
    />
    <path v-else-if="mark.symbol === 'triangle'" d="M0 -5.2 5.2 4.2 -5.2 4.2Z" :fill="mark.color" />
    <path v-else d="M0 -5.6 5.6 0 0 5.6 -5.6 0Z" :fill="mark.color" />
  </svg>
</template>

<style scoped>
.mark {
  margin-right: 5px;
  vertical-align: -1px;
}
</style>
