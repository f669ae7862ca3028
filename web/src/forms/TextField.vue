<script setup lang="ts">
/** A line of words. */
import { ref, useId } from 'vue'
import type { InputInstance } from 'element-plus'
import FieldRow from './FieldRow.vue'

defineProps<{
  label: string
  problem?: string
  disabled?: boolean
  placeholder?: string
  maxlength?: number
  id?: string
  width?: 'narrow' | 'usual' | 'wide'
}>()
const text = defineModel<string>({ required: true })
const own = useId()
const input = ref<InputInstance | null>(null)
defineExpose({ focus: () => input.value?.focus() })
</script>

<template>
  <FieldRow :for="id ?? own" :label="label" :problem="problem" :width="width">
    <el-input
      :id="id ?? own"
      ref="input"
      v-model="text"
      :disabled="disabled"
      :placeholder="placeholder"
      :maxlength="maxlength"
      :aria-invalid="problem ? 'true' : undefined"
      :aria-describedby="problem ? `${id ?? own}-fault` : undefined"
    />
  </FieldRow>
</template>
