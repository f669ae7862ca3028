<script setup lang="ts">
/**
 * A motor drawn to scale from what is on record: half-section, face view, the air gap magnified.
 * Dashed lines are not measured; the words below say what they rest on.
 */
import { computed } from 'vue'
import { airGap, contradiction, dimensionsOf, namesOf, notDrawn, type Seen } from './dimensions'
import { face } from './face'
import { section } from './section'
import { polygon, type Shape } from './shapes'

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

const INSET_ZOOM = 10
const detail = computed(() => {
  const half = frame.value.inset / 2
  const gapHalf = (gap.value.value * INSET_ZOOM) / 2
  const edge = Math.min(gapHalf, half * 0.9)
  return {
    half,
    stator: polygon([[-half, -half], [-edge, -half], [-edge, half], [-half, half]]),
    magnet: polygon([[edge, -half], [half, -half], [half, half], [edge, half]]),
    edge,
  } // prettier-ignore
})

const assumed = computed(() => namesOf(dimensions.value, 'assumed'))
const claimed = computed(() => namesOf(dimensions.value, 'claimed'))
const counts = computed(
  () => `${dimensions.value.slots.value} slots, ${dimensions.value.poles.value} poles`,
)
const PARTS: Record<string, string> = {
  'outside bell': 'bell from outside',
  'outside base': 'base from outside',
  bell: 'bell, cut',
  ring: 'flux ring',
  tube: 'bearing tube',
  screw: 'mounting screw',
  bore: 'bore of the shaft',
}
/** What the mouse rests on. */
function titleOf(item: Shape): string {
  const name = PARTS[item.part] ?? (item.part.startsWith('magnet') ? 'magnet' : item.part)
  return item.assumed ? `${name}; not measured` : name
}
const move = (at: readonly [number, number]) => `translate(${at[0]} ${at[1]})`
</script>

<template>
  <figure class="cutaway">
    <p v-if="problem" class="problem" role="status">{{ problem }}</p>
    <svg
      v-else
      :viewBox="`0 0 ${frame.width} ${frame.height}`"
      role="img"
      :aria-label="`${name} to scale: half-section, face with ${counts}, air gap ${gap.value.toFixed(2)} mm`"
    >
      <g :transform="move(frame.sectionAt)">
        <path
          v-for="(item, at) in cut.shapes"
          :key="at"
          :d="item.path"
          :class="[item.part, { assumed: item.assumed }]"
        >
          <title>{{ titleOf(item) }}</title>
        </path>
        <line
          v-for="y in cut.laminations.y"
          :key="y"
          class="lamination"
          :x1="cut.laminations.from"
          :x2="cut.laminations.to"
          :y1="y"
          :y2="y"
        />
        <line
          class="axis"
          x1="0"
          x2="0"
          :y1="cut.box.y - 0.6"
          :y2="cut.box.y + cut.box.height + 0.6"
        />
      </g>
      <g :transform="move(frame.faceAt)">
        <path
          v-for="(item, at) in front.shapes"
          :key="at"
          :d="item.path"
          fill-rule="evenodd"
          :class="[item.part, { assumed: item.assumed }]"
        >
          <title>{{ titleOf(item) }}</title>
        </path>
      </g>
      <g :transform="move(frame.insetAt)">
        <path :d="detail.stator" class="stator" />
        <path :d="detail.magnet" class="magnet north" />
        <line
          class="edge"
          :class="{ assumed: gap.basis !== 'measured' }"
          :x1="-detail.edge"
          :x2="-detail.edge"
          :y1="-detail.half"
          :y2="detail.half"
        />
        <line
          class="edge"
          :class="{ assumed: gap.basis !== 'measured' }"
          :x1="detail.edge"
          :x2="detail.edge"
          :y1="-detail.half"
          :y2="detail.half"
        />
        <rect
          class="lens"
          :x="-detail.half"
          :y="-detail.half"
          :width="frame.inset"
          :height="frame.inset"
        />
        <text y="0" :dy="detail.half + 1.8" text-anchor="middle">
          {{ gap.basis === 'measured' ? '' : '~' }}{{ gap.value.toFixed(2) }} mm gap, 10 ×
        </text>
      </g>
      <g :transform="`translate(1.5 ${frame.height - 1})`" class="scale">
        <path d="M0 -.6V0H10V-.6" />
        <text x="10.5" y="0.3">10 mm</text>
      </g>
    </svg>
    <figcaption v-if="!problem" class="soft small">
      <template v-if="assumed.length || claimed.length">
        Dashed is not measured<template v-if="claimed.length"
          >: {{ claimed.join(', ') }} by the size code</template
        ><template v-if="assumed.length"
          >{{ claimed.length ? ';' : ':' }} {{ assumed.join(', ') }} assumed at a typical
          size</template
        >. Clearances, winding heads, screw and leads are always drawn at a typical size.
      </template>
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
path,
line,
rect {
  vector-effect: non-scaling-stroke;
  stroke: var(--ink);
  stroke-width: 0.9px;
  stroke-linejoin: round;
}
.assumed {
  stroke-dasharray: 3.5 2.5;
}
.outside {
  fill: var(--line-soft);
}
.bell,
.base,
.tube {
  fill: #c9cdc9;
}
.ring {
  fill: #8b9699;
}
.magnet {
  fill: #5d7a80;
}
.magnet.south {
  fill: #9fb5b6;
}
.stator {
  fill: #e6dcc6;
}
.winding {
  fill: #cf8a58;
}
.bearing {
  fill: #f3efe4;
}
.shaft {
  fill: #aeb5b4;
}
.bore {
  fill: var(--sheet);
}
.screw {
  fill: #4d5c62;
}
.lead {
  fill: #cf8a58;
}
.lamination {
  stroke: #a79c84;
  stroke-width: 0.4px;
}
.axis {
  stroke: var(--ink-soft);
  stroke-dasharray: 8 2 1.5 2;
  stroke-width: 0.7px;
}
.edge {
  stroke-width: 1.2px;
}
.lens {
  fill: none;
  stroke: var(--ink-soft);
}
.scale path {
  fill: none;
}
text {
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
