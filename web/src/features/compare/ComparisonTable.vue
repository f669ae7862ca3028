<script setup lang="ts">
/** Figures under the condition with what may be said of each difference. Few subjects stand side by
 * side, a level a row; many stand one below the other, a level a column. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { columnLook } from '@/figures/columns'
import FigureCell from '@/figures/FigureCell.vue'
import type { Mark } from '@/figures/motorMark'
import MotorMark from '@/figures/MotorMark.vue'
import { labelOf, unitOf } from '@/words/words'
import { CONDITION_WORDS } from './bench'
import CellDelta from './CellDelta.vue'
import { absentText } from './cells'
import { shortNames } from './curves'

const SIDE_BY_SIDE = 4
type Comparison = Schemas['Comparison']
type Cell = Schemas['ComparedCell']
const props = defineProps<{ comparison: Comparison; marks: Mark[] }>()
const name = ref('')
const names = computed(() =>
  props.comparison.figures.filter((one) =>
    props.comparison.rows.some(
      (row) => row.name === one && row.cells.some((cell) => cell.value !== null),
    ),
  ),
)
const usual = computed(() =>
  names.value.includes('efficiency_g_per_w') && props.comparison.condition !== 'full'
    ? 'efficiency_g_per_w'
    : (names.value[0] ?? ''),
)
const figure = computed(() => (names.value.includes(name.value) ? name.value : usual.value))
const full = computed(() => props.comparison.condition === 'full')
/** At full throttle there are no levels: every figure is a row. */
const rows = computed(() =>
  full.value
    ? props.comparison.rows.filter((row) => names.value.includes(row.name))
    : props.comparison.rows.filter((row) => row.name === figure.value),
)
const many = computed(() => props.comparison.subjects.length > SIDE_BY_SIDE)
const heads = computed(() => shortNames(props.comparison.subjects))
const levelLook = computed(() => columnLook(rows.value.map((row) => ({ value: row.at }))))
type Row = Comparison['rows'][number]
const cellOf = (row: unknown, at: number) => (row as Row).cells[at] as Cell
/** A column holds one figure, or one subject; at full throttle each row has its own look. */
const columnLooks = computed(() =>
  props.comparison.subjects.map((_, at) => columnLook(rows.value.map((row) => row.cells[at]))),
)
const rowLooks = computed(() => rows.value.map((row) => columnLook(row.cells)))
const lookOf = (row: unknown, at: number) =>
  (full.value || many.value
    ? rowLooks.value[rows.value.indexOf(row as Row)]
    : columnLooks.value[at]) ?? columnLook([])
const isBase = (at: number) =>
  props.comparison.against === 'baseline' &&
  props.comparison.subjects[at]?.runs.includes(props.comparison.baseline)
const countOf = (cell: Cell) =>
  cell.runs && cell.runs > 1
    ? `${cell.samples && cell.samples > 1 ? `${cell.samples} samples, ` : ''}${cell.runs} runs`
    : ''
const spreadOf = (cell: Cell) =>
  cell.spread === null ? '' : `its runs spread by s = ${Number(cell.spread.toPrecision(2))}`
</script>

<template>
  <el-segmented
    v-if="!full && names.length"
    :model-value="figure"
    class="figures"
    :options="names.map((one) => ({ value: one, label: labelOf(one) }))"
    aria-label="Figure to compare"
    @update:model-value="name = String($event)"
  />
  <p v-if="!names.length" class="soft">
    None of the runs reads under this condition: {{ CONDITION_WORDS[comparison.condition] }}.
  </p>
  <el-table v-else-if="!many" :data="rows" class="comparison">
    <el-table-column v-if="full" min-width="150">
      <template #header>At full throttle</template>
      <template #default="{ row }"
        >{{ labelOf((row as Row).name) }}
        <span class="soft">{{ unitOf((row as Row).name) }}</span></template
      >
    </el-table-column>
    <el-table-column v-else align="right" width="110">
      <template #header
        >At {{ labelOf(comparison.condition).toLowerCase() }}<br /><span class="soft">{{
          unitOf(comparison.condition)
        }}</span></template
      >
      <template #default="{ row }"
        ><FigureCell :value="(row as Row).at" :look="levelLook"
      /></template>
    </el-table-column>
    <el-table-column v-for="(one, at) in comparison.subjects" :key="one.key" min-width="214">
      <template #header>
        <MotorMark :motor="one.motor" :mark="marks[at]" />{{ heads[at] }}
        <span v-if="isBase(at)" class="tag">baseline</span>
        <template v-if="!full"
          ><br /><span class="soft">{{ unitOf(figure) }}</span></template
        >
      </template>
      <template #default="{ row }">
        <template v-if="cellOf(row, at).value !== null">
          <FigureCell
            :value="cellOf(row, at).value"
            :u="cellOf(row, at).u"
            :look="lookOf(row, at)"
          />
          <CellDelta :name="(row as Row).name" :cell="cellOf(row, at)" />
          <span
            v-if="countOf(cellOf(row, at))"
            class="soft small"
            :data-reason="spreadOf(cellOf(row, at))"
          >
            {{ countOf(cellOf(row, at)) }}</span
          >
        </template>
        <span v-else class="soft" tabindex="0" :data-reason="cellOf(row, at).absent_note">{{
          absentText(cellOf(row, at))
        }}</span>
      </template>
    </el-table-column>
  </el-table>
  <el-table v-else :data="comparison.subjects" class="comparison" max-height="520">
    <el-table-column min-width="220" fixed>
      <template #header
        >Compared<br /><span v-if="!full" class="soft">{{ labelOf(figure) }}</span></template
      >
      <template #default="{ $index }">
        <MotorMark :motor="comparison.subjects[$index]?.motor ?? 0" :mark="marks[$index]" />{{
          heads[$index]
        }}
        <span v-if="isBase($index)" class="tag">baseline</span>
      </template>
    </el-table-column>
    <el-table-column
      v-for="(row, at) in rows"
      :key="`${row.name}${row.at}`"
      min-width="148"
      align="right"
    >
      <template #header>
        <template v-if="full"
          >{{ labelOf(row.name) }}<br /><span class="soft">{{ unitOf(row.name) }}</span></template
        >
        <template v-else
          >at {{ row.at === null ? '' : Math.round(row.at * 10) / 10 }}
          {{ unitOf(comparison.condition) }}<br /><span class="soft">{{
            unitOf(figure)
          }}</span></template
        >
      </template>
      <template #default="{ $index }">
        <template v-if="cellOf(row, $index).value !== null">
          <FigureCell
            :value="cellOf(row, $index).value"
            :u="cellOf(row, $index).u"
            :look="rowLooks[at] ?? columnLook([])"
          />
          <CellDelta :name="row.name" :cell="cellOf(row, $index)" />
        </template>
        <span v-else class="soft" tabindex="0" :data-reason="cellOf(row, $index).absent_note">{{
          absentText(cellOf(row, $index))
        }}</span>
      </template>
    </el-table-column>
  </el-table>
  <p class="small soft">
    “No measurable difference”: the 90 % interval lies inside ±{{ comparison.margin_pct }} %. “Not
    resolved”: the runs at hand cannot tell; repeat them.
    <template v-if="full">
      Full throttle is the headline that is quoted most; it compares at whatever thrust and power
      each happens to reach.
    </template>
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
p {
  margin: 8px 0 0;
}
</style>
