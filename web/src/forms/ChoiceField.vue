<script setup lang="ts" generic="K extends string | number">
/** One of a few words. Typing finds it, Enter takes it. */
import { ref, useId } from 'vue'
import type { SelectInstance } from 'element-plus'
import FieldRow from './FieldRow.vue'

defineProps<{
  label: string
  choices: readonly { key: K; label: string }[]
  problem?: string
  disabled?: boolean
  placeholder?: string
  id?: string
  width?: 'narrow' | 'usual' | 'wide'
}>()
const chosen = defineModel<K | null>({ required: true })
const own = useId()
const select = ref<SelectInstance | null>(null)
defineExpose({ focus: () => select.value?.focus() })
</script>

<template>
  <FieldRow :for="id ?? own" :label="label" :problem="problem" :width="width">
    <el-select
      :id="id ?? own"
      ref="select"
      :model-value="chosen ?? undefined"
      filterable
      default-first-option
      :empty-values="[undefined]"
      :disabled="disabled"
      :placeholder="placeholder ?? 'choose'"
      @update:model-value="chosen = $event"
    >
      <el-option
        v-for="one in choices"
        :key="String(one.key)"
        :value="one.key"
        :label="one.label"
      />
    </el-select>
  </FieldRow>
</template>
