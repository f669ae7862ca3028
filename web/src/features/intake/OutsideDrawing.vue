<script setup lang="ts">
/** The motor from outside: click a dimension to type it. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { outside, type Known } from './outside'

const props = defineProps<{
  known: Known
  code: { diameter: number; height: number } | null
  chosen: string
  attributes: Map<string, Schemas['Attribute']>
  name: string
}>()
const emit = defineEmits<{ choose: [key: string] }>()
const drawing = computed(() => outside(props.known, props.code))
const move = (at: readonly [number, number]) => `translate(${at[0]} ${at[1]})`
const label = (key: string) => props.attributes.get(key)?.label ?? key
const text = (key: string) => {
  const value = props.known[key]
  if (value === undefined) return '?'
  const sign = /diameter|circle/.test(key) ? '⌀' : key === 'mount_thread' ? 'M' : ''
  return `${sign}${Number(value.toFixed(2))}`
}
</script>

<template>
  <figure>
    <svg
      :viewBox="`0 0 ${drawing.box.width} ${drawing.box.height}`"
      role="group"
      :aria-label="`${name} from outside, from the side and from below`"
    >
      <g :transform="move(drawing.sideAt)">
        <path
          v-for="(piece, at) in drawing.side"
          :key="at"
          :d="piece.path"
          :class="[piece.part, { assumed: !piece.measured }]"
        />
      </g>
      <g :transform="move(drawing.belowAt)">
        <path
          v-for="(piece, at) in drawing.below"
          :key="at"
          :d="piece.path"
          :class="[piece.part, { assumed: !piece.measured }]"
        />
      </g>
      <g
        v-for="callout in drawing.callouts"
        :key="callout.key"
        class="callout"
        :class="{ chosen: chosen === callout.key, open: !callout.measured }"
        @click="emit('choose', callout.key)"
      >
        <title>{{ label(callout.key) }}</title>
        <path :d="callout.path" class="dimension" />
        <rect :x="callout.x - 3.2" :y="callout.y - 1.5" width="6.4" height="3" rx="0.5" />
        <text :x="callout.x" :y="callout.y + 0.62" text-anchor="middle">
          {{ text(callout.key) }}
        </text>
      </g>
    </svg>
    <figcaption class="soft small">
      Millimetres. Dashed is not measured; click a dimension, type, Enter goes to the next.
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  max-height: 620px;
}
path {
  vector-effect: non-scaling-stroke;
  stroke: var(--ink);
  stroke-width: 0.9px;
  fill: var(--steel-light);
}
.assumed {
  stroke-dasharray: 3.5 2.5;
}
.shaft,
.nut {
  fill: var(--steel-mid);
}
.washer {
  fill: var(--steel-dark);
}
.lead {
  fill: var(--winding);
}
.thread {
  fill: color-mix(in srgb, var(--ink-soft) 20%, transparent);
}
.hole {
  fill: var(--paper);
}
.disc {
  fill: var(--bore);
}
.callout {
  cursor: pointer;
}
.dimension {
  fill: none;
  stroke: var(--ink-soft);
}
.callout rect {
  fill: var(--sheet);
  stroke: var(--line);
  stroke-width: 0.8px;
  vector-effect: non-scaling-stroke;
}
.callout.open rect {
  fill: var(--caution-soft);
  stroke: var(--caution);
}
.callout:hover rect,
.callout.chosen rect {
  stroke: var(--copper);
  stroke-width: 2px;
}
.callout.chosen .dimension {
  stroke: var(--copper);
  stroke-width: 1.8px;
}
text {
  font: 1.7px var(--digits);
  fill: var(--ink);
}
figcaption {
  margin-top: 6px;
}
</style>
