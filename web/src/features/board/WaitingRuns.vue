<script setup lang="ts">
/** Runs that were neither accepted nor rejected, the newest first. */
import type { Schemas } from '@/api/client'
import { dateTime } from '@/figures/format'
import Figure from '@/figures/Figure.vue'
import { unitOf } from '@/words/words'

defineProps<{ runs: readonly Schemas['Run'][]; count: number }>()
</script>

<template>
  <section class="sheet" aria-label="Runs that wait for a verdict">
    <div class="bar">
      <h2>
        Wait for a verdict <span class="soft">({{ count }})</span>
      </h2>
      <RouterLink v-if="count > runs.length" to="/runs?state=waiting">all of them</RouterLink>
    </div>
    <p v-if="!runs.length" class="soft">None: every run was accepted or rejected.</p>
    <ul v-else>
      <li v-for="run in runs" :key="run.id">
        <RouterLink :to="`/runs/${run.id}`">Run {{ run.id }}</RouterLink>
        <span class="name" :title="`${run.motor_name} ${run.sample_mark}, ${run.propeller_name}`"
          >{{ run.motor_name }} {{ run.sample_mark }}</span
        >
        <span v-if="run.outcome !== 'completed'" class="tag caution">{{ run.outcome }}</span>
        <Figure
          v-else-if="run.headline[0]"
          :value="run.headline[0].value"
          :u="run.headline[0].u"
          :assumed="run.headline[0].assumed"
          :reason="run.headline[0].reason"
          :unit="unitOf(run.headline[0].name)"
        />
        <span class="soft small">{{ dateTime(run.started_at).slice(0, 10) }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.bar {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr) auto auto;
  gap: 8px;
  align-items: baseline;
  padding: 4px 0;
  border-bottom: 1px solid var(--line-soft);
}
.name {
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
</style>
