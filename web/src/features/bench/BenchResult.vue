<script setup lang="ts">
/** The result at the end: how it ended, the headline figures, and accept or reject. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { runQuery, runsQuery } from '@/api/queries'
import RunReview from '@/features/runs/RunReview.vue'
import Figure from '@/figures/Figure.vue'
import RunNoticed from '@/features/runs/RunNoticed.vue'
import RepeatsPanel from './RepeatsPanel.vue'
import { DIRECTION } from './setup'
import { labelOf, midSentence, unitOf } from '@/words/words'

const props = defineProps<{
  uid: string
  end: Schemas['BenchEnd'] | null
  /** How many like runs are wanted, and whether this person may make them. */
  wanted: number
  may: boolean
}>()
defineEmits<{ again: [] }>()

// The run reaches the record a moment after it ended; ask until it is there with its end.
const { data: found } = useQuery(
  computed(() => ({
    ...runsQuery({ uid: props.uid }),
    refetchInterval: (query: { state: { data?: Schemas['Run'][] } }) =>
      query.state.data?.[0]?.outcome ? false : 500,
  })),
)
const run = computed(() => found.value?.find((row) => row.uid === props.uid && row.outcome) ?? null)
const { data: detail } = useQuery(
  computed(() => ({ ...runQuery(run.value?.id ?? 0), enabled: run.value !== null })),
)
/** What a direction check has to say at once. */
const told = computed(() =>
  (detail.value?.result?.warnings ?? []).filter((one) =>
    ['pulls_backwards', 'direction_unclear'].includes(one.code),
  ),
)
const pulls = computed(
  () => run.value?.kind === DIRECTION && detail.value?.result && !told.value.length,
)
</script>

<template>
  <section class="result" aria-label="Result of the last run">
    <h2>
      {{ end?.outcome === 'completed' ? 'Completed' : end?.reason }}
      <span v-if="end?.outcome === 'completed'" class="soft">{{ end.reason }}</span>
    </h2>
    <p v-if="!run" class="soft">Bringing the recording to the record…</p>
    <template v-else>
      <p class="line">
        <RouterLink :to="`/runs/${run.id}`">Run {{ run.id }}</RouterLink>
        <span v-for="figure in run.headline" :key="figure.name"
          >{{ midSentence(labelOf(figure.name)) }}
          <Figure
            :value="figure.value"
            :u="figure.u"
            :assumed="figure.assumed"
            :reason="figure.reason"
            :unit="unitOf(figure.name)"
        /></span>
        <span v-if="run.warning_count"
          >{{ run.warning_count }} {{ run.warning_count === 1 ? 'warning' : 'warnings' }}</span
        >
      </p>
      <p v-for="said in told" :key="said.code" class="told" role="alert">{{ said.message }}</p>
      <p v-if="pulls" role="status">It pulls the right way.</p>
      <RunReview v-if="detail" :run="detail" />
      <RunNoticed v-if="detail" :run="detail" bare class="noticed" />
      <RepeatsPanel
        v-if="run.kind !== DIRECTION"
        :uid="uid"
        :wanted="wanted"
        :may="may"
        @again="$emit('again')"
      />
    </template>
  </section>
</template>

<style scoped>
.result {
  background: var(--paper);
  color: var(--ink);
  border-radius: 5px;
  padding: 10px 16px;
  margin: 10px 0;
}
.told {
  border-left: 4px solid var(--stop);
  padding-left: 10px;
  font-weight: 700;
}
.noticed {
  border: 0;
  padding: 0;
  margin: 6px 0 0;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  margin: 6px 0;
}
</style>
