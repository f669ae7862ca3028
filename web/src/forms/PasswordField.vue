<script setup lang="ts">
/** A password; nothing of it is kept by the page. */
import { useId } from 'vue'
import FieldRow from './FieldRow.vue'

defineProps<{ label: string; autocomplete: string; problem?: string }>()
const text = defineModel<string>({ required: true })
const id = useId()
</script>

<template>
  <FieldRow :for="id" :label="label" :problem="problem">
    <el-input
      :id="id"
      v-model="text"
      type="password"
      show-password
      :autocomplete="autocomplete"
      :aria-invalid="problem ? 'true' : undefined"
    />
  </FieldRow>
</template>
