<script setup lang="ts">
/** Every motor on every propeller, with the difference to the row before or to a fixed one. */
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { labelOf, unitOf } from '@/words/words'
import { groupWords, OWN_LEVEL, tallyWords } from './bench'
import DeltaWords from './DeltaWords.vue'

type Row = Schemas['BenchTableRow']
const props = defineProps<{ rows: Row[]; groups: Schemas['ColumnGroup'][] }>()
const emit = defineEmits<{ hold: [key: string] }>()
interface Column {
  key: string
  /** Empty: the level at which the row was read. */
  name: string
  index: number
  group: number
  /** What stands above the label where several groups stand side by side. */
  words: string
}
/** The columns of all groups in their order; one that nobody measured is left out. */
const columns = computed<Column[]>(() => {
  let at = 0
  return props.groups.flatMap((group, index) => {
    const own = OWN_LEVEL.includes(group.condition)
    const words = props.groups.length > 1 || own ? groupWords(group) : ''
    const figures = group.figures.map((name) => ({
      key: `${index}${name}`,
      name,
      index: at++,
      group: index,
      words,
    }))
    const level = { key: `${index}level`, name: '', index: -1, group: index, words }
    return [
      ...(own ? [level] : []),
      ...figures.filter((one) =>
        props.rows.some((row) => row.cells[one.index]?.figure.value != null),
      ),
    ]
  })
})
const A_PAGE = 40
const at = ref(1)
watch(
  () => props.rows,
  () => (at.value = 1),
)
const shown = computed(() => props.rows.slice((at.value - 1) * A_PAGE, at.value * A_PAGE))
const several = computed(() => new Set(props.rows.map((row) => row.on)).size > 1)
const levelUnit = (group: number) =>
  unitOf(props.groups[group]?.condition === 'hover' ? 'thrust_gf' : 'current_a')
const levelOf = (row: unknown, group: number) => {
  const level = asRow(row).levels[group]
  return level == null ? 'none of its own' : String(Math.round(level * 10) / 10)
}
const asRow = (row: unknown) => row as Row
const cellOf = (row: unknown, index: number) => asRow(row).cells[index] as Row['cells'][number]
</script>

<template>
  <el-table :data="shown" row-key="key" class="bench">
    <el-table-column label="Motor, propeller" min-width="210" fixed>
      <template #default="{ row }">
        <MotorMark :motor="asRow(row).motor" />{{ asRow(row).motor_name }}<br />
        <span class="soft"
          >{{ asRow(row).propeller_name
          }}<template v-if="several">, {{ asRow(row).on }}</template></span
        >
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
    <el-table-column
      v-for="one in columns"
      :key="one.key"
      min-width="128"
      align="right"
      :class-name="one.group % 2 ? 'other-group' : ''"
    >
      <template #header
        ><span v-if="one.words" class="group">{{ one.words }}<br /></span
        >{{ one.name ? labelOf(one.name) : 'read at' }}<br /><span class="soft">{{
          one.name ? unitOf(one.name) : levelUnit(one.group)
        }}</span></template
      >
      <template #default="{ row }">
        <span v-if="!one.name" class="figure">{{ levelOf(row, one.group) }}</span>
        <template v-else>
          <Figure
            :value="cellOf(row, one.index).figure.value"
            :u="cellOf(row, one.index).figure.u"
            :reason="cellOf(row, one.index).figure.reason"
            :assumed="cellOf(row, one.index).figure.assumed"
          />
          <DeltaWords :name="one.name" :delta="cellOf(row, one.index).delta" />
        </template>
      </template>
    </el-table-column>
    <template #empty>No run reads under this condition.</template>
  </el-table>
  <el-pagination
    v-if="rows.length > A_PAGE"
    v-model:current-page="at"
    size="small"
    layout="prev, pager, next, total"
    :total="rows.length"
    :page-size="A_PAGE"
  />
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
.group {
  color: var(--copper-dark);
}
.bench :deep(.other-group) {
  background: color-mix(in srgb, var(--within) 5%, var(--sheet));
}
</style>
