<script setup lang="ts">
/** The head of a column that may stand below as bars: what it is, its unit, and whether it does. */
const props = defineProps<{ name: string; label: string; unit: string }>()
/** The column that stands below. */
const barred = defineModel<string>('barred', { required: true })
const turn = () => (barred.value = barred.value === props.name ? '' : props.name)
</script>

<template>
  {{ label }}<br /><span class="soft">{{ unit }}</span>
  <el-button size="small" text :aria-label="`bars of ${label}`" @click="turn">bars</el-button>
</template>
