<script setup lang="ts">
/**
 * A motor drawn to scale from what is on record: half-section, face view, the air gap magnified.
 * Dashed lines are not measured; the words below say what they rest on.
 */
import { computed } from 'vue'
import { airGap, contradiction, dimensionsOf, namesOf, notDrawn, type Seen } from './dimensions'
import { face } from './face'
import FaceView from './FaceView.vue'
import GapView from './GapView.vue'
import { section } from './section'
import SectionView from './SectionView.vue'
import { formatNumber } from '@/figures/format'

const props = defineProps<{
  seen: Seen[]
  size?: { code: string; basis: string }
  name: string
}>()

const dimensions = computed(() => dimensionsOf(props.seen, props.size))
const problem = computed(() => notDrawn(props.size) || contradiction(dimensions.value))
const cut = computed(() => section(dimensions.value))
const front = computed(() => face(dimensions.value))
const gap = computed(() => airGap(dimensions.value))

const GAP_BETWEEN_MM = 3
/** Both views and the inset in one frame, in millimetres; the inset is ten times as large. */
const frame = computed(() => {
  const { box } = cut.value
  const faceSize = 2 * front.value.radius
  const inset = 0.42 * faceSize
  const height = Math.max(box.height, faceSize) + 4
  return {
    width: box.width + faceSize + inset + 3 * GAP_BETWEEN_MM + 2,
    height,
    sectionAt: [1 - box.x, 1 - box.y + (height - 4 - box.height) / 2] as const,
    faceAt: [
      1 + box.width + GAP_BETWEEN_MM + front.value.radius,
      1 + front.value.radius + (height - 4 - faceSize) / 2,
    ] as const,
    insetAt: [
      1 + box.width + faceSize + 2 * GAP_BETWEEN_MM + inset / 2,
      1 + (height - 4) / 2,
    ] as const,
    inset,
  }
})

const assumed = computed(() => namesOf(dimensions.value, 'assumed'))
const claimed = computed(() => namesOf(dimensions.value, 'claimed'))
const taken = computed(() => namesOf(dimensions.value, 'taken'))
const why = computed(() =>
  [
    [claimed.value, 'by the size code'],
    [taken.value, 'taken over from another sample'],
    [assumed.value, 'assumed at a typical size'],
  ]
    .filter(([names]) => names?.length)
    .map(([names, reason]) => `${(names as string[]).join(', ')} ${reason}`)
    .join('; '),
)
const counts = computed(
  () => `${dimensions.value.slots.value} slots, ${dimensions.value.poles.value} poles`,
)
</script>

<template>
  <figure class="cutaway">
    <p v-if="problem" class="problem" role="status">{{ problem }}</p>
    <svg
      v-else
      :viewBox="`0 0 ${frame.width} ${frame.height}`"
      role="img"
      :aria-label="`${name} to scale: half-section, face with ${counts}, air gap ${formatNumber(gap.value, 2)} mm`"
    >
      <SectionView :dimensions="dimensions" :at="frame.sectionAt" />
      <FaceView :dimensions="dimensions" :at="frame.faceAt" />
      <GapView :dimensions="dimensions" :at="frame.insetAt" :size="frame.inset" />
      <g :transform="`translate(1.5 ${frame.height - 1})`" class="scale">
        <path d="M0 -.6V0H10V-.6" />
        <text x="10.5" y="0.3">10 mm</text>
      </g>
    </svg>
    <figcaption v-if="!problem" class="soft small">
      <template v-if="why"
        >Dashed is not measured: {{ why }}. Clearances, winding heads, screw and leads are always
        drawn at a typical size.</template
      >
      <template v-else>
        All of it measured but clearances, winding heads, screw and leads.
      </template>
    </figcaption>
  </figure>
</template>

<style scoped>
.cutaway {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  max-height: 320px;
}
.scale path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 0.9px;
  vector-effect: non-scaling-stroke;
}
.scale text {
  font: 1.35px var(--text);
  fill: var(--ink);
}
.problem {
  color: var(--caution);
}
figcaption {
  margin-top: 6px;
}
</style>
