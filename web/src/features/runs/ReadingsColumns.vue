<script setup lang="ts">
/** Which columns a sheet has, and in which unit each is typed. */
import { computed, ref } from 'vue'
import { type Column, EVERY_COLUMN, type Units, unitIn, unitsOf } from './sheet'

const props = defineProps<{ shown: readonly Column[] }>()
/** Null: nobody chose; they follow the stand's instruments. */
const chosen = defineModel<string[] | null>('columns', { required: true })
const units = defineModel<Units>('units', { required: true })
/** Its lines are made when somebody looks. */
const open = ref(false)
const keys = computed(() => props.shown.map(({ key }) => key))
function choose(key: string, on: boolean) {
  const next = on ? [...keys.value, key] : keys.value.filter((one) => one !== key)
  chosen.value = EVERY_COLUMN.map((column) => column.key).filter((one) => next.includes(one))
}
</script>

<template>
  <el-popover v-model:visible="open" trigger="click" :width="340" placement="bottom-start">
    <template #reference>
      <el-button>Columns and units</el-button>
    </template>
    <p class="soft small">
      They follow the stand's instruments until you choose. A cell also takes a unit of its own: “36
      oz”.
    </p>
    <div v-for="column in open ? EVERY_COLUMN : []" :key="column.key" class="line">
      <el-checkbox
        :model-value="keys.includes(column.key)"
        :label="column.label"
        @update:model-value="choose(column.key, Boolean($event))"
      />
      <span v-if="unitsOf(column).length === 1" class="soft">{{ column.unit }}</span>
      <el-select
        v-else
        :model-value="unitIn(column, units)"
        size="small"
        :teleported="false"
        :aria-label="`Unit of ${column.label}`"
        @update:model-value="units = { ...units, [column.key]: $event }"
      >
        <el-option v-for="name in unitsOf(column)" :key="name" :value="name" :label="name" />
      </el-select>
    </div>
  </el-popover>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 1fr 110px;
  align-items: center;
  gap: 8px;
}
.line .el-checkbox {
  height: 26px;
}
</style>
