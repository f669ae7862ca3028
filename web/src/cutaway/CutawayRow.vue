<script setup lang="ts">
/** Two to four motors drawn at one scale: half-sections on one line, faces below them. */
import { computed, ref } from 'vue'
import { dimensionsOf, notDrawn, type Seen } from './dimensions'
import FaceView from './FaceView.vue'
import { row } from './row'
import SectionView from './SectionView.vue'

export interface Drawn {
  name: string
  seen: Seen[]
  size: { code: string; basis: string }
}
const props = defineProps<{ motors: Drawn[] }>()
const svg = ref<SVGSVGElement | null>(null)
const drawn = computed(() => props.motors.filter((motor) => !notDrawn(motor.size)))
const left = computed(() => props.motors.filter((motor) => notDrawn(motor.size)))
const all = computed(() => drawn.value.map((motor) => dimensionsOf(motor.seen, motor.size)))
const frame = computed(() => row(all.value))
const LETTER_MM = 1.6
/** The end of a name says most: size, kV and sample; a long one loses its beginning. */
function fitted(name: string, width: number): string {
  const most = Math.floor((width + 3) / (0.6 * LETTER_MM))
  return name.length > most ? `…${name.slice(1 - most)}` : name
}
defineExpose({ svg })
</script>

<template>
  <figure class="row">
    <svg
      v-if="drawn.length"
      ref="svg"
      :viewBox="`0 0 ${frame.width} ${frame.height}`"
      role="img"
      :aria-label="`${drawn.map((motor) => motor.name).join(', ')} at one scale`"
    >
      <template v-for="(place, at) in frame.places" :key="at">
        <text :x="place.x + place.width / 2" :y="frame.nameY" text-anchor="middle">
          {{ fitted(drawn[at]?.name ?? '', place.width) }}
          <title>{{ drawn[at]?.name }}</title>
        </text>
        <SectionView :dimensions="all[at]!" :at="place.sectionAt" />
        <FaceView :dimensions="all[at]!" :at="place.faceAt" />
      </template>
      <g :transform="`translate(1.5 ${frame.height - 0.8})`" class="scale">
        <path d="M0 -.6V0H10V-.6" />
        <text x="10.5" y="0.3">10 mm</text>
      </g>
    </svg>
    <figcaption class="soft small">
      One scale; dashed is not measured on that sample.
      <template v-if="left.length">
        Not drawn: {{ left.map((motor) => motor.name).join(', ') }}.
      </template>
    </figcaption>
  </figure>
</template>

<style scoped>
.row {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  max-height: 430px;
}
text {
  font: 1.6px var(--text);
  fill: var(--ink);
}
.scale path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 0.9px;
  vector-effect: non-scaling-stroke;
}
</style>
