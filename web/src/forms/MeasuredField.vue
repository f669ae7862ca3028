<script setup lang="ts">
/** A reading: its value, what it is uncertain by, the unit, and what it was read with. */
import { ref } from 'vue'
import type { InputInstance } from 'element-plus'
import { entered, withoutOwnUnit } from '@/figures/entryUnits'

const props = defineProps<{
  label: string
  unit?: string
  /** A count has no uncertainty and no instrument. */
  counted?: boolean
  /** The head of a table says what it is; here the label is for those who do not see it. */
  bare?: boolean
  disabled?: boolean
  fault?: string
  id?: string
}>()
const emit = defineEmits<{
  at: []
  /** Somebody typed. */
  typed: [part: 'value' | 'u' | 'instrument']
  /** Enter, or the field was left with another value. */
  enter: []
  left: []
}>()
const value = defineModel<string>('value', { required: true })
const u = defineModel<string>('u', { required: true })
const instrument = defineModel<string>('instrument')
/** What was typed in another unit. */
const written = defineModel<string>('written', { default: '' })
const number = ref<InputInstance | null>(null)

function at(event: FocusEvent) {
  emit('at')
  // What stands there is replaced by typing, as on an instrument.
  if (props.bare) (event.target as HTMLInputElement).select()
}
function type(now: string) {
  value.value = now
  written.value = ''
  emit('typed', 'value')
}
/** When the number is left, one in another unit becomes one in the field's. */
function convert(now: string) {
  const other = entered(now, props.unit ?? '')
  const bare = other?.text ?? withoutOwnUnit(now, props.unit ?? '')
  if (bare === now) return
  value.value = bare
  written.value = other?.typed ?? ''
  emit('typed', 'value')
}
function convertU(now: string) {
  // A difference knows no other zero: only lengths, masses and the like are turned over.
  const unit = props.unit ?? ''
  const other = unit === '°C' ? null : entered(now, unit)
  const bare = other?.text ?? withoutOwnUnit(now, unit)
  if (bare === now) return
  u.value = bare
  emit('typed', 'u')
}
function enter(event: Event | KeyboardEvent, of: (now: string) => void) {
  event.preventDefault()
  of((event.target as HTMLInputElement).value)
  emit('enter')
}
function leave(now: string, of: (now: string) => void) {
  of(now)
  emit('left')
}
defineExpose({
  focus: () => {
    number.value?.focus()
    number.value?.select()
  },
})
</script>

<template>
  <span class="measured-field" :class="{ bare }">
    <label class="part"
      ><span :class="{ 'visually-hidden': bare }">{{ bare ? label : 'Value' }}</span>
      <el-input
        :id="id"
        ref="number"
        :model-value="value"
        class="number"
        inputmode="decimal"
        autocomplete="off"
        :disabled="disabled"
        :aria-invalid="fault ? 'true' : undefined"
        :aria-describedby="fault && id ? `${id}-fault` : undefined"
        @focus="at"
        @update:model-value="type"
        @keydown.enter="enter($event, convert)"
        @change="leave($event, convert)"
    /></label>
    <template v-if="!counted">
      <label class="part"
        >±<span :class="{ 'visually-hidden': bare }">{{ bare ? ` u of ${label}` : ' u' }}</span>
        <el-input
          v-model="u"
          class="u"
          inputmode="decimal"
          autocomplete="off"
          :disabled="disabled"
          @focus="at"
          @input="emit('typed', 'u')"
          @keydown.enter="enter($event, convertU)"
          @change="leave($event, convertU)"
      /></label>
    </template>
    <span v-if="unit" class="soft small">{{ unit }}</span>
    <span v-if="written" class="soft small">typed {{ written }}</span>
    <label v-if="instrument !== undefined && !counted" class="part"
      >with
      <el-input
        v-model="instrument"
        class="with"
        :disabled="disabled"
        @input="emit('typed', 'instrument')"
        @keydown.enter.prevent="emit('enter')"
    /></label>
  </span>
</template>

<style scoped>
.measured-field {
  display: inline-flex;
  gap: 8px;
  align-items: center;
}
.part {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  margin: 0;
}
.number {
  width: 110px;
}
.u {
  width: 84px;
}
.with {
  width: 130px;
}
.bare {
  gap: 5px;
}
.bare .number {
  width: 82px;
}
.bare .u {
  width: 62px;
}
</style>
