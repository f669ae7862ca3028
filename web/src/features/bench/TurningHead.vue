<script setup lang="ts">
/** What turns: its title, how far the profile is, and its steps. */
import type { Frame } from '@/live/useBench'
import RunSteps from './RunSteps.vue'

defineProps<{ frame: Frame | null }>()
</script>

<template>
  <p class="title">{{ frame?.title }}</p>
  <template v-if="frame?.state !== 'watching'">
    <p class="progress-label">{{ frame?.progress.label || frame?.message }}</p>
    <progress
      :value="frame?.progress.elapsed_s ?? 0"
      :max="frame?.progress.total_s ?? 1"
      aria-label="Progress of the profile"
    />
  </template>
  <RunSteps :frame="frame" />
</template>

<style scoped>
.title {
  font-size: 18px;
  font-weight: 700;
  margin: 14px 0;
}
.progress-label {
  font-size: 24px;
  font-family: var(--digits);
}
progress {
  width: 100%;
  height: 14px;
  accent-color: var(--dark-copper);
}
</style>
