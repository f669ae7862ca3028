<script setup lang="ts">
/** One number with its unit; what cannot be read is said beside it, and kept as it was typed. */
import { computed, ref, useId } from 'vue'
import type { InputInstance } from 'element-plus'
import { entered, withoutOwnUnit } from '@/figures/entryUnits'
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
/** What was typed in another unit, and the step of its last digit in the field's unit. */
const typed = defineModel<string>('typed', { default: '' })
const step = defineModel<number | null>('step', { default: null })
const own = useId()
const id = computed(() => props.id ?? own)
const fault = computed(() => {
  const other = entered(text.value, props.unit)
  return other
    ? ''
    : numberFault(withoutOwnUnit(text.value, props.unit), props.within) || props.problem
})

function type(now: string) {
  text.value = now
  typed.value = ''
  step.value = null
}
/** When the field is left, a number in another unit becomes one in the field's. */
function convert(now: string) {
  const other = entered(now, props.unit)
  const bare = other?.text ?? withoutOwnUnit(now, props.unit)
  if (bare !== now) text.value = bare
  if (!other) return
  typed.value = other.typed
  step.value = other.step
}
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
      :model-value="text"
      inputmode="decimal"
      size="small"
      autocomplete="off"
      :disabled="disabled"
      :placeholder="placeholder"
      :class="{ wrong: fault }"
      :aria-invalid="Boolean(fault)"
      :aria-describedby="fault ? `${id}-fault` : undefined"
      @update:model-value="type"
      @change="convert"
    />
    <slot />
    <p v-if="fault" :id="`${id}-fault`" class="fault" role="alert">{{ fault }}</p>
    <p v-else-if="typed" class="typed soft">typed {{ typed }}</p>
  </div>
  <FieldRow v-else :for="id" :label="label" :unit="unit" :problem="fault" :width="width">
    <el-input
      :id="id"
      ref="input"
      :model-value="text"
      inputmode="decimal"
      autocomplete="off"
      :disabled="disabled"
      :placeholder="placeholder"
      :aria-invalid="fault ? 'true' : undefined"
      :aria-describedby="fault ? `${id}-fault` : undefined"
      @update:model-value="type"
      @change="convert"
    />
    <p v-if="typed && !fault" class="typed soft">typed {{ typed }}</p>
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
.typed {
  flex-basis: 100%;
  grid-column: 1 / -1;
  margin: 3px 0 0;
  font-size: 12.5px;
  line-height: 1.35;
}
.wrong :deep(.el-input__wrapper) {
  box-shadow: 0 0 0 2px var(--fault, var(--stop)) inset;
}
</style>
