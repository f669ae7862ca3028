<script setup lang="ts">
/** What happened, and what does it mean? */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, sentenceOf } from '@/api/client'
import { owedQuery, runQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import FigureStill from '@/charts/FigureStill.vue'
import { stillOf } from '@/charts/stills'
import Figure from '@/figures/Figure.vue'
import { labelOf, unitOf } from '@/words/words'
import WorkList from '@/features/work/WorkList.vue'
import OwedCells from './OwedCells.vue'
import PointTable from './PointTable.vue'
import RunExpected from './RunExpected.vue'
import RunHead from './RunHead.vue'
import RunLimits from './RunLimits.vue'
import RunNoticed from './RunNoticed.vue'
import RunTrace from './RunTrace.vue'

const id = Number(useRoute().params.id)
const { data: run, isPending, error, refetch } = useQuery(runQuery(id))
const { data: owed } = useQuery(
  computed(() => ({ ...owedQuery({ run: id }), enabled: run.value?.kind === 'readings' })),
)
const { mayWrite } = useSession()
const summary = computed(() => Object.entries(run.value?.result?.summary ?? {}))
const stillTitle = computed(() =>
  run.value ? `${run.value.motor_name}, ${run.value.propeller_name || 'no propeller'}` : '',
)
const stillFigures = computed(() =>
  summary.value.flatMap(([name, figure]) => {
    const words = `Run ${id}, sample ${run.value?.sample_mark}, ${run.value?.supply_name ?? ''}`
    return stillOf(labelOf(name), figure, unitOf(name), words) ?? []
  }),
)
const someAssumed = computed(() => summary.value.some(([, figure]) => figure?.assumed))

/** A long run is reduced by long work. */
const later = ref(false)
const rebuilding = useWrite('run', async () => {
  const { response } = await api.POST('/api/v1/runs/{id}/reduction/', { params: { path: { id } } })
  later.value = response.status === 202
})
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <template v-if="run">
    <RunHead :run="run" />
    <section v-if="run.outcome && run.outcome !== 'completed'" class="sheet remark">
      <strong>{{ run.outcome }}:</strong> {{ run.end_reason }} The data up to the cut is kept.
    </section>
    <RunLimits v-if="run.limits.length" :run="run" />
    <section v-if="run.stale" class="sheet remark">
      These figures were made by core {{ run.core_version }} or from other data.
      <el-button
        v-if="mayWrite"
        size="small"
        :loading="rebuilding.busy.value"
        @click="rebuilding.send()"
        >Rebuild them</el-button
      >
      <WorkList v-if="later" />
      <span v-if="rebuilding.problem.value" role="alert">{{
        sentenceOf(rebuilding.problem.value)
      }}</span>
    </section>
    <section v-if="run.reduction_error" class="sheet remark">
      No figures: {{ run.reduction_error }} The recording is kept.
    </section>
    <section
      v-for="warning in run.result?.warnings"
      :key="warning.code + warning.message"
      class="sheet remark"
    >
      <span class="tag caution">{{ warning.code.replaceAll('_', ' ') }}</span> {{ warning.message }}
    </section>

    <OwedCells v-if="owed?.results.length" :cells="owed.results" />
    <RunNoticed v-if="run.outcome" :run="run" />
    <!-- Typed readings have an order, and no time to draw them over. -->
    <RunTrace v-if="run.kind !== 'readings'" :run="run" />
    <RunExpected :run="id" />
    <section v-if="run.result" class="sheet">
      <h2>
        Points
        <span class="soft"
          >one per stretch that was averaged; ± is the standard uncertainty within the run</span
        >
      </h2>
      <PointTable :points="run.result.points" />
    </section>
    <section v-if="run.result" class="sheet">
      <h2>
        Summary
        <span class="soft"
          >± is the standard uncertainty: scatter, zero and the accuracy of the meters<template
            v-if="someAssumed"
            >; <sup>a</sup> where nobody declared that, and it is assumed</template
          ></span
        >
        <FigureStill :name="`run-${run.id}`" :title="stillTitle" :figures="stillFigures" />
      </h2>
      <dl class="summary">
        <div v-for="[name, figure] in summary" :key="name">
          <dt>{{ labelOf(name) }}</dt>
          <dd>
            <Figure
              :value="figure?.value"
              :u="figure?.u"
              :assumed="figure?.assumed"
              :unit="unitOf(name)"
              :reason="run.result.absent[name]?.note"
            />
          </dd>
        </div>
      </dl>
    </section>
  </template>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.remark {
  border-left: 4px solid var(--caution);
  padding: 7px 14px;
}
.summary {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 8px 24px;
  margin: 8px 0 0;
}
dt {
  color: var(--ink-soft);
  font-size: 12.5px;
}
dd {
  margin: 0;
  font-size: 15px;
}
</style>
