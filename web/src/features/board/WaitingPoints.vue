<script setup lang="ts">
/** What came due, and what nobody answered yet. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { waitingQuery } from '@/api/afterwardsQueries'
import { sentenceOf } from '@/api/client'
import FollowUpList from '@/features/afterwards/FollowUpList.vue'
import { askedFor } from '@/features/plan/asked'
import { wordOf } from '@/words/words'

/** The Board fits one screen. */
const MOST = 2
const { data, error } = useQuery(waitingQuery())
const oldest = computed(() => data.value?.unanswered[0] ?? null)
const points = computed(() => data.value?.due.slice(0, MOST) ?? [])
/** What is wanted soonest, or by most. */
const wanted = computed(() => data.value?.requests[0] ?? null)
const short = (text: string) => (text.length > 60 ? `${text.slice(0, 58)}…` : text)
</script>

<template>
  <p v-if="error" role="alert" class="fault">{{ sentenceOf(error) }}</p>
  <section
    v-else-if="data && (data.due_count || data.unanswered_count || data.request_count)"
    class="sheet"
    aria-labelledby="came-due"
  >
    <h2 id="came-due">Afterwards</h2>
    <FollowUpList v-if="points.length" :points="points" motors />
    <p v-if="data.due_count > points.length" class="small">
      <RouterLink to="/afterwards?look=waiting">{{ data.due_count }} are due</RouterLink>
    </p>
    <p v-if="wanted" class="small">
      <RouterLink to="/afterwards?look=letters"
        >{{ data.request_count }} {{ data.request_count === 1 ? 'request' : 'requests' }} of
        readers</RouterLink
      >, first: “{{ short(wanted.text) }}” ({{ askedFor(wanted) }})
    </p>
    <p v-if="oldest" class="small">
      <RouterLink to="/afterwards?look=letters"
        >{{ data.unanswered_count }} without an answer</RouterLink
      >, the oldest a {{ wordOf('letter', oldest.kind) }} of {{ oldest.received_on }}: “{{
        short(oldest.text)
      }}”
    </p>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.fault {
  color: var(--stop);
}
</style>
