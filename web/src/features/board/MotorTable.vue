<script setup lang="ts">
/** The motors with what each lacks, the most urgent first. */
import type { Schemas } from '@/api/client'
import MotorMark from '@/figures/MotorMark.vue'
import { nextPath } from './nextPath'

type Row = Schemas['BoardMotor']
defineProps<{ motors: readonly Row[] }>()
const emit = defineEmits<{ take: [id: number, path: string]; hold: [id: number] }>()
const COUNTS = [
  ['samples', 'Samples', 74],
  ['claims', 'Claims', 62],
  ['observations', 'Seen', 52],
  ['runs', 'Runs', 50],
] as const
</script>

<template>
  <el-table :data="motors as Row[]" row-key="id" class="motors">
    <el-table-column label="Motor" min-width="196">
      <template #default="{ row }">
        <MotorMark :motor="row.id" /><RouterLink
          :to="`/motors/${row.id}`"
          @click="emit('hold', row.id)"
          >{{ row.full_name }}</RouterLink
        >
      </template>
    </el-table-column>
    <el-table-column
      v-for="[name, label, width] in COUNTS"
      :key="name"
      :prop="name"
      :label="label"
      align="right"
      :width="width"
    />
    <el-table-column label="Gaps" min-width="120">
      <template #default="{ row }">
        <span v-if="!row.gaps.length" class="soft">none</span>
        <el-popover v-else-if="row.gaps.length > 1" trigger="click" :width="320">
          <template #reference>
            <button type="button" class="gap">
              <span class="text">{{ row.gaps[0] }}</span><span class="tag"
                >+{{ row.gaps.length - 1 }}<span class="visually-hidden"> more</span></span
              >
            </button>
          </template>
          <ul class="gaps">
            <li v-for="gap in row.gaps" :key="gap">{{ gap }}</li>
          </ul>
        </el-popover>
        <span v-else class="text" :title="row.gaps[0]">{{ row.gaps[0] }}</span>
      </template>
    </el-table-column>
    <el-table-column label="Next" min-width="128">
      <template #default="{ row }">
        <a
          :href="nextPath(row.next_station, row.id)"
          @click.prevent="emit('take', row.id, nextPath(row.next_station, row.id))"
          >{{ row.next_act }}</a
        >
      </template>
    </el-table-column>
    <template #empty>No motor fits.</template>
  </el-table>
</template>

<style scoped>
.motors :deep(.el-table__cell) {
  padding: 5px 0;
}
.motors :deep(.cell) {
  padding: 0 6px;
  line-height: 1.3;
}
.gap {
  display: flex;
  gap: 6px;
  align-items: center;
  width: 100%;
  min-height: 24px;
  padding: 0;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
}
.text {
  display: block;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
.gaps {
  margin: 0;
  padding-left: 16px;
}
</style>
