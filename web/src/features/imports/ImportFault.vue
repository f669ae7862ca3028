<script setup lang="ts">
/** Why a file was not taken: what, where, and what was expected. */
import { computed } from 'vue'
import { ApiError, sentenceOf } from '@/api/client'

const props = defineProps<{ fileName: string; problem: unknown }>()
const where = computed(() => (props.problem instanceof ApiError ? props.problem.body.where : null))
</script>

<template>
  <section class="sheet fault" role="alert">
    <h2>{{ fileName }} was not imported; nothing was stored</h2>
    <p>{{ sentenceOf(problem) }}</p>
    <dl v-if="where">
      <div v-if="where.line !== null">
        <dt>Line</dt>
        <dd>{{ where.line }}</dd>
      </div>
      <div v-if="where.column !== null">
        <dt>Column</dt>
        <dd>{{ where.column }}</dd>
      </div>
      <div v-if="where.expected">
        <dt>Expected</dt>
        <dd>{{ where.expected }}</dd>
      </div>
    </dl>
  </section>
</template>

<style scoped>
.fault {
  border-left: 5px solid var(--stop);
}
.fault dl {
  display: flex;
  gap: 28px;
  margin: 8px 0 0;
}
dt {
  font-size: 12px;
  color: var(--ink-soft);
}
dd {
  margin: 0;
  font-family: var(--digits);
}
</style>
