<script setup lang="ts">
/** Motor by motor: what it weighs, lifts and costs, and what its size would give. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { count, formatNumber } from '@/figures/format'
import BarsHead from './BarsHead.vue'
import DeltaWords from './DeltaWords.vue'
import HeldCell from './HeldCell.vue'
import { cellOf, massColumns, type MassRow } from './massMoney'

const props = defineProps<{ shown: Schemas['MassAndMoney'] }>()
/** The column that stands below as bars. */
const barred = defineModel<string>('barred', { required: true })
const emit = defineEmits<{ hold: [motor: number] }>()
const columns = computed(() => massColumns(props.shown))
</script>

<template>
  <el-table :data="shown.rows" row-key="motor">
    <el-table-column label="Motor" min-width="176" fixed>
      <template #default="{ row }">
        <HeldCell
          :motor="(row as MassRow).motor"
          :name="(row as MassRow).motor_name"
          :baseline="(row as MassRow).baseline"
          @hold="emit('hold', (row as MassRow).motor)"
        />
        <span v-if="(row as MassRow).losses" class="tag caution">{{
          (row as MassRow).losses
        }}</span>
      </template>
    </el-table-column>
    <el-table-column
      v-for="one in columns"
      :key="one.name"
      :min-width="one.name === 'price' ? 158 : 112"
      align="right"
    >
      <template #header>
        <BarsHead v-model:barred="barred" :name="one.name" :label="one.label" :unit="one.unit" />
      </template>
      <template #default="{ row }">
        <template v-if="one.name === 'price' && cellOf(row, one.name).figure.value != null">
          <span class="figure">{{ formatNumber(cellOf(row, one.name).figure.value ?? 0, 2) }}</span>
          <span class="soft small words">{{ (row as MassRow).price_words }}</span>
        </template>
        <Figure
          v-else
          :value="cellOf(row, one.name).figure.value"
          :u="cellOf(row, one.name).figure.u"
          :reason="cellOf(row, one.name).figure.reason"
          :assumed="cellOf(row, one.name).figure.assumed"
        />
        <DeltaWords :name="one.name" :delta="cellOf(row, one.name).delta" />
      </template>
    </el-table-column>
    <el-table-column min-width="96" align="right">
      <template #header>Stator<br /><span class="soft">mm³, height ÷ diameter</span></template>
      <template #default="{ row }">
        <template v-if="(row as MassRow).volume_mm3 !== null">
          <span class="figure">{{ count((row as MassRow).volume_mm3 ?? 0) }}</span>
          <br /><span class="figure soft">{{ formatNumber((row as MassRow).aspect ?? 0, 2) }}</span>
        </template>
        <span v-else class="soft" data-reason="its size code names no stator" tabindex="0">—</span>
      </template>
    </el-table-column>
    <el-table-column min-width="84">
      <template #header>Room for copper</template>
      <template #default="{ row }">{{ (row as MassRow).copper_room || 'not looked at' }}</template>
    </el-table-column>
    <el-table-column min-width="104" align="right">
      <template #header>Thrust over what its size gives<br /><span class="soft">%</span></template>
      <template #default="{ row }">
        <Figure
          signed
          :value="(row as MassRow).thrust_over_trend_pct.value"
          :u="(row as MassRow).thrust_over_trend_pct.u"
          :reason="(row as MassRow).thrust_over_trend_pct.reason"
        />
      </template>
    </el-table-column>
  </el-table>
</template>

<style scoped>
.words {
  display: block;
}
.el-table :deep(.cell) {
  text-overflow: clip;
}
</style>
