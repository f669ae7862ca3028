<script setup lang="ts">
/** What came due, and what nobody answered yet. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { waitingQuery } from '@/api/afterwardsQueries'
import { sentenceOf } from '@/api/client'
import FollowUpList from '@/features/afterwards/FollowUpList.vue'
import { wordOf } from '@/words/words'

const MOST = 4
const { data, error } = useQuery(waitingQuery())
const letters = computed(() => data.value?.unanswered.slice(0, MOST) ?? [])
const points = computed(() => data.value?.due.slice(0, MOST) ?? [])
const short = (text: string) => (text.length > 90 ? `${text.slice(0, 88)}…` : text)
</script>

<template>
  <p v-if="error" role="alert" class="fault">{{ sentenceOf(error) }}</p>
  <section
    v-else-if="data && (data.due_count || data.unanswered_count)"
    class="sheet"
    aria-labelledby="came-due"
  >
    <h2 id="came-due">
      Afterwards
      <RouterLink class="small" to="/afterwards?look=letters">all of it</RouterLink>
    </h2>
    <FollowUpList v-if="points.length" :points="points" motors />
    <p v-if="data.due_count > points.length" class="small">
      <RouterLink to="/afterwards?look=waiting">{{ data.due_count }} are due</RouterLink>
    </p>
    <ul v-if="letters.length" class="letters">
      <li v-for="one in letters" :key="one.id">
        <span class="soft small">{{ wordOf('letter', one.kind) }}, {{ one.received_on }}</span>
        {{ short(one.text) }}
      </li>
    </ul>
    <p v-if="data.unanswered_count" class="small">
      <RouterLink to="/afterwards?look=letters"
        >{{ data.unanswered_count }} without an answer</RouterLink
      >
    </p>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.letters {
  margin: 4px 0;
  padding: 0;
  list-style: none;
}
.letters li {
  padding: 2px 0;
}
.letters .small {
  display: block;
}
.fault {
  color: var(--stop);
}
</style>
