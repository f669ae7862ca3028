<script setup lang="ts">
/** Blocks of a fit, to scale. */
import { computed } from 'vue'
import type { Block } from './fitDrawing'

const props = defineProps<{
  blocks: Block[]
  box: { x: number; y: number; width: number; height: number }
  marks: { y: number; text: string }[]
  bad: boolean
  name: string
}>()
const MARK_MM = 9
const LINE_MM = 1.5
const view = computed(() => {
  const width = props.box.width + (props.marks.length ? MARK_MM : 0)
  return `${props.box.x} ${props.box.y} ${width} ${props.box.height}`
})
/** Words of marks that lie close to each other are pushed apart, from the lowest up. */
const words = computed(() => {
  let above = Infinity
  return [...props.marks]
    .sort((a, b) => b.y - a.y)
    .map((mark) => {
      const y = Math.min(mark.y + 0.4, above - LINE_MM)
      above = y
      return { ...mark, textY: y }
    })
})
const right = computed(() => props.box.x + props.box.width)
</script>

<template>
  <figure>
    <svg :viewBox="view" role="img" :aria-label="name">
      <rect
        v-for="(block, at) in blocks"
        :key="at"
        :x="block.x"
        :y="block.y"
        :width="block.width"
        :height="block.height"
        :class="[block.part, { bad: bad && (block.part === 'screw' || block.part === 'hub') }]"
      />
      <g v-for="mark in words" :key="mark.text" class="mark">
        <path :d="`M${box.x} ${mark.y}H${right + 0.6}`" />
        <text :x="right + 0.9" :y="mark.textY">{{ mark.text }}</text>
      </g>
    </svg>
    <figcaption class="soft small">{{ name }}</figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 10px 0 0;
}
svg {
  display: block;
  width: 100%;
  max-height: 210px;
}
rect {
  stroke: var(--ink);
  stroke-width: 0.8px;
  vector-effect: non-scaling-stroke;
}
.arm {
  fill: var(--thread);
}
.base,
.bell {
  fill: var(--steel);
}
.room {
  fill: var(--sheet);
}
.copper {
  fill: var(--winding);
}
.screw,
.head,
.nut {
  fill: var(--screw);
}
.screw {
  opacity: 0.9;
}
.shaft {
  fill: var(--steel-mid);
}
.washer {
  fill: var(--dark-soft);
}
.hub {
  fill: var(--plastic);
}
.ring {
  fill: var(--propeller);
}
.bad {
  fill: var(--stop);
}
.mark path {
  stroke: var(--ink-soft);
  stroke-width: 0.7px;
  stroke-dasharray: 4 3;
  vector-effect: non-scaling-stroke;
}
text {
  font: 1.3px var(--text);
  fill: var(--ink);
}
</style>
