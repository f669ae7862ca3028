<script setup lang="ts">
/** Candidates on the craft; a row opens the closer look. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { escWords, PICK_WORDS } from './words'

type Row = Schemas['Matched']
const props = defineProps<{ rows: Row[]; chosen: string | null; hasPack: boolean }>()
const emit = defineEmits<{ choose: [name: string] }>()
const asRow = (row: unknown) => row as Row
const by = (name: keyof Row) => (a: unknown, b: unknown) =>
  ((asRow(a)[name] as Row['minutes']).value ?? -1) -
  ((asRow(b)[name] as Row['minutes']).value ?? -1)
const COLUMNS = [
  { name: 'thrust_to_weight', head: 'Thrust-to-weight', unit: '', width: 94 },
  { name: 'throttle_pct', head: 'Hover', unit: '%', width: 76 },
  { name: 'current_a', head: 'Hover', unit: 'A', width: 94 },
  { name: 'efficiency_g_per_w', head: 'Hover', unit: 'gf/W', width: 94 },
  { name: 'minutes', head: 'Flies', unit: 'min', width: 94 },
  { name: 'peak_current_a', head: 'Peak', unit: 'A', width: 94 },
] as const
const sizes = computed(() => props.rows.map((row) => escWords(row.esc)))
</script>

<template>
  <el-table
    :data="rows"
    row-key="name"
    class="candidates"
    highlight-current-row
    :current-row-key="chosen ?? undefined"
    @row-click="(row: unknown) => emit('choose', asRow(row).name)"
  >
    <el-table-column label="Motor, propeller" min-width="172">
      <template #default="{ row }">
        <button type="button" class="name" @click.stop="emit('choose', asRow(row).name)">
          <MotorMark :motor="asRow(row).motor" /><span :class="{ predicted: asRow(row).predicted }"
            >{{ asRow(row).motor_name }}<br /><span class="soft">{{
              asRow(row).propeller_name
            }}</span></span
          >
        </button>
        <span v-for="one in asRow(row).picked" :key="one" class="tag within">{{
          PICK_WORDS[one]
        }}</span>
        <span v-if="asRow(row).predicted" class="tag claimed">predicted</span>
        <span v-if="asRow(row).barred" class="tag caution">{{ asRow(row).barred }}</span>
        <span
          v-else-if="asRow(row).cautions.length"
          class="tag caution"
          :data-reason="asRow(row).cautions.join('; ')"
          tabindex="0"
          >{{
            asRow(row).cautions.length === 1
              ? asRow(row).cautions[0]
              : `${asRow(row).cautions.length} things to know`
          }}</span
        >
      </template>
    </el-table-column>
    <el-table-column
      v-for="one in COLUMNS"
      :key="one.name"
      :width="one.width"
      align="right"
      sortable
      :sort-method="by(one.name)"
    >
      <template #header
        >{{ one.head
        }}<template v-if="one.unit"
          ><br /><span class="soft">{{ one.unit }}</span></template
        ></template
      >
      <template #default="{ row }"
        ><Figure
          :value="asRow(row)[one.name].value"
          :u="asRow(row)[one.name].u"
          :reason="asRow(row)[one.name].reason"
          :estimated="asRow(row).predicted"
      /></template>
    </el-table-column>
    <el-table-column width="58" align="right">
      <template #header>ESC<br /><span class="soft">A</span></template>
      <template #default="{ $index }"
        ><span class="figure">{{ sizes[$index] }}</span></template
      >
    </el-table-column>
    <template #empty>Nothing flies this craft yet.</template>
  </el-table>
</template>

<style scoped>
.candidates {
  font-size: 13px;
}
.candidates :deep(.cell) {
  padding: 0 4px;
  text-overflow: clip;
}
.candidates :deep(.el-table__row) {
  cursor: pointer;
}
.candidates :deep(td.el-table__cell) {
  vertical-align: top;
}
.name {
  display: flex;
  align-items: baseline;
  border: 0;
  background: none;
  padding: 0;
  text-align: left;
  cursor: pointer;
  line-height: 1.3;
}
.predicted {
  font-style: italic;
}
.tag {
  margin: 2px 4px 0 0;
  white-space: normal;
}
</style>
