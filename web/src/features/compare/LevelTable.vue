<script setup lang="ts">
/** The table under the condition, where curves cross, and what a correction did. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import type { Mark } from '@/figures/motorMark'
import { labelOf, unitOf } from '@/words/words'
import { CONDITION_WORDS } from './bench'
import TableStill from '@/charts/TableStill.vue'
import ComparisonTable from './ComparisonTable.vue'
import { comparisonStill } from './comparisonStill'
import { shortNames } from './curves'
import { deltaLine, figureText } from '@/figures/format'

const props = defineProps<{ comparison: Schemas['Comparison']; marks: Mark[] }>()
const words = computed(() => {
  const said = CONDITION_WORDS[props.comparison.condition] ?? props.comparison.condition
  return `At ${said}`
})
const names = computed(() => shortNames(props.comparison.subjects))
const nameOf = (key: number) =>
  names.value[props.comparison.subjects.findIndex((one) => one.key === key)] ?? `#${key}`
const round = (value: number) => figureText(Number(value.toPrecision(3))).value
const corrected = computed(() => props.comparison.correction.filter((one) => one.way))
const raw = computed(() => props.comparison.correction.filter((one) => !one.way))
</script>

<template>
  <section class="sheet" :aria-label="words">
    <h2>
      {{ words }}
      <TableStill name="compare" :table="() => comparisonStill(comparison)" />
    </h2>
    <ComparisonTable :comparison="comparison" :marks="marks" />
    <p
      v-for="crossing in comparison.crossings"
      :key="`${crossing.a}-${crossing.b}-${crossing.y_name}-${crossing.at}`"
      class="small"
    >
      {{ labelOf(crossing.y_name) }} of {{ nameOf(crossing.a) }} and {{ nameOf(crossing.b) }} cross
      at {{ round(crossing.at) }} {{ unitOf(crossing.x_name) }}; they differ measurably below
      {{ round(crossing.low) }} and above {{ round(crossing.high) }} {{ unitOf(crossing.x_name) }}.
    </p>
    <p v-if="comparison.envelope.length" class="small">
      The thriftiest of its propellers along the thrust:
      <template v-for="(one, at) in comparison.envelope" :key="one.low"
        ><template v-if="at">; </template>{{ round(one.low) }} to {{ round(one.high) }} gf
        {{ one.best.map(nameOf).join(' or ')
        }}<template v-if="one.best.length > 1"> (not told apart)</template></template
      >.
    </p>
    <div v-if="comparison.correction.length" class="small">
      <p v-for="one in corrected" :key="one.run">
        Run {{ one.run }} brought to nominal voltage and 1.225 kg/m³
        {{ one.way === 'model' ? 'by its identified model' : 'by powers of voltage and density' }},
        at its strongest point:
        <template v-for="(change, at) in one.changed" :key="change.name"
          ><template v-if="at">, </template>{{ labelOf(change.name).toLowerCase() }}
          <span class="figure">{{ deltaLine(change.pct) }}</span></template
        >.<template v-if="one.left_out">
          {{ one.left_out }} points more than 10 % off are left out.</template
        >
      </p>
      <p v-for="one in raw" :key="one.run" class="warn">
        Run {{ one.run }} stands as it was measured: {{ one.reason }}.
      </p>
    </div>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
p {
  margin: 6px 0 0;
}
.warn {
  background: var(--caution-soft);
  border-left: 4px solid var(--caution);
  padding: 3px 10px;
}
</style>
