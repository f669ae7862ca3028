<script setup lang="ts">
/** The case after the stop: it goes on warming, then cools; and when it is ready. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { formatNumber } from '@/figures/format'
import { readyWords } from '@/live/ready'

const props = defineProps<{ frame: Schemas['Frame'] | null }>()
const after = computed(() => props.frame?.after ?? null)
const PHASES: Record<string, string> = {
  warming: 'The case still warms; stay until its peak has passed',
  cooling: 'The peak has passed',
  ready: 'Cool again',
}
</script>

<template>
  <p v-if="after" class="after" :class="after.phase" role="status">
    {{ PHASES[after.phase] }}: highest {{ formatNumber(after.highest_c, 1) }} °C<template
      v-if="after.phase !== 'ready'"
      >, {{ readyWords(after, new Date()) }}</template
    >.
  </p>
</template>

<style scoped>
.after {
  margin: 8px 0 0;
  border-left: 4px solid var(--dark-within);
  padding-left: 10px;
}
.warming {
  border-color: var(--dark-caution-line);
}
</style>
