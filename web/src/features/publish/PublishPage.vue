<script setup lang="ts">
/** What can be said and what was said: verdicts, pages for readers, frozen comparisons. */
import { useQuery } from '@tanstack/vue-query'
import { snapshotsQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { runMarks } from '@/figures/motorMark'
import { dateTime } from '@/figures/format'
import VerdictTable from '@/features/verdict/VerdictTable.vue'
import PublishedPages from './PublishedPages.vue'
import WholeBench from './WholeBench.vue'
import ComparisonTable from '@/features/compare/ComparisonTable.vue'

const { mayAdmin } = useSession()
const { data: snapshots, isPending, error, refetch } = useQuery(snapshotsQuery())
</script>

<template>
  <h1>Publish</h1>
  <VerdictTable />
  <PublishedPages />
  <h2 class="frozen">Frozen comparisons</h2>
  <p class="soft">
    As they stood when an editor froze them, for who is logged in. A comparison with a verdict has a
    page for readers.
  </p>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="snapshots && !snapshots.length" class="sheet">
    <p>
      Nothing is frozen. An editor freezes a comparison on the
      <RouterLink to="/compare">Compare</RouterLink> page.
    </p>
  </section>
  <details v-for="snapshot in snapshots" :key="snapshot.id" class="sheet">
    <summary>
      <strong>{{ snapshot.title }}</strong>
      <span class="soft small">
        frozen {{ dateTime(snapshot.frozen_at) }} by {{ snapshot.frozen_by_name }}</span
      >
    </summary>
    <ComparisonTable
      :comparison="snapshot.content"
      :marks="runMarks(snapshot.content.subjects.map((one) => one.motor))"
    />
  </details>
  <WholeBench v-if="mayAdmin" />
</template>

<style scoped>
.frozen {
  margin-top: 24px;
}
.sheet {
  margin-top: 12px;
}
</style>
