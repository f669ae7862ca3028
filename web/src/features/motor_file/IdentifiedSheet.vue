<script setup lang="ts">
/** The constants of the motor: per sample from its own runs, as a model, and as it was guessed. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { identifiedQuery } from '@/api/queries'
import type { Schemas } from '@/api/client'
import PageState from '@/app/PageState.vue'
import { columnLook } from '@/figures/columns'
import FigureCell from '@/figures/FigureCell.vue'
import SmallCurve from '@/figures/SmallCurve.vue'
import { formatNumber } from '@/figures/format'
import { headOf } from '@/words/words'

const props = defineProps<{ motor: number }>()
const { data, isPending, error, refetch } = useQuery(computed(() => identifiedQuery(props.motor)))
const SHOWN = [
  'kv_rpm_per_v',
  'resistance_ohm',
  'no_load_current_a',
  'no_load_slope_a_per_rpm',
  'kt_nm_per_a',
] as const
type Figures = readonly Schemas['NamedFigure'][]
const named = (figures: Figures, name: string) =>
  figures.find((one) => one.name === name)?.figure ?? null
const rows = computed(() => {
  if (!data.value) return []
  const samples = data.value.samples.map((one) => ({
    key: one.mark,
    label: `Sample ${one.mark}`,
    note: one.figures.length
      ? `${one.runs.length} ${one.runs.length === 1 ? 'run' : 'runs'}${
          one.resistance_at_c === null ? '' : `, case at ${formatNumber(one.resistance_at_c, 0)} °C`
        }`
      : one.why_not,
    stale: one.stale,
    figures: one.figures,
    estimated: false,
  }))
  return [
    ...samples,
    {
      key: 'model',
      label: 'The model',
      note: '± is for the next sample of it',
      stale: false,
      figures: data.value.model,
      estimated: false,
    },
    {
      key: 'guess',
      label: 'Guessed',
      note: data.value.prior.words,
      stale: false,
      figures: data.value.prior.figures,
      estimated: true,
    },
  ]
})
const looks = computed(() =>
  Object.fromEntries(
    SHOWN.map((name) => [
      name,
      columnLook(rows.value.map((row) => named(row.figures, name) ?? { value: null, u: null })),
    ]),
  ),
)
const HEAT = [
  'rise_k_per_kj',
  'case_k_per_w',
  'winding_over_case_k_per_w',
  'case_time_constant_s',
  'continuous_power_w',
] as const
const heat = computed(() => (data.value?.samples ?? []).filter((one) => one.soaks.length))
const heatLooks = computed(() =>
  Object.fromEntries(
    HEAT.map((name) => [
      name,
      columnLook(heat.value.map((row) => named(row.heat, name) ?? { value: null, u: null })),
    ]),
  ),
)
const remarks = computed(() => (data.value?.samples ?? []).flatMap((one) => one.remarks))
const curve = computed(() => data.value?.torque_curve ?? null)
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <template v-if="data">
    <p v-for="question in data.mix_up" :key="question" class="doubt" role="status">
      {{ question }}
    </p>
    <table class="grid" aria-label="Constants of the motor">
      <thead>
        <tr>
          <th></th>
          <th v-for="name in SHOWN" :key="name" class="num">{{ headOf(name) }}</th>
          <th>Rests on</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.key">
          <td class="name">
            {{ row.label }} <span v-if="row.stale" class="tag caution">being made again</span>
          </td>
          <td v-for="name in SHOWN" :key="name" class="num" :class="{ estimated: row.estimated }">
            <template v-if="row.estimated && named(row.figures, name)?.value != null">~</template>
            <FigureCell
              :value="named(row.figures, name)?.value"
              :u="named(row.figures, name)?.u"
              :assumed="named(row.figures, name)?.assumed"
              :reason="named(row.figures, name)?.reason || row.note"
              :look="looks[name]!"
            />
          </td>
          <td class="soft small">{{ row.note }}</td>
        </tr>
      </tbody>
    </table>
    <p class="soft small">
      From every accepted run with voltage, current and speed at a known duty. The resistance is
      that of winding, leads, ESC and commutation together, at the mean temperature of the case.
    </p>
    <table v-if="heat.length" class="grid" aria-label="How the motor warms">
      <thead>
        <tr>
          <th></th>
          <th v-for="name in HEAT" :key="name" class="num">{{ headOf(name) }}</th>
          <th>Rests on</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in heat" :key="row.mark">
          <td class="name">Sample {{ row.mark }}</td>
          <td v-for="name in HEAT" :key="name" class="num">
            <FigureCell
              :value="named(row.heat, name)?.value"
              :u="named(row.heat, name)?.u"
              :assumed="named(row.heat, name)?.assumed"
              :reason="named(row.heat, name)?.reason"
              :look="heatLooks[name]!"
            />
          </td>
          <td class="soft small">
            <template v-for="(run, i) in row.soaks" :key="run"
              >{{ i ? ', ' : 'soak ' }}<RouterLink :to="`/runs/${run}`">{{ run }}</RouterLink>
            </template>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="heat.length" class="soft small">
      Rises per energy and continuous power hold at about the load, propeller and air of their
      soaks.
    </p>
    <figure v-if="curve && curve.speed_rpm.length > 1">
      <SmallCurve
        :x="curve.speed_rpm"
        :y="curve.torque_nm"
        :most="{ x: Math.max(...curve.speed_rpm), y: Math.max(...curve.torque_nm) }"
        name="torque over speed"
      />
      <figcaption class="soft small">
        Torque over speed from
        <RouterLink :to="`/runs/${curve.run}`">run {{ curve.run }}</RouterLink> of sample
        {{ curve.mark }}, up to {{ formatNumber(Math.max(...curve.torque_nm), 3) }} N·m.
      </figcaption>
    </figure>
    <ul v-if="remarks.length" class="small">
      <li v-for="remark in remarks" :key="remark.message">{{ remark.message }}</li>
    </ul>
  </template>
</template>

<style scoped>
.grid {
  width: 100%;
}
.name,
.num {
  white-space: nowrap;
}
.estimated {
  font-style: italic;
}
.doubt {
  background: var(--caution-soft);
  border-left: 4px solid var(--caution);
  padding: 5px 10px;
  margin: 0 0 8px;
}
p {
  margin: 6px 0 0;
}
figure {
  margin: 10px 0 0;
}
ul {
  margin: 6px 0 0;
  padding-left: 18px;
}
</style>
