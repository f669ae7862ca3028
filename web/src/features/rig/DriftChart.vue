<script setup lang="ts">
/** Check masses over time: how far each was off, in the band that the stand's u explains. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { formatNumber } from '@/figures/format'

const props = defineProps<{ checks: readonly Schemas['MassCheck'][] }>()
const MOST = 24
const WIDTH = 460
const HEIGHT = 108
const LEFT = 44
const shown = computed(() => props.checks.slice(-MOST))
/** Off by so many percent, so that different masses can stand beside each other. */
const points = computed(() =>
  shown.value.map((check) => ({
    id: check.id,
    day: (check.checked_at ?? '').slice(0, 10),
    off: (100 * check.difference_gf) / check.mass_g,
    band: (200 * check.u_gf) / check.mass_g,
    moved: check.moved,
  })),
)
const reach = computed(
  () => 1.15 * Math.max(...points.value.flatMap((point) => [Math.abs(point.off), point.band])),
)
const x = (at: number) =>
  LEFT + 14 + (at * (WIDTH - LEFT - 28)) / Math.max(1, points.value.length - 1)
const y = (percent: number) => HEIGHT / 2 - (percent / reach.value) * (HEIGHT / 2 - 10)
const band = computed(() => {
  const up = points.value.map((point, at) => `${x(at)},${y(point.band)}`)
  const down = points.value.map((point, at) => `${x(at)},${y(-point.band)}`).reverse()
  return [...up, ...down].join(' ')
})
const tick = computed(() => Number((reach.value / 1.6).toPrecision(1)))
const said = computed(() => {
  const moved = points.value.filter((point) => point.moved).length
  return `${points.value.length} checks, ${moved || 'none'} beyond what u explains`
})
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="said">
      <polygon :points="band" class="band" />
      <line :x1="LEFT" :x2="WIDTH" :y1="y(0)" :y2="y(0)" class="zero" />
      <template v-for="at in [tick, 0, -tick]" :key="at">
        <text :x="LEFT - 6" :y="y(at) + 4" text-anchor="end">
          {{ formatNumber(at, tick < 1 ? 1 : 0) }} %
        </text>
      </template>
      <g v-for="(point, at) in points" :key="point.id">
        <circle v-if="!point.moved" :cx="x(at)" :cy="y(point.off)" r="4" class="held" />
        <path v-else :d="`M${x(at)} ${y(point.off) - 6}l6 11h-12z`" class="moved" />
      </g>
      <text v-if="points.length" :x="x(0)" :y="HEIGHT - 1" text-anchor="middle">
        {{ points[0]?.day.slice(5) }}
      </text>
      <text :x="x(points.length - 1) + 12" :y="HEIGHT - 1" text-anchor="end">
        {{ points.at(-1)?.day.slice(5) }}
      </text>
    </svg>
    <figcaption class="soft small">{{ said }}; the band is ±2 u of the stand.</figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 10px 0 0;
}
svg {
  display: block;
  width: 100%;
  max-width: 560px;
}
.band {
  fill: var(--within-soft);
}
.zero {
  stroke: var(--ink-soft);
  stroke-width: 1;
}
.held {
  fill: var(--within);
}
.moved {
  fill: var(--caution);
}
text {
  font: 11px var(--text);
  fill: var(--ink-soft);
}
</style>
