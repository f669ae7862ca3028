<script setup lang="ts">
/** Who a row is, and that the others may be held against it. */
import MotorMark from '@/figures/MotorMark.vue'

defineProps<{ motor: number; name: string; under?: string; baseline: boolean }>()
const emit = defineEmits<{ hold: [] }>()
</script>

<template>
  <MotorMark :motor="motor" />{{ name }}<br />
  <span v-if="under" class="soft">{{ under }}</span>
  <el-button
    v-if="!baseline"
    size="small"
    text
    :aria-label="`hold the others against it: ${under ? `${name}, ${under}` : name}`"
    @click="emit('hold')"
    >hold the others against it</el-button
  >
  <span v-else class="tag">held against</span>
</template>
