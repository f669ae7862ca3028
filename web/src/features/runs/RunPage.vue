<script setup lang="ts">
/** What happened, and what does it mean? */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, sentenceOf } from '@/api/client'
import { runQuery, traceQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import ChartSheet from '@/charts/ChartSheet.vue'
import { dateTime } from '@/figures/format'
import Figure from '@/figures/Figure.vue'
import SampleThumb from '@/cutaway/SampleThumb.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { labelOf, runKind, unitOf } from '@/words/words'
import ChannelPicker from './ChannelPicker.vue'
import PointTable from './PointTable.vue'
import RunLimits from './RunLimits.vue'
import RunReview from './RunReview.vue'
import { traceOption } from './traceOption'

const id = Number(useRoute().params.id)
const { data: run, isPending, error, refetch } = useQuery(runQuery(id))
const trace = useQuery(traceQuery(id))
const { mayWrite } = useSession()
const left = ref('thrust_gf')
const right = ref('current_a')

const channels = computed(() => Object.keys(trace.data.value?.channels ?? {}))
// What is worth looking at first depends on what was done.
watch(
  () => run.value?.kind,
  (kind) => {
    const look = kind ? runKind(kind)?.first_look : undefined
    if (look?.length === 2) [left.value, right.value] = look as [string, string]
  },
  { immediate: true },
)
const drawn = computed(() => {
  const first = channels.value.includes(left.value) ? left.value : (channels.value[0] ?? '')
  return right.value && channels.value.includes(right.value) ? [first, right.value] : [first]
})
const option = computed(() =>
  trace.data.value ? traceOption(trace.data.value, drawn.value, run.value?.result ?? null) : {},
)
const table = computed(() => ({
  columns: ['time_s', ...drawn.value],
  rows: (trace.data.value?.time_s ?? []).map((time, i) => [
    time,
    ...drawn.value.map((name) => trace.data.value?.channels[name]?.[i] ?? null),
  ]),
}))
const summary = computed(() => Object.entries(run.value?.result?.summary ?? {}))
const someAssumed = computed(() => summary.value.some(([, figure]) => figure?.assumed))

const rebuilding = useWrite('run', () =>
  api.POST('/api/v1/runs/{id}/reduction/', { params: { path: { id } } }),
)
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <template v-if="run">
    <header class="head">
      <SampleThumb :sample="run.sample" :name="`${run.motor_name} ${run.sample_mark}`" />
      <div>
        <h1><MotorMark :motor="run.motor" />Run {{ run.id }}: {{ run.propeller_name }}</h1>
        <p>
          <RouterLink :to="`/motors/${run.motor}`"
            >{{ run.motor_name }} {{ run.sample_mark }}</RouterLink
          >
          · {{ run.supply_name || 'supply not noted' }} ·
          {{ run.stand_name || 'stand not noted' }} · {{ dateTime(run.started_at) }} ·
          {{ run.operator_name }}
        </p>
        <p class="soft small">
          <template v-if="run.air_density_kg_per_m3 !== null"
            >Air <Figure :value="run.air_temp_c" unit="°C" />,
            <Figure :value="run.air_pressure_hpa" unit="hPa" />, density
            <Figure :value="run.air_density_kg_per_m3" unit="kg/m³"
          /></template>
          <template v-else>Air not noted</template>
          · {{ run.origin === 'import' ? `imported from ${run.source_file_name}` : run.origin }} ·
          ended: {{ run.end_reason || 'still recording' }}
        </p>
      </div>
      <div class="acts">
        <RunReview :run="run" />
        <nav class="files small">
          Export
          <a :href="`/api/v1/runs/${id}/bench-log.csv`" download>bench log (CSV)</a>
          <a :href="`/api/v1/runs/${id}/points.csv`" download>points (CSV)</a>
          <a v-if="run.source_file_name" :href="`/api/v1/runs/${id}/source.csv`" download
            >source file</a
          >
        </nav>
      </div>
    </header>

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

    <section class="sheet">
      <div class="pick">
        <h2>Trace</h2>
        <ChannelPicker v-model="left" label="left" :channels="channels" />
        <ChannelPicker v-model="right" label="right" :channels="channels" may-be-none />
        <span class="soft small"
          >Shaded: the part that was averaged (green settled, amber not). Diamonds: left out.</span
        >
      </div>
      <PageState :loading="trace.isPending.value" :error="trace.error.value" />
      <ChartSheet
        v-if="trace.data.value"
        :option="option"
        :name="`run-${id}-trace`"
        :table="table"
        :height="270"
        :label="`Trace of run ${id}: ${drawn.map(labelOf).join(' and ')} over time`"
      />
    </section>

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
.head {
  display: flex;
  justify-content: space-between;
  gap: 20px;
}
.head > div:first-of-type {
  flex: 1;
}
.head p {
  margin: 3px 0 0;
}
.acts {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  gap: 8px;
}
.files a {
  margin-left: 8px;
}
.sheet {
  margin-top: 12px;
}
.remark {
  border-left: 4px solid var(--caution);
  padding: 7px 14px;
}
.pick {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  align-items: center;
  margin-bottom: 6px;
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
