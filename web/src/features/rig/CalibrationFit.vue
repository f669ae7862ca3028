<script setup lang="ts">
/** What a calibration found: its figures, and how far each reading lies off the line. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { formatNumber } from '@/figures/format'

const props = defineProps<{
  loads: readonly Schemas['Load'][]
  fit: Schemas['CalibrationFit']
}>()
const WIDTH = 460
const HEIGHT = 130
const LEFT = 52
const reach = computed(() => 1.2 * Math.max(0.1, ...props.fit.residuals_gf.map(Math.abs)))
const largest = computed(() => Math.max(1, props.fit.largest_g))
const x = (mass: number) => LEFT + 10 + (mass / largest.value) * (WIDTH - LEFT - 30)
const y = (gf: number) => HEIGHT / 2 - 8 - (gf / reach.value) * (HEIGHT / 2 - 18)
const tick = computed(() => Number((reach.value / 1.5).toPrecision(1)))
const points = computed(() =>
  props.loads.map((load, at) => ({ ...load, off: props.fit.residuals_gf[at] ?? 0 })),
)
</script>

<template>
  <div class="fit">
    <dl>
      <div>
        <dt>Shown for each gram</dt>
        <dd><Figure :value="fit.gain" :u="fit.u_gain" unit="gf" /></dd>
      </div>
      <div>
        <dt>At no load</dt>
        <dd><Figure :value="fit.offset_gf" :u="fit.u_offset_gf" unit="gf" /></dd>
      </div>
      <div>
        <dt>Off the line at most</dt>
        <dd><Figure :value="Number(fit.linearity_gf.toPrecision(2))" unit="gf" /></dd>
      </div>
      <div>
        <dt>Up against down</dt>
        <dd>
          <Figure
            :value="fit.hysteresis_gf && Number(fit.hysteresis_gf.toPrecision(2))"
            unit="gf"
            reason="loaded one way only"
          />
        </dd>
      </div>
      <div>
        <dt>Like readings, s</dt>
        <dd>
          <Figure
            :value="fit.repeatability_gf && Number(fit.repeatability_gf.toPrecision(2))"
            unit="gf"
            reason="no mass was put on twice the same way"
          />
        </dd>
      </div>
      <div class="result">
        <dt>u of a thrust</dt>
        <dd><Figure :value="Number((100 * fit.relative_u).toPrecision(2))" unit="%" /></dd>
      </div>
    </dl>
    <figure>
      <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" aria-label="Readings off the line">
        <line :x1="LEFT" :x2="WIDTH" :y1="y(0)" :y2="y(0)" class="zero" />
        <text
          v-for="at in [tick, 0, -tick]"
          :key="at"
          :x="LEFT - 6"
          :y="y(at) + 4"
          text-anchor="end"
        >
          {{ formatNumber(at, tick < 1 ? 1 : 0) }} gf
        </text>
        <path
          v-for="(point, at) in points"
          :key="at"
          :d="
            point.going === 'down'
              ? `M${x(point.mass_g)} ${y(point.off) + 5}l5 -9h-10z`
              : `M${x(point.mass_g)} ${y(point.off) - 5}l5 9h-10z`
          "
          :class="point.going"
        />
        <text
          v-for="at in [0, largest / 2, largest]"
          :key="`m${at}`"
          :x="x(at)"
          :y="HEIGHT - 2"
          text-anchor="middle"
        >
          {{ formatNumber(at, 0) }} g
        </text>
      </svg>
      <figcaption class="soft small">
        How far each reading lies off the line; triangles up while loading, down while unloading.
      </figcaption>
    </figure>
  </div>
  <p v-for="remark in fit.remarks" :key="remark" class="doubt small">{{ remark }}</p>
</template>

<style scoped src="./rig.css"></style>
<style scoped>
.fit {
  display: grid;
  grid-template-columns: minmax(240px, 2fr) minmax(0, 3fr);
  gap: 20px;
  align-items: center;
  margin-top: 8px;
}
dl {
  margin: 0;
}
dl div {
  display: flex;
  justify-content: space-between;
  border-bottom: 1px solid var(--line-soft);
  padding: 2px 0;
}
dd {
  margin: 0;
}
.result {
  font-weight: 700;
}
figure {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  max-width: 560px;
}
.zero {
  stroke: var(--ink-soft);
}
.up {
  fill: var(--within);
}
.down {
  fill: var(--copper);
}
text {
  font: 11px var(--text);
  fill: var(--ink-soft);
}
@media (max-width: 800px) {
  .fit {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
