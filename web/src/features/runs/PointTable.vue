<script setup lang="ts">
/**
 * The points of a run with units and ±. Figures every kind of run has come first, then those of
 * its own kind; a figure no point has gets no column. Yes-or-no marks stand as words.
 */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { columnLook } from '@/figures/columns'
import FigureCell from '@/figures/FigureCell.vue'
import { isQuantity, labelOf, unitOf } from '@/words/words'

const props = defineProps<{ points: Schemas['Point'][] }>()
const ORDER = [
  'throttle_pct',
  'thrust_gf',
  'power_w',
  'efficiency_g_per_w',
  'current_a',
  'voltage_v',
  'speed_rpm',
  'torque_nm',
  'motor_esc_efficiency_pct',
  'motor_temp_c',
]
/** Beside the question of a run; the CSV has them. */
const EXPORT_ONLY = ['ambient_temp_c', 'vibration_g', 'shaft_power_w', 'duty']
const MARKS: Record<string, [string, string]> = {
  reached: ['reached', 'not reached'],
}
const columns = computed(() => {
  const held = new Set(
    props.points.flatMap((point) =>
      Object.keys(point.figures).filter((name) => point.figures[name]),
    ),
  )
  const own = [...held].filter(
    (name) => isQuantity(name) && !ORDER.includes(name) && !EXPORT_ONLY.includes(name),
  )
  return [...ORDER.filter((name) => held.has(name)), ...own].map((name) => {
    const look = columnLook(props.points.map((point) => point.figures[name]))
    const figure = look.value_ch + (look.u_ch ? look.u_ch + 2 : 0)
    // About 7.3 px a character at this size, and the padding of a cell.
    const head = Math.max(
      ...labelOf(name)
        .split(' ')
        .map((word) => word.length),
    )
    return { name, look, width: Math.ceil(7.3 * Math.max(figure, head)) + 14 }
  })
})

function markOf(name: string, value: boolean): string {
  return (MARKS[name] ?? [name, `not ${name}`])[value ? 0 : 1]
}
</script>

<template>
  <el-table
    :data="points as Schemas['Point'][]"
    row-key="start_s"
    class="points"
    max-height="420"
    aria-label="Points of the run"
  >
    <el-table-column
      v-for="{ name, look, width } in columns"
      :key="name"
      align="right"
      :min-width="width"
    >
      <template #header
        >{{ labelOf(name) }}<br /><span class="soft">{{ unitOf(name) || '\u00a0' }}</span></template
      >
      <template #default="{ row }">
        <FigureCell
          :value="row.figures[name]?.value"
          :u="row.figures[name]?.u"
          :reason="row.absent[name]?.note"
          :look="look"
        />
      </template>
    </el-table-column>
    <el-table-column label="State" min-width="92">
      <template #default="{ row }">
        <span class="tag" :class="{ caution: !row.settled }">{{
          row.settled ? 'settled' : 'not settled'
        }}</span>
        <span
          v-for="(value, name) in row.marks"
          :key="name"
          class="tag"
          :class="{ caution: !value }"
          >{{ markOf(String(name), value) }}</span
        >
      </template>
    </el-table-column>
    <template #empty>No point was found in it.</template>
  </el-table>
</template>

<style scoped>
.points {
  font-size: 12.5px;
}
.points :deep(.el-table__cell) {
  padding: 4px 0;
}
.points :deep(.cell) {
  padding: 0 6px;
  line-height: 1.3;
}
</style>
