<script setup lang="ts">
/** The big live figures, readable from two metres; a bar shows how near each is to its limit. */
import { computed } from 'vue'
import Digits from '@/figures/Digits.vue'
import { formatNumber } from '@/figures/format'
import { labelOf, unitOf } from '@/figures/quantities'
import type { Frame } from '@/live/useBench'
import { nearness } from './setup'

const props = defineProps<{ frame: Frame | null }>()

const SHOWN: [string, number][] = [
  ['throttle_pct', 0],
  ['thrust_gf', 0],
  ['current_a', 1],
  ['speed_rpm', 0],
  ['voltage_v', 2],
  ['motor_temp_c', 1],
]

const cells = computed(() =>
  SHOWN.map(([name, decimals]) => {
    const value = props.frame?.values[name]
    const limit = props.frame?.limits?.[name]
    return {
      name,
      text: value === undefined ? '—' : formatNumber(value, decimals),
      limit,
      near: nearness(value, limit),
      share: value !== undefined && limit ? Math.min(1, Math.max(0, value / limit)) : null,
    }
  }),
)
const NEAR_WORDS = ['', 'near its limit', 'over its limit']
</script>

<template>
  <dl class="figures">
    <div v-for="cell in cells" :key="cell.name" :class="`near-${cell.near}`">
      <dt>{{ labelOf(cell.name) }}</dt>
      <dd>
        <Digits :text="cell.text" /><span class="unit"> {{ unitOf(cell.name) }}</span>
      </dd>
      <dd class="limit">
        <span v-if="cell.share !== null" class="bar"
          ><i :style="{ width: `${100 * cell.share}%` }"
        /></span>
        <template v-if="cell.limit">cut at {{ cell.limit }} {{ unitOf(cell.name) }}</template>
        {{ NEAR_WORDS[cell.near] }}
      </dd>
    </div>
  </dl>
</template>

<style scoped>
.figures {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 10px;
  margin: 0;
}
.figures > div {
  background: var(--dark-sheet);
  border: 1px solid var(--dark-line);
  border-radius: 5px;
  padding: 6px 14px;
}
dt {
  color: var(--dark-soft);
  font-size: 14px;
}
dd {
  margin: 0;
  font-family: var(--mono);
  font-weight: 700;
  font-size: 42px;
  line-height: 1.1;
  white-space: nowrap;
}
.unit {
  margin-left: 8px;
  font-size: 18px;
  font-weight: 400;
  color: var(--dark-soft);
}
.limit {
  font: 400 12px/1.4 var(--text);
  color: var(--dark-soft);
  min-height: 17px;
}
.bar {
  display: inline-block;
  width: 60px;
  height: 6px;
  background: #2b3a40;
  margin-right: 6px;
}
.bar i {
  display: block;
  height: 100%;
  background: #6fb7ad;
}
.near-1 {
  border-color: #d8a72e !important;
}
.near-1 .bar i {
  background: #d8a72e;
}
.near-2 {
  border-color: #ff5b52 !important;
  background: #3a1715 !important;
}
.near-2 .bar i {
  background: #ff5b52;
}
</style>
