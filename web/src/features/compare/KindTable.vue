<script setup lang="ts">
/** Runs of one kind, motor by motor; kV stands against the label. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { count } from '@/figures/format'
import { labelOf, unitOf } from '@/words/words'
import BarsHead from './BarsHead.vue'
import DeltaWords from './DeltaWords.vue'
import HeldCell from './HeldCell.vue'
import { kindCell, kindColumns, type KindRow } from './otherTests'

const props = defineProps<{ shown: Schemas['KindTable']; kv: boolean }>()
/** The column that stands below as bars. */
const barred = defineModel<string>('barred', { required: true })
const emit = defineEmits<{ hold: [key: string] }>()
const columns = computed(() => kindColumns(props.shown))
</script>

<template>
  <el-table :data="shown.rows" row-key="key">
    <el-table-column label="Motor, under" min-width="220" fixed>
      <template #default="{ row }">
        <HeldCell
          :motor="(row as KindRow).motor"
          :name="(row as KindRow).motor_name"
          :under="(row as KindRow).load"
          :baseline="(row as KindRow).baseline"
          @hold="emit('hold', (row as KindRow).key)"
        />
      </template>
    </el-table-column>
    <el-table-column v-if="kv" min-width="120" align="right">
      <template #header>Label<br /><span class="soft">rpm/V</span></template>
      <template #default="{ row }">
        <span
          v-for="one in kindCell(row, 0).claimed"
          :key="one.source"
          class="figure quoted"
          :data-reason="`claimed by the ${one.source}`"
          >{{ count(one.value) }}</span
        >
        <span v-if="!kindCell(row, 0).claimed.length" class="soft">none printed</span>
      </template>
    </el-table-column>
    <el-table-column v-if="kv" min-width="120" align="right">
      <template #header>Against the label<br /><span class="soft">%</span></template>
      <template #default="{ row }">
        <Figure
          signed
          :value="(row as KindRow).off_label_pct?.value"
          :u="(row as KindRow).off_label_pct?.u"
          :reason="(row as KindRow).off_label_pct?.reason"
        />
      </template>
    </el-table-column>
    <el-table-column v-for="one in columns" :key="one.name" min-width="146" align="right">
      <template #header>
        <BarsHead
          v-model:barred="barred"
          :name="one.name"
          :label="labelOf(one.name)"
          :unit="unitOf(one.name)"
        />
      </template>
      <template #default="{ row }">
        <Figure
          :value="kindCell(row, one.index).figure.value"
          :u="kindCell(row, one.index).figure.u"
          :reason="kindCell(row, one.index).figure.reason"
          :assumed="kindCell(row, one.index).figure.assumed"
        />
        <DeltaWords :name="one.name" :delta="kindCell(row, one.index).delta" />
      </template>
    </el-table-column>
  </el-table>
</template>

<style scoped>
.quoted {
  font-style: italic;
}
</style>
