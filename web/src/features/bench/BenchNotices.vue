<script setup lang="ts">
/** What the bench has to say: refusals, faults, and what is not as usual. */
import { computed } from 'vue'
import { useBench } from '@/live/useBench'

defineProps<{ problem: string; busy: boolean }>()
const bench = useBench()
const frame = computed(() => bench.frame)
const state = computed(() => frame.value?.state ?? 'idle')
const interrupted = computed(
  () => state.value === 'idle' && frame.value?.end?.outcome === 'interrupted',
)
</script>

<template>
  <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  <p v-if="state === 'faulted'" class="problem" role="alert">{{ frame?.message }}</p>
  <p v-if="interrupted" class="problem quiet" role="alert">{{ frame?.message }}</p>
  <p v-if="state === 'zeroed' || state === 'watched'" class="caution" role="status">
    {{ frame?.message }}
  </p>
  <p v-if="frame?.bad_lines" class="caution">
    {{ frame.bad_lines }} {{ frame.bad_lines === 1 ? 'line' : 'lines' }} of the stand could not be
    read and {{ frame.bad_lines === 1 ? 'was' : 'were' }} left out; the last:
    {{ frame.bad_line }}
  </p>
  <p v-if="state === 'safe' && !frame?.end && !busy" class="caution" role="status">
    Disarmed: {{ frame?.message }}
  </p>
  <p v-if="frame?.delivery_problem" class="caution">{{ frame.delivery_problem }}</p>
</template>

<style scoped>
.problem {
  background: var(--stop);
  color: var(--on-ink);
  padding: 8px 12px;
  border-radius: 4px;
  font-weight: 700;
}
.problem.quiet {
  background: var(--dark-caution-soft);
}
.caution {
  border-left: 4px solid var(--dark-caution-line);
  padding-left: 10px;
}
</style>
