<script setup lang="ts">
/** What the stick does with each motor, and the expo that makes it begin as the baseline does. */
import { computed } from 'vue'
import type { EChartsOption } from 'echarts'
import type { Schemas } from '@/api/client'
import ChartSheet from '@/charts/ChartSheet.vue'
import { axis, base, PAPER } from '@/charts/theme'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import type { Mark } from '@/figures/motorMark'
import { curveOf, shortNames, spreadLabels } from './curves'
import { formatNumber } from '@/figures/format'

const HEIGHT = 250
/** Room of the chart, px: over it for names that make way for each other, below it, beside it. */
const TOP = 40
const BELOW = 44
const NAMES = 190
const props = defineProps<{ comparison: Schemas['Comparison']; marks: Mark[] }>()
const drawn = computed(() => props.comparison.subjects.filter((one) => one.drawn))
const names = computed(() => shortNames(drawn.value))
const rows = computed(() =>
  props.comparison.feel.flatMap((feel, at) => {
    const subject = drawn.value[at]
    return subject ? [{ feel, subject, name: names.value[at] ?? '', mark: props.marks[at] }] : []
  }),
)
const withExpo = computed(() => rows.value.filter((row) => row.feel.stick_pct.length))
const held = computed(() =>
  drawn.value.findIndex((one) => one.runs.includes(props.comparison.baseline)),
)
/** Thrust over the stick: the baseline as it is, the others with their expo. */
const option = computed<EChartsOption>(() => {
  const plain = curveOf(props.comparison, held.value, 'throttle_pct', 'thrust_gf')
  const lines = withExpo.value.map((row) => ({
    name: `expo ${formatNumber(row.feel.expo ?? 0, 2)}: ${row.name}`,
    color: row.mark?.color ?? PAPER.ink,
    dash: 'dashed' as const,
    data: row.feel.stick_pct.map((x, k) => [x, row.feel.thrust_gf[k] as number]),
  }))
  const reference = plain?.x.length
    ? [
        {
          name: names.value[held.value] ?? '',
          color: props.marks[held.value]?.color ?? PAPER.ink,
          dash: 'solid' as const,
          data: plain.x.map((x, k) => [x, plain.y[k] as number]),
        },
      ]
    : []
  const all = [...reference, ...lines]
  const ends = all.map((line) => line.data.findLast(([, y]) => y != null)?.[1] ?? 0)
  const perPixel = (Math.max(1, ...ends) * 1.08) / (HEIGHT - TOP - BELOW)
  const placed = spreadLabels(ends, 14 * perPixel)
  return {
    ...base(PAPER),
    grid: { left: 58, right: NAMES + 8, top: TOP, bottom: BELOW },
    xAxis: { ...axis(PAPER, 'throttle_pct', false), name: 'Stick, %', min: 0, max: 100 },
    yAxis: { ...axis(PAPER, 'thrust_gf', true), min: 0 },
    series: all.map((line, at) => ({
      type: 'line' as const,
      name: line.name,
      showSymbol: false,
      data: line.data,
      lineStyle: { color: line.color, width: 1.8, type: line.dash },
      itemStyle: { color: line.color },
      endLabel: {
        show: true,
        formatter: line.name,
        color: line.color,
        fontSize: 11,
        width: NAMES,
        overflow: 'truncate' as const,
        offset: [0, -((placed[at] as number) - (ends[at] as number)) / perPixel],
      },
    })),
  }
})
const table = computed(() => ({
  columns: ['subject', 'expo', 'stick_pct', 'thrust_gf'],
  rows: withExpo.value.flatMap((row) =>
    row.feel.stick_pct.map((x, k) => [
      row.name,
      row.feel.expo ?? null,
      x,
      row.feel.thrust_gf[k] ?? null,
    ]),
  ),
}))
</script>

<template>
  <section class="sheet" aria-label="The feel of the stick">
    <h2>The feel of the stick</h2>
    <div class="scroll">
      <table class="grid">
        <thead>
          <tr>
            <th scope="col">Compared</th>
            <th scope="col">Begins with<br /><span class="soft">gf per %</span></th>
            <th scope="col">of a straight line</th>
            <th scope="col">Last tenth gives<br /><span class="soft">% of thrust</span></th>
            <th scope="col">and takes<br /><span class="soft">% of current</span></th>
            <th scope="col">Top end<br /><span class="soft">slope, against 50–80 %</span></th>
            <th scope="col">Expo to begin as the baseline</th>
            <th scope="col">In words</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.subject.key">
            <td><MotorMark :motor="row.subject.motor" :mark="row.mark" />{{ row.name }}</td>
            <td
              v-for="name in [
                'low_slope_gf_per_pct',
                'low_ratio',
                'last_tenth_thrust_pct',
                'last_tenth_current_pct',
                'top_end_ratio',
              ] as const"
              :key="name"
            >
              <Figure
                :value="row.feel[name].value"
                :u="row.feel[name].u"
                :reason="row.feel[name].reason"
              />
            </td>
            <td>
              <span v-if="row.feel.expo !== null" class="figure">{{
                formatNumber(row.feel.expo, 2)
              }}</span>
              <span v-else class="soft">{{ row.feel.no_expo }}</span>
            </td>
            <td>{{ row.feel.words || '—' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <ChartSheet
      v-if="withExpo.length"
      :option="option"
      :table="table"
      name="throttle-feel"
      title="Thrust over the stick, with the expo that makes each begin alike"
      :height="HEIGHT"
      label="thrust over the stick with expo"
    />
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.scroll {
  position: relative;
  overflow-x: auto;
}
td,
th {
  text-align: left;
  vertical-align: top;
}
</style>
