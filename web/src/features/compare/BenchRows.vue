<script setup lang="ts">
/** Every motor on every propeller, with the difference to the row before or to a fixed one. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { labelOf, unitOf } from '@/words/words'
import { tallyWords } from './bench'
import { deltaTone, OUTCOME_WORDS } from './cells'

type Row = Schemas['BenchTableRow']
const props = defineProps<{ rows: Row[]; figures: string[] }>()
const emit = defineEmits<{ hold: [key: string] }>()
/** A column that nobody measured is left out. */
const columns = computed(() =>
  props.figures
    .map((name, index) => ({ name, index }))
    .filter(({ index }) => props.rows.some((row) => row.cells[index]?.figure.value != null)),
)
const asRow = (row: unknown) => row as Row
const cellOf = (row: unknown, index: number) => asRow(row).cells[index] as Row['cells'][number]
const signed = (value: number) => `${value >= 0 ? '+' : '−'}${Math.abs(value).toFixed(1)}`
const tone = (name: string, row: unknown, index: number) => {
  const delta = cellOf(row, index).delta
  return delta ? deltaTone(name, delta) : ''
}
</script>

<template>
  <el-table :data="rows" row-key="key" class="bench">
    <el-table-column label="Motor, propeller" min-width="210" fixed>
      <template #default="{ row }">
        <MotorMark :motor="asRow(row).motor" />{{ asRow(row).motor_name }}<br />
        <span class="soft">{{ asRow(row).propeller_name }}</span>
        <p class="marks">
          <span v-for="mark in asRow(row).marks" :key="mark" class="tag within">{{ mark }}</span>
          <span v-if="asRow(row).baseline" class="tag">held against</span>
          <el-button v-else size="small" text @click="emit('hold', asRow(row).key)"
            >hold the others against it</el-button
          >
        </p>
        <span class="small soft">{{ tallyWords(asRow(row)) }}</span>
      </template>
    </el-table-column>
    <el-table-column v-for="one in columns" :key="one.name" min-width="128" align="right">
      <template #header
        >{{ labelOf(one.name) }}<br /><span class="soft">{{ unitOf(one.name) }}</span></template
      >
      <template #default="{ row }">
        <Figure
          :value="cellOf(row, one.index).figure.value"
          :u="cellOf(row, one.index).figure.u"
          :reason="cellOf(row, one.index).figure.reason"
          :assumed="cellOf(row, one.index).figure.assumed"
        />
        <span
          v-if="cellOf(row, one.index).delta"
          class="delta"
          :class="tone(one.name, row, one.index)"
        >
          <span class="figure"
            >{{ signed(cellOf(row, one.index).delta?.delta_pct ?? 0)
            }}<span class="u"
              ><span class="pm">±</span
              >{{ (cellOf(row, one.index).delta?.u_pct ?? 0).toFixed(1) }}</span
            ><span class="unit">%</span></span
          >
          <span class="word">{{ OUTCOME_WORDS[cellOf(row, one.index).delta?.outcome ?? ''] }}</span>
        </span>
      </template>
    </el-table-column>
    <template #empty>No run reads under this condition.</template>
  </el-table>
</template>

<style scoped>
.bench :deep(.cell) {
  padding: 0 8px;
}
.bench :deep(td.el-table__cell) {
  vertical-align: top;
}
.marks {
  margin: 0;
}
.marks .el-button {
  height: 20px;
  padding: 0 2px;
  color: var(--ink-soft);
}
.delta {
  display: block;
  font-size: 12.5px;
}
.word {
  display: block;
  color: var(--ink-soft);
}
.better .figure {
  color: var(--within-ink);
}
.worse .figure {
  color: var(--copper-dark);
}
</style>
