<script setup lang="ts">
/** One cell in full: what it will draw, against every limit, and what a run there would teach. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { formatNumber } from '@/figures/format'
import { barOf, mayPassWords, shareWords, sitsWords, throttleWords, worthWords } from './cells'

const props = defineProps<{
  matrix: Schemas['Matrix']
  at: [number, number]
  thrust_gf: number
  runsWanted: number
  /** So many readers ask for it. */
  readers: number
}>()
const row = computed(() => props.matrix.rows[props.at[0]])
const column = computed(() => props.matrix.columns[props.at[1]])
const cell = computed(() => props.matrix.cells[props.at[0]]?.[props.at[1]])
const figures = computed(() => {
  const one = cell.value
  if (!one) return []
  return [
    { label: 'Largest thrust', value: one.thrust_gf, u: one.thrust_u_gf, unit: 'gf' },
    { label: 'Current', value: one.current_a, u: one.current_u_a, unit: 'A' },
    { label: 'Power', value: one.power_w, u: one.power_u_w, unit: 'W' },
    { label: 'Speed', value: one.speed_rpm, u: one.speed_u_rpm, unit: 'rpm' },
    {
      label: 'gf/W at full throttle',
      value: one.efficiency_g_per_w,
      u: one.efficiency_u_g_per_w,
      unit: 'gf/W',
    },
    {
      label: `gf/W at ${formatNumber(props.thrust_gf, 0)} gf`,
      value: one.common_g_per_w,
      u: one.common_u_g_per_w,
      unit: 'gf/W',
    },
    {
      label: 'Winding above its case',
      value: one.winding_rise_k,
      u: one.winding_rise_u_k,
      unit: 'K',
    },
  ]
})
</script>

<template>
  <section v-if="cell && row && column" class="sheet" aria-label="The cell in hand">
    <h2>
      {{ row.name }} {{ row.mark }} <span class="soft">on {{ column.name }}</span>
    </h2>
    <p v-if="cell.why_not" class="soft">{{ cell.why_not }}</p>
    <template v-else>
      <dl>
        <template v-for="one in figures" :key="one.label">
          <dt>{{ one.label }}</dt>
          <dd>
            <Figure
              estimated
              :value="one.value"
              :u="one.u"
              :unit="one.unit"
              reason="full throttle does not give that thrust"
            />
          </dd>
        </template>
      </dl>
      <h3>Of each limit</h3>
      <ul>
        <li v-for="limit in cell.limits" :key="limit.name" :class="{ beyond: limit.used > 1 }">
          <span>{{ limit.name }}</span>
          <svg viewBox="0 0 100 6" preserveAspectRatio="none" aria-hidden="true">
            <rect width="100" height="6" class="track" />
            <rect :width="barOf(limit.used)" height="6" class="bar" />
          </svg>
          <span class="share">{{ shareWords(limit) }}</span>
        </li>
      </ul>
      <p v-if="mayPassWords(cell)" class="may">{{ mayPassWords(cell) }}</p>
      <p v-if="throttleWords(cell)" class="beyond">{{ throttleWords(cell) }}.</p>
      <p :class="cell.barred ? 'beyond' : 'small'">{{ sitsWords(cell) }}</p>
    </template>
    <p v-if="cell.away" class="beyond">{{ cell.away }}</p>
    <p v-if="readers" class="small">
      <span class="tag">asked</span>
      {{ readers === 1 ? 'One reader asks' : `${readers} readers ask` }}
      for it.
    </p>
    <p class="soft small">
      {{ cell.runs }} of {{ runsWanted }} runs wanted; {{ worthWords(cell) }}. Motor:
      {{ row.words }}; propeller: {{ column.words }}.
    </p>
    <p v-if="!cell.why_not" class="soft small">
      Predicted for full throttle after a run of plateaus. A prediction is no permission: ratings,
      maker's instructions and local codes come first.
    </p>
    <slot />
  </section>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 3px 12px;
  margin: 6px 0 0;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  text-align: right;
}
h3 {
  font-size: 13.5px;
  margin: 10px 0 2px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 116px 1fr 86px;
  gap: 8px;
  align-items: center;
  font-size: 13px;
}
svg {
  width: 100%;
  height: 6px;
}
.track {
  fill: var(--line);
}
.bar {
  fill: var(--within);
}
li.beyond .bar {
  fill: var(--stop);
}
.beyond {
  font-weight: 700;
}
.share {
  text-align: right;
}
.may {
  color: var(--caution-ink);
}
p {
  margin: 6px 0 0;
}
</style>
