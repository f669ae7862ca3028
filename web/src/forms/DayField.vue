<script setup lang="ts">
/** A day, written as the bench writes it: 2026-10-05. Typed or picked. */
import { useId } from 'vue'
import FieldRow from './FieldRow.vue'

defineProps<{
  label: string
  problem?: string
  disabled?: boolean
  placeholder?: string
  id?: string
  width?: 'narrow' | 'usual' | 'wide'
}>()
const day = defineModel<string>({ required: true })
const own = useId()
</script>

<template>
  <FieldRow :for="id ?? own" :label="label" :problem="problem" :width="width">
    <el-date-picker
      :id="id ?? own"
      type="date"
      value-format="YYYY-MM-DD"
      format="YYYY-MM-DD"
      :model-value="day"
      :disabled="disabled"
      :placeholder="placeholder ?? 'YYYY-MM-DD'"
      @update:model-value="day = $event ?? ''"
    />
  </FieldRow>
</template>

<style scoped>
.field-row :deep(.el-date-editor) {
  width: 100%;
}
</style>
