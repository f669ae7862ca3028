<script setup lang="ts">
/** What each motor weighs and costs, and what that buys. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { type AskedMass, massQuery } from '@/api/compareQueries'
import type { Schemas } from '@/api/client'
import PageState from '@/app/PageState.vue'
import TableStill from '@/charts/TableStill.vue'
import type { StillTable } from '@/charts/stills'
import Figure from '@/figures/Figure.vue'
import FigureBars from '@/figures/FigureBars.vue'
import { count, figureText, formatNumber } from '@/figures/format'
import MotorMark from '@/figures/MotorMark.vue'
import CompareHead from './CompareHead.vue'
import DeltaWords from './DeltaWords.vue'

type Row = Schemas['MassRow']
const route = useRoute()
const router = useRouter()
const word = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '')
const asked = computed<AskedMass>(() => ({
  load: word('load') || undefined,
  baseline: Number(word('baseline')) || undefined,
}))
const query = useQuery(computed(() => massQuery(asked.value)))
const shown = query.data
const ask = (changes: Record<string, string | undefined>) =>
  void router.replace({ query: { ...route.query, ...changes } })
const COLUMNS = computed(() => [
  {
    name: 'mass_g',
    label: `Mass, leads at ${shown.value?.lead_length_mm ?? '—'} mm`,
    unit: 'g',
  },
  { name: 'max_thrust_gf', label: 'Largest thrust', unit: 'gf' },
  { name: 'thrust_per_gram', label: 'Thrust per gram', unit: 'gf/g' },
  { name: 'price', label: 'Price', unit: shown.value?.currency || 'no currency' },
  {
    name: 'thrust_per_price',
    label: 'Thrust per price',
    unit: `gf/${shown.value?.currency || 'price'}`,
  },
])
const cellOf = (row: unknown, name: string) =>
  (row as Row).cells.find((one) => one.name === name) as Row['cells'][number]
const barred = ref('')
const barUnit = computed(() => COLUMNS.value.find((one) => one.name === barred.value))
const bars = computed(() =>
  (shown.value?.rows ?? []).flatMap((row) => {
    const figure = barred.value ? cellOf(row, barred.value).figure : null
    return figure?.value == null
      ? []
      : [
          {
            key: String(row.motor),
            motor: row.motor,
            name: row.motor_name,
            value: figure.value,
            u: figure.u ?? null,
            claims: [],
          },
        ]
  }),
)
const held = computed(() => shown.value?.rows.find((row) => row.baseline) ?? null)
const csv = computed(
  () =>
    `/api/v1/compare/mass.csv?${new URLSearchParams(
      Object.entries(asked.value).flatMap(([key, value]) => (value ? [[key, String(value)]] : [])),
    )}`,
)
function still(): StillTable {
  return {
    title: `Mass and money${shown.value?.load_words ? ` — thrust on ${shown.value.load_words}` : ''}`,
    heads: ['Motor', ...COLUMNS.value.map((one) => `${one.label}, ${one.unit}`)],
    rows: (shown.value?.rows ?? []).map((row) => [
      row.motor_name,
      ...COLUMNS.value.map((one) => {
        const { value, u } = cellOf(row, one.name).figure
        if (value == null) return '—'
        const text = figureText(value, u)
        return text.u ? `${text.value} ± ${text.u}` : text.value
      }),
    ]),
    foot: '± is the standard uncertainty.',
  }
}
</script>

<template>
  <CompareHead here="/compare/mass" :reading="query.isFetching.value">
    <a v-if="shown?.rows.length" :href="csv" download>CSV</a>
  </CompareHead>
  <PageState :loading="query.isPending.value" :error="query.error.value" :retry="query.refetch" />
  <section v-if="shown && !shown.rows.length" class="sheet">
    <h2>No motors yet</h2>
    <p>Motors that were <RouterLink to="/intake">taken in</RouterLink> and weighed stand here.</p>
  </section>
  <template v-else-if="shown">
    <div class="bar">
      <label
        >Thrust on
        <el-select
          :model-value="shown.load"
          size="small"
          filterable
          default-first-option
          aria-label="Load of the thrust"
          class="load"
          placeholder="no runs yet"
          @update:model-value="ask({ load: String($event) })"
        >
          <el-option
            v-for="one in shown.loads"
            :key="one.key"
            :value="one.key"
            :label="`${one.words} (${one.motors} motors)`"
          />
        </el-select>
      </label>
      <span v-if="held"
        >held against {{ held.motor_name }}
        <el-button size="small" text @click="ask({ baseline: undefined })"
          >against nobody</el-button
        ></span
      >
    </div>
    <section class="sheet" aria-label="Motor by motor">
      <h2>Motor by motor <TableStill name="mass-and-money" :table="still" /></h2>
      <el-table :data="shown.rows" row-key="motor">
        <el-table-column label="Motor" min-width="176" fixed>
          <template #default="{ row }">
            <MotorMark :motor="(row as Row).motor" />{{ (row as Row).motor_name }}<br />
            <el-button
              v-if="!(row as Row).baseline"
              size="small"
              text
              :aria-label="`hold the others against it: ${(row as Row).motor_name}`"
              @click="ask({ baseline: String((row as Row).motor) })"
              >hold the others against it</el-button
            >
            <span v-else class="tag">held against</span>
            <span v-if="(row as Row).losses" class="tag caution">{{ (row as Row).losses }}</span>
          </template>
        </el-table-column>
        <el-table-column
          v-for="one in COLUMNS"
          :key="one.name"
          :min-width="one.name === 'price' ? 158 : 112"
          align="right"
        >
          <template #header>
            {{ one.label }}<br /><span class="soft">{{ one.unit }}</span>
            <el-button
              size="small"
              text
              :aria-label="`bars of ${one.label}`"
              @click="barred = barred === one.name ? '' : one.name"
              >bars</el-button
            >
          </template>
          <template #default="{ row }">
            <template v-if="one.name === 'price' && cellOf(row, one.name).figure.value != null">
              <span class="figure">{{
                formatNumber(cellOf(row, one.name).figure.value ?? 0, 2)
              }}</span>
              <span class="soft small words">{{ (row as Row).price_words }}</span>
            </template>
            <Figure
              v-else
              :value="cellOf(row, one.name).figure.value"
              :u="cellOf(row, one.name).figure.u"
              :reason="cellOf(row, one.name).figure.reason"
              :assumed="cellOf(row, one.name).figure.assumed"
            />
            <DeltaWords :name="one.name" :delta="cellOf(row, one.name).delta" />
          </template>
        </el-table-column>
        <el-table-column min-width="96" align="right">
          <template #header>Stator<br /><span class="soft">mm³, height ÷ diameter</span></template>
          <template #default="{ row }">
            <template v-if="(row as Row).volume_mm3 !== null">
              <span class="figure">{{ count((row as Row).volume_mm3 ?? 0) }}</span>
              <br /><span class="figure soft">{{ formatNumber((row as Row).aspect ?? 0, 2) }}</span>
            </template>
            <span v-else class="soft" data-reason="its size code names no stator" tabindex="0"
              >—</span
            >
          </template>
        </el-table-column>
        <el-table-column min-width="84">
          <template #header>Room for copper</template>
          <template #default="{ row }">{{ (row as Row).copper_room || 'not looked at' }}</template>
        </el-table-column>
        <el-table-column min-width="104" align="right">
          <template #header
            >Thrust over what its size gives<br /><span class="soft">%</span></template
          >
          <template #default="{ row }">
            <Figure
              signed
              :value="(row as Row).thrust_over_trend_pct.value"
              :u="(row as Row).thrust_over_trend_pct.u"
              :reason="(row as Row).thrust_over_trend_pct.reason"
            />
          </template>
        </el-table-column>
      </el-table>
      <template v-if="bars.length && barUnit">
        <h3>{{ barUnit.label }}</h3>
        <FigureBars :rows="bars" :unit="barUnit.unit" :title="barUnit.label" />
      </template>
      <p class="small soft">
        {{ shown.trend_words }} {{ shown.copper_words }}
        <template v-if="shown.more"> {{ shown.more }} more motors are not shown.</template>
      </p>
    </section>
    <section v-if="shown.choosing.length" class="sheet" aria-label="What a gram and a price buy">
      <h2>What a gram and a price buy</h2>
      <p v-for="sentence in shown.choosing" :key="sentence">{{ sentence }}</p>
    </section>
  </template>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
  margin: 8px 0 10px;
  font-size: 13px;
}
.load {
  width: 330px;
  margin-left: 6px;
}
.sheet {
  margin-bottom: 12px;
}
.sheet p {
  margin: 6px 0 0;
}
.words {
  display: block;
}
.sheet :deep(.cell) {
  text-overflow: clip;
}
</style>
