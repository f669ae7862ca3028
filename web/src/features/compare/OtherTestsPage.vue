<script setup lang="ts">
/** What runs of the other kinds say over the whole bench, and all motors at one kV. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { type AskedKinds, kindTableQuery } from '@/api/compareQueries'
import type { Schemas } from '@/api/client'
import PageState from '@/app/PageState.vue'
import TableStill from '@/charts/TableStill.vue'
import type { StillTable } from '@/charts/stills'
import Figure from '@/figures/Figure.vue'
import FigureBars from '@/figures/FigureBars.vue'
import { count, figureText } from '@/figures/format'
import MotorMark from '@/figures/MotorMark.vue'
import { labelOf, unitOf } from '@/words/words'
import CompareHead from './CompareHead.vue'
import DeltaWords from './DeltaWords.vue'
import OneKvSheet from './OneKvSheet.vue'

type Table = Schemas['KindTable']
type Row = Table['rows'][number]
const route = useRoute()
const router = useRouter()
const word = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '')
const asked = computed<AskedKinds>(() => ({
  kind: word('kind') || undefined,
  baseline: word('baseline') || undefined,
}))
const query = useQuery(computed(() => kindTableQuery(asked.value)))
const shown = query.data
const ask = (changes: Record<string, string | undefined>) =>
  void router.replace({ query: { ...route.query, ...changes } })
const columns = computed(() =>
  (shown.value?.figures ?? [])
    .map((name, index) => ({ name, index }))
    .filter(({ index }) => shown.value?.rows.some((row) => row.cells[index]?.figure.value != null)),
)
const barred = ref('')
const bars = computed(() => {
  const at = columns.value.find((one) => one.name === barred.value)
  if (!at) return []
  return (shown.value?.rows ?? []).flatMap((row) => {
    const cell = row.cells[at.index]
    if (cell?.figure.value == null) return []
    const { value, u } = cell.figure
    return [
      {
        key: row.key,
        motor: row.motor,
        name: `${row.motor_name}, ${row.load}`,
        value,
        u: u ?? null,
        claims: cell.claimed,
      },
    ]
  })
})
const cellOf = (row: unknown, index: number) => (row as Row).cells[index] as Row['cells'][number]
const held = computed(() => shown.value?.rows.find((row) => row.baseline) ?? null)
const csv = computed(
  () =>
    `/api/v1/compare/tests.csv?${new URLSearchParams(
      Object.entries(asked.value).flatMap(([key, value]) => (value ? [[key, String(value)]] : [])),
    )}`,
)
function still(): StillTable {
  return {
    title: shown.value?.kinds.find((one) => one.kind === shown.value?.kind)?.label ?? '',
    heads: [
      'Motor',
      'Under',
      ...columns.value.map(({ name }) => `${labelOf(name)}, ${unitOf(name)}`),
    ],
    rows: (shown.value?.rows ?? []).map((row) => [
      row.motor_name,
      row.load,
      ...columns.value.map(({ index }) => {
        const figure = row.cells[index]?.figure
        if (figure?.value == null) return '—'
        const text = figureText(figure.value, figure.u)
        return text.u ? `${text.value} ± ${text.u}` : text.value
      }),
    ]),
    foot: '± is the standard uncertainty.',
  }
}
const kv = computed(() => shown.value?.kind === 'no_load')
</script>

<template>
  <CompareHead here="/compare/tests" :reading="query.isFetching.value">
    <a v-if="shown?.rows.length" :href="csv" download>CSV</a>
  </CompareHead>
  <PageState :loading="query.isPending.value" :error="query.error.value" :retry="query.refetch" />
  <section v-if="shown && !shown.kinds.length" class="sheet">
    <h2>No other tests yet</h2>
    <p>
      kV without a propeller, torque on the flywheel, response, heat and bursts stand here once they
      were <RouterLink to="/bench">run</RouterLink>.
    </p>
  </section>
  <template v-else-if="shown">
    <el-segmented
      :model-value="shown.kind"
      class="kinds"
      :options="shown.kinds.map((one) => ({ value: one.kind, label: one.label }))"
      aria-label="Kind of run"
      @update:model-value="ask({ kind: String($event), baseline: undefined })"
    />
    <section class="sheet" aria-label="Row by row">
      <h2>
        {{
          held
            ? `Held against ${held.motor_name}, ${held.load}`
            : 'Each held against the row before'
        }}
        <el-button v-if="held" size="small" text @click="ask({ baseline: undefined })"
          >against the row before</el-button
        >
        <TableStill name="tests" :table="still" />
      </h2>
      <el-table :data="shown.rows" row-key="key">
        <el-table-column label="Motor, under" min-width="220" fixed>
          <template #default="{ row }">
            <MotorMark :motor="(row as Row).motor" />{{ (row as Row).motor_name }}<br />
            <span class="soft">{{ (row as Row).load }}</span>
            <el-button
              v-if="!(row as Row).baseline"
              size="small"
              text
              :aria-label="`hold the others against it: ${(row as Row).motor_name}, ${(row as Row).load}`"
              @click="ask({ baseline: (row as Row).key })"
              >hold the others against it</el-button
            >
            <span v-else class="tag">held against</span>
          </template>
        </el-table-column>
        <el-table-column v-if="kv" min-width="120" align="right">
          <template #header>Label<br /><span class="soft">rpm/V</span></template>
          <template #default="{ row }">
            <span
              v-for="one in cellOf(row, 0).claimed"
              :key="one.source"
              class="figure quoted"
              :data-reason="`claimed by the ${one.source}`"
              >{{ count(one.value) }}</span
            >
            <span v-if="!cellOf(row, 0).claimed.length" class="soft">none printed</span>
          </template>
        </el-table-column>
        <el-table-column v-if="kv" min-width="120" align="right">
          <template #header>Against the label<br /><span class="soft">%</span></template>
          <template #default="{ row }">
            <Figure
              :value="(row as Row).off_label_pct?.value"
              :u="(row as Row).off_label_pct?.u"
              :reason="(row as Row).off_label_pct?.reason"
            />
          </template>
        </el-table-column>
        <el-table-column v-for="one in columns" :key="one.name" min-width="146" align="right">
          <template #header>
            {{ labelOf(one.name) }}<br /><span class="soft">{{ unitOf(one.name) }}</span>
            <el-button
              size="small"
              text
              :aria-label="`bars of ${labelOf(one.name)}`"
              @click="barred = barred === one.name ? '' : one.name"
              >bars</el-button
            >
          </template>
          <template #default="{ row }">
            <Figure
              :value="cellOf(row, one.index).figure.value"
              :u="cellOf(row, one.index).figure.u"
              :reason="cellOf(row, one.index).figure.reason"
              :assumed="cellOf(row, one.index).figure.assumed"
            />
            <DeltaWords :name="one.name" :delta="cellOf(row, one.index).delta" />
          </template>
        </el-table-column>
      </el-table>
      <template v-if="bars.length">
        <h3>{{ labelOf(barred) }}</h3>
        <FigureBars :rows="bars" :unit="unitOf(barred)" :title="labelOf(barred)" />
      </template>
      <p class="small soft">
        Means over samples and runs; what samples of a model differ by is in ±.
        <template v-if="kv"
          >kV is freed of R·I where the motor's resistance is identified.</template
        >
        <template v-if="shown.more"> {{ shown.more }} more motors are not shown.</template>
      </p>
    </section>
  </template>
  <OneKvSheet />
</template>

<style scoped>
.kinds {
  margin: 8px 0 10px;
}
.sheet {
  margin-bottom: 12px;
}
.quoted {
  font-style: italic;
}
</style>
