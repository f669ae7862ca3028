<script setup lang="ts">
/** A stand to scale: arms in their proportion, weights by their names, which way thrust goes. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ kind: string; state: Schemas['StandState'] | null }>()
const WIDTH = 420
const HEIGHT = 156
const BEAM = 92
const lever = computed(() => Boolean(props.state?.motor_arm_mm && props.state?.scale_arm_mm))
/** The axle stands in the middle; the longer arm takes 170 of the picture's units. */
const arms = computed(() => {
  const motor = props.state?.motor_arm_mm ?? 1
  const scale = props.state?.scale_arm_mm ?? 1
  const unit = 160 / Math.max(motor, scale)
  return { motor: motor * unit, scale: scale * unit }
})
const axle = WIDTH / 2
const motorX = computed(() => (lever.value ? axle - arms.value.motor : axle))
const scaleX = computed(() => (lever.value ? axle + arms.value.scale : axle))
/** On one side of the axle the beam turns thrust about; a lever pushes the scale down. */
const down = computed(() => !props.state?.lifts)
const weights = computed(() => props.state?.weights ?? [])
const said = computed(() => {
  if (!lever.value) return 'Motor straight over its scale'
  return `Lever, motor at ${props.state?.motor_arm_mm} mm, scale at ${props.state?.scale_arm_mm} mm`
})
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="said">
    <defs>
      <marker
        id="stand-arrow"
        viewBox="0 0 8 8"
        refX="6"
        refY="4"
        markerWidth="6"
        markerHeight="6"
        orient="auto-start-reverse"
      >
        <path d="M0 0 8 4 0 8z" class="tip" />
      </marker>
    </defs>
    <path v-if="lever" :d="`M${motorX - 14} ${BEAM}H${scaleX + 14}`" class="beam" />
    <path v-if="lever" :d="`M${axle} ${BEAM}l-12 34h24z`" class="axle" />
    <!-- The motor with its propeller, and the way it pulls. -->
    <rect :x="motorX - 15" :y="BEAM - 32" width="30" height="24" class="motor" rx="2" />
    <path :d="`M${motorX - 38} ${BEAM - 36}q19 -7 38 0q19 7 38 0`" class="prop" />
    <path
      v-if="lever || !down"
      :d="`M${motorX} ${BEAM - 44}v-34`"
      class="force"
      marker-end="url(#stand-arrow)"
    />
    <path v-else :d="`M${motorX} ${BEAM - 78}v30`" class="force" marker-end="url(#stand-arrow)" />
    <text :x="motorX + 10" :y="BEAM - 62">thrust</text>
    <!-- The scale. -->
    <rect
      :x="scaleX - 34"
      :y="lever ? BEAM + 22 : BEAM + 8"
      width="68"
      height="16"
      class="scale"
      rx="3"
    />
    <path
      v-if="lever"
      :d="`M${scaleX} ${BEAM + 3}v14`"
      class="force thin"
      marker-end="url(#stand-arrow)"
    />
    <text :x="scaleX" :y="lever ? BEAM + 34 : BEAM + 20" text-anchor="middle">scale</text>
    <g v-if="lever">
      <path :d="`M${motorX} ${BEAM + 46}H${axle}`" class="measure" />
      <path :d="`M${axle} ${BEAM + 46}H${scaleX}`" class="measure" />
      <text :x="(motorX + axle) / 2" :y="BEAM + 60" text-anchor="middle" class="number">
        {{ state?.motor_arm_mm }} mm
      </text>
      <text :x="(axle + scaleX) / 2" :y="BEAM + 60" text-anchor="middle" class="number">
        {{ state?.scale_arm_mm }} mm
      </text>
    </g>
    <g v-for="(weight, at) in weights.slice(0, 3)" :key="weight.name">
      <rect :x="axle + 40" :y="6 + 20 * at" width="14" height="14" class="weight" />
      <text :x="axle + 60" :y="17 + 20 * at" class="number">
        {{ weight.name }} {{ weight.mass_g }} g
      </text>
    </g>
    <text v-if="weights.length > 3" :x="axle + 60" y="77">and {{ weights.length - 3 }} more</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-width: 520px;
}
.beam {
  stroke: var(--steel-dark);
  stroke-width: 6;
  stroke-linecap: round;
}
.axle,
.scale {
  fill: var(--steel);
  stroke: var(--ink);
}
.motor {
  fill: var(--steel-mid);
  stroke: var(--ink);
}
.prop {
  fill: none;
  stroke: var(--propeller);
  stroke-width: 5;
  stroke-linecap: round;
}
.force {
  stroke: var(--copper);
  stroke-width: 2.4;
  fill: none;
}
.thin {
  stroke-width: 1.6;
}
.tip {
  fill: var(--copper);
}
.measure {
  stroke: var(--ink-soft);
  stroke-width: 1;
}
.weight {
  fill: var(--screw);
}
text {
  font: 12px var(--text);
  fill: var(--ink-soft);
}
.number {
  fill: var(--ink);
}
</style>
