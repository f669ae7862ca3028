<script setup lang="ts">
/** One number with its unit; what cannot be read is said beside it, and kept as it was typed. */
import { computed, ref, useId } from 'vue'
import type { InputInstance } from 'element-plus'
import { numberFault, type Range } from '@/figures/readNumber'
import FieldRow from './FieldRow.vue'

const props = withDefaults(
  defineProps<{
    label: string
    unit?: string
    problem?: string
    disabled?: boolean
    placeholder?: string
    id?: string
    width?: 'narrow' | 'usual' | 'wide'
    /** The possible values, where a comma could mean two things. */
    within?: Range
    /** The label stands to the left instead of above. */
    inline?: boolean
  }>(),
  { unit: '', problem: '', placeholder: '', id: undefined, width: 'narrow', within: undefined },
)
const text = defineModel<string>({ required: true })
const own = useId()
const id = computed(() => props.id ?? own)
const fault = computed(() => numberFault(text.value, props.within) || props.problem)
const input = ref<InputInstance | null>(null)
defineExpose({ focus: () => input.value?.focus() })
</script>

<template>
  <div v-if="inline" class="number-field">
    <label :for="id"
      >{{ label }}<template v-if="unit">, {{ unit }}</template></label
    >
    <el-input
      :id="id"
      ref="input"
      v-model="text"
      inputmode="decimal"
      size="small"
      autocomplete="off"
      :disabled="disabled"
      :placeholder="placeholder"
      :class="{ wrong: fault }"
      :aria-invalid="Boolean(fault)"
      :aria-describedby="fault ? `${id}-fault` : undefined"
    />
    <slot />
    <p v-if="fault" :id="`${id}-fault`" class="fault" role="alert">{{ fault }}</p>
  </div>
  <FieldRow v-else :for="id" :label="label" :unit="unit" :problem="fault" :width="width">
    <el-input
      :id="id"
      ref="input"
      v-model="text"
      inputmode="decimal"
      autocomplete="off"
      :disabled="disabled"
      :placeholder="placeholder"
      :aria-invalid="fault ? 'true' : undefined"
      :aria-describedby="fault ? `${id}-fault` : undefined"
    />
  </FieldRow>
</template>

<style scoped>
.number-field {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 92px 56px;
  align-items: center;
  gap: 2px 8px;
}
label {
  font-size: 13px;
}
.fault {
  grid-column: 1 / -1;
  margin: 0;
  font-size: 12.5px;
  font-weight: 700;
  color: var(--fault, var(--stop));
}
.wrong :deep(.el-input__wrapper) {
  box-shadow: 0 0 0 2px var(--fault, var(--stop)) inset;
}
</style>
