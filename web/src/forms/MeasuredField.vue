<script setup lang="ts">
/** A reading: its value, what it is uncertain by, the unit, and what it was read with. */
import { ref } from 'vue'
import type { InputInstance } from 'element-plus'

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
const number = ref<InputInstance | null>(null)

function at(event: FocusEvent) {
  emit('at')
  // What stands there is replaced by typing, as on an instrument.
  if (props.bare) (event.target as HTMLInputElement).select()
}
function enter(event: Event | KeyboardEvent) {
  event.preventDefault()
  emit('enter')
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
        v-model="value"
        class="number"
        inputmode="decimal"
        autocomplete="off"
        :disabled="disabled"
        :aria-invalid="fault ? 'true' : undefined"
        :aria-describedby="fault && id ? `${id}-fault` : undefined"
        @focus="at"
        @input="emit('typed', 'value')"
        @keydown.enter="enter"
        @change="emit('left')"
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
          @keydown.enter="enter"
          @change="emit('left')"
      /></label>
    </template>
    <span v-if="unit" class="soft small">{{ unit }}</span>
    <label v-if="instrument !== undefined && !counted" class="part"
      >with
      <el-input
        v-model="instrument"
        class="with"
        :disabled="disabled"
        @input="emit('typed', 'instrument')"
        @keydown.enter="enter"
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
