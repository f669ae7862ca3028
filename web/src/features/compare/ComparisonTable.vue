<script setup lang="ts">
/** Figures at equal thrust, a column per run, with what may be said of each difference. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { columnLook } from '@/figures/columns'
import FigureCell from '@/figures/FigureCell.vue'
import type { Mark } from '@/figures/motorMark'
import MotorMark from '@/figures/MotorMark.vue'
import { labelOf, unitOf } from '@/words/words'
import { absentText, deltaOf, deltaTone, OUTCOME_WORDS } from './cells'
import { shortNames } from './comparisonOption'

const props = defineProps<{ comparison: Schemas['Comparison']; marks: Mark[] }>()
const NAMES = ['efficiency_g_per_w', 'power_w', 'current_a', 'throttle_pct', 'speed_rpm']
const name = ref('efficiency_g_per_w')
const rows = computed(() => props.comparison.rows.filter((row) => row.name === name.value))
type Row = Schemas['Comparison']['rows'][number]
const cellOf = (row: unknown, index: number) => (row as Row).cells[index] as Row['cells'][number]
const looks = computed(() =>
  props.comparison.runs.map((_, index) => columnLook(rows.value.map((row) => row.cells[index]))),
)
const thrustLook = computed(() => columnLook(rows.value.map((row) => ({ value: row.thrust_gf }))))
const heads = computed(() => shortNames(props.comparison.runs))
</script>

<template>
  <el-segmented
    v-model="name"
    class="figures"
    :options="NAMES.map((one) => ({ value: one, label: labelOf(one) }))"
    aria-label="Figure to compare"
  />
  <el-table :data="rows" row-key="thrust_gf" class="comparison">
    <el-table-column align="right" width="96">
      <template #header>At thrust<br /><span class="soft">gf</span></template>
      <template #default="{ row }"
        ><FigureCell :value="row.thrust_gf" :look="thrustLook"
      /></template>
    </el-table-column>
    <el-table-column v-for="(run, index) in comparison.runs" :key="run.id" min-width="220">
      <template #header>
        <MotorMark :motor="run.motor" :mark="marks[index]" />{{ heads[index] }}
        <span v-if="run.id === comparison.baseline" class="tag">baseline</span>
        <br /><span class="soft">{{ unitOf(name) }}</span>
      </template>
      <template #default="{ row }">
        <template v-if="cellOf(row, index).value !== null">
          <FigureCell
            :value="cellOf(row, index).value"
            :u="cellOf(row, index).u"
            :look="looks[index] ?? columnLook([])"
          />
          <span
            v-if="cellOf(row, index).outcome"
            class="delta"
            :class="deltaTone(name, cellOf(row, index))"
          >
            <span v-if="deltaOf(cellOf(row, index))" class="figure"
              >{{ deltaOf(cellOf(row, index))?.value
              }}<span class="u"><span class="pm">±</span>{{ deltaOf(cellOf(row, index))?.u }}</span
              ><span class="unit">%</span></span
            >
            <span class="tag" :class="cellOf(row, index).outcome">{{
              OUTCOME_WORDS[cellOf(row, index).outcome]
            }}</span>
          </span>
        </template>
        <span v-else class="soft" tabindex="0" :data-reason="cellOf(row, index).absent_note">{{
          absentText(cellOf(row, index))
        }}</span>
      </template>
    </el-table-column>
  </el-table>
  <p class="small soft">
    “No measurable difference”: the 90 % interval lies inside ±{{ comparison.margin_pct }} %. “Not
    resolved”: the runs at hand cannot tell; repeat them.
    <span v-for="remark in comparison.remarks" :key="remark">{{ remark }} </span>
  </p>
</template>

<style scoped>
.figures {
  margin: 8px 0;
}
.comparison :deep(.cell) {
  padding: 0 10px;
}
.delta {
  margin-left: 12px;
  font-size: 12.5px;
}
.delta .tag {
  margin-left: 8px;
  font-family: var(--text);
}
.better {
  color: var(--within-ink);
}
.worse {
  color: var(--copper-dark);
}
p {
  margin: 8px 0 0;
}
</style>
