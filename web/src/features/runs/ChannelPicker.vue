<script setup lang="ts">
/** Which channel of a trace is drawn on one side. */
import { headOf } from '@/words/words'

defineProps<{ label: string; channels: readonly string[]; mayBeNone?: boolean }>()
const channel = defineModel<string>({ required: true })
</script>

<template>
  <label
    >{{ label }}
    <el-select v-model="channel" size="small" filterable :empty-values="[undefined]" class="pick">
      <el-option v-if="mayBeNone" value="" label="nothing" />
      <el-option v-for="name in channels" :key="name" :value="name" :label="headOf(name)" />
    </el-select>
  </label>
</template>

<style scoped>
label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.pick {
  width: 190px;
}
</style>
