<script setup lang="ts">
/** The verdict as it is spoken: short lines in order, large enough to read past a camera. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { notesQuery } from '@/api/verdictQueries'
import PageState from '@/app/PageState.vue'
import { duration } from '@/figures/format'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const { data: notes, error, refetch } = useQuery(computed(() => notesQuery(id.value)))
</script>

<template>
  <PageState :loading="!notes && !error" :error="error" :retry="refetch" />
  <article v-if="notes" class="notes">
    <p class="kicker soft">
      <RouterLink :to="`/publish/verdict/${id}`">The verdict</RouterLink>
    </p>
    <h1>{{ notes.subject }}, spoken</h1>
    <p class="soft">
      {{ duration(notes.seconds) }} at an easy pace. Numbers are rounded as one says them, never
      finer than they are known.
    </p>
    <p v-if="!notes.sections.length" class="sheet">Nothing is written yet.</p>
    <section v-for="section in notes.sections" :key="section.title">
      <h2>
        {{ section.title }} <span class="soft time">{{ duration(section.seconds) }}</span>
      </h2>
      <p v-for="(line, at) in section.lines" :key="at" class="line">{{ line }}</p>
    </section>
  </article>
</template>

<style scoped>
.notes {
  max-width: 820px;
}
.kicker {
  margin: 0 0 2px;
  font-size: 12.5px;
}
h2 {
  margin: 18px 0 4px;
  font-size: 15px;
  color: var(--copper);
}
.time {
  margin-left: 8px;
  font-size: 12.5px;
  font-weight: 400;
}
.line {
  margin: 0 0 8px;
  font-size: 19px;
  line-height: 1.5;
}
@media print {
  .line {
    font-size: 14pt;
  }
}
</style>
