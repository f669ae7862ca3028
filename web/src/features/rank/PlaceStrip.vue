<script setup lang="ts">
/** How probable each place is, as a strip: one column per place. */
import { computed } from 'vue'
import { shareText } from './asked'

const props = defineProps<{ places: number[]; from: number | null; to: number | null }>()
const HEIGHT = 26
const WIDTH = 132
const bars = computed(() => {
  const width = WIDTH / Math.max(1, props.places.length)
  return props.places.map((share, index) => ({
    x: index * width,
    width: Math.max(1, width - 2),
    height: Math.max(share > 0 ? 1.5 : 0, share * HEIGHT),
    place: index + 1,
    share,
  }))
})
const words = computed(() =>
  props.from === null || props.to === null
    ? ''
    : `place ${props.from === props.to ? props.from : `${props.from} to ${props.to}`}`,
)
const told = computed(() =>
  props.places
    .map((share, index) => [index + 1, share] as const)
    .filter(([, share]) => share >= 0.005)
    .map(([place, share]) => `place ${place}: ${shareText(share)}`)
    .join(', '),
)
</script>

<template>
  <span v-if="places.length" class="strip" tabindex="0" :data-reason="told">
    <svg :width="WIDTH" :height="HEIGHT + 2" aria-hidden="true">
      <g v-for="bar in bars" :key="bar.place">
        <rect :x="bar.x" y="0" :width="bar.width" :height="HEIGHT" class="ground" />
        <rect
          :x="bar.x"
          :y="HEIGHT - bar.height"
          :width="bar.width"
          :height="bar.height"
          class="bar"
        />
      </g>
    </svg>
    <span class="words">{{ words }}</span>
    <span class="visually-hidden">{{ told }}</span>
  </span>
  <span v-else class="soft">—</span>
</template>

<style scoped>
.strip {
  display: inline-flex;
  flex-direction: column;
  line-height: 1.2;
}
.ground {
  fill: var(--line-soft);
}
.bar {
  fill: var(--within);
}
.words {
  font-size: 12px;
  color: var(--ink-soft);
}
</style>
