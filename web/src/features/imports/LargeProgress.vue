<script setup lang="ts">
/** How far a large file is on its way, and a way to stop it. */
import { computed } from 'vue'
import type { LargeFileOnItsWay } from './useLargeFile'
import { count } from '@/figures/format'

const props = defineProps<{ large: LargeFileOnItsWay }>()
const done = computed(() => props.large.done.value)
const total = computed(() => props.large.total.value)
const percent = computed(() =>
  total.value ? Math.min(100, Math.round((100 * done.value) / total.value)) : 0,
)
const said = computed(() => {
  const far = `${count(done.value)} of ${count(total.value)} ${props.large.unit.value}`
  if (props.large.stage.value === 'sending') return `${far} sent`
  return total.value ? `${far} stored` : 'waits for other long work'
})
</script>

<template>
  <div v-if="large.stage.value" class="way" role="status">
    <el-progress class="bar" :percentage="percent" :format="() => said" />
    <el-button size="small" :disabled="large.stopping.value" @click="large.stop()">{{
      large.stopping.value ? 'Stopping…' : 'Stop it'
    }}</el-button>
    <span v-if="large.stage.value === 'sending'" class="soft small"
      >Leave this page open until all of it is sent; if it breaks off, choose the same file again
      and it goes on.</span
    >
    <span v-else class="soft small">This page may be left; the run appears when it is whole.</span>
  </div>
</template>

<style scoped>
.way {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  margin: 8px 0;
}
.bar {
  flex: 0 1 460px;
}
.bar :deep(.el-progress__text) {
  min-width: 13em;
}
</style>
