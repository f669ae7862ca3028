<script setup lang="ts">
/** What a page shows instead of its content: loading, or an error with a way on. */
import { sentenceOf } from '@/api/client'

defineProps<{ loading: boolean; error: unknown; retry?: () => unknown }>()
</script>

<template>
  <div v-if="error" class="sheet problem" role="alert">
    <strong>{{ sentenceOf(error) }}</strong>
    <el-button v-if="retry" size="small" @click="retry()">Try again</el-button>
  </div>
  <div v-else-if="loading" role="status" aria-label="Loading">
    <el-skeleton :rows="6" animated />
  </div>
</template>

<style scoped>
.problem {
  border-color: var(--stop);
  display: flex;
  gap: 14px;
  align-items: center;
  color: var(--ink);
}
</style>
