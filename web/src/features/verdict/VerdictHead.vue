<script setup lang="ts">
/** Whose verdict it is, how well it is founded, and whether its figures have moved. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { dateTime } from '@/figures/format'

const props = defineProps<{
  verdict: Schemas['Verdict']
  figures: ReadonlyMap<number, Schemas['VerdictFigure']>
}>()
const all = computed(() => [...props.figures.values()])
const stale = computed(() => all.value.filter((one) => one.stale && !one.word).length)
const last = computed(() => {
  const seen = all.value.map((one) => one.seen_at).sort()
  return seen.at(-1)
})
</script>

<template>
  <header class="head">
    <p class="kicker soft">
      <RouterLink to="/publish">Verdicts</RouterLink> ·
      <RouterLink v-if="verdict.motor" :to="`/motors/${verdict.motor}`">motor file</RouterLink>
      <RouterLink v-else-if="verdict.ranking" :to="{ path: '/rank', query: verdict.asked }"
        >the ranking</RouterLink
      >
      <RouterLink v-else :to="`/compare?saved=${verdict.comparison}`">the comparison</RouterLink>
      · <RouterLink :to="`/publish/verdict/${verdict.id}/notes`">speaking notes</RouterLink>
      ·
      <a :href="`/api/v1/verdicts/${verdict.id}/draft/`" target="_blank">the page as it would be</a>
    </p>
    <h1>{{ verdict.subject }}</h1>
    <p class="grade">
      {{ verdict.grade.line }}
      <span v-if="verdict.grade.missing.length" class="soft"
        >It would rise with {{ verdict.grade.missing.join('; ') }}.</span
      >
    </p>
    <p v-if="stale" class="stale" role="status">
      {{ stale }} figure{{ stale === 1 ? ' has' : 's have' }} moved since
      {{ last ? dateTime(last) : 'somebody stood by it' }}; look at the margin.
    </p>
  </header>
</template>

<style scoped>
.kicker {
  margin: 0 0 2px;
  font-size: 12.5px;
}
h1 {
  margin: 0 0 4px;
}
.grade {
  margin: 0 0 8px;
}
.stale {
  margin: 0 0 8px;
  padding: 4px 10px;
  border-left: 3px solid var(--caution);
  background: var(--caution-soft);
}
</style>
