<script setup lang="ts">
/** The data pack of an edition: where it lies, that it is being made, or why it could not be. */
import type { Schemas } from '@/api/client'
import { fileSize } from '@/figures/format'

defineProps<{ edition: Schemas['Edition'] }>()
</script>

<template>
  <span class="small data">
    <a v-if="edition.data_path" :href="edition.data_path" download
      >its data, {{ fileSize(edition.data_bytes ?? 0) }}</a
    >
    <span v-else-if="edition.data_problem" role="alert" class="fault"
      >its data could not be packed: {{ edition.data_problem }}</span
    >
    <span v-else class="soft">its data are not packed yet</span>
    <span class="soft"> · {{ edition.licence || 'licence not said' }}</span>
  </span>
</template>

<style scoped>
.data {
  display: block;
}
.fault {
  color: var(--stop);
}
</style>
