<script setup lang="ts">
/** Torque over speed: what the motor gives at each voltage, and where each propeller meets it. */
import { useQuery } from '@tanstack/vue-query'
import type { EChartsOption, SeriesOption } from 'echarts'
import { computed, ref, watch } from 'vue'
import { fieldMessage } from '@/api/client'
import { type AskedTorque, torqueQuery } from '@/api/compareQueries'
import { useLast } from '@/api/useLast'
import PageState from '@/app/PageState.vue'
import ChartSheet from '@/charts/ChartSheet.vue'
import { axis, base, PAPER } from '@/charts/theme'
import Figure from '@/figures/Figure.vue'
import ChoiceField from '@/forms/ChoiceField.vue'
import TextField from '@/forms/TextField.vue'
import { labelOf, unitOf } from '@/words/words'

const props = defineProps<{ motors: readonly { motor: number; name: string }[] }>()
const motor = ref<number | null>(props.motors[0]?.motor ?? null)
const voltages = ref('')
watch(
  () => props.motors,
  (now) => {
    if (!now.some((one) => one.motor === motor.value)) motor.value = now[0]?.motor ?? null
  },
)
const asked = computed<AskedTorque | null>(() =>
  motor.value === null
    ? null
    : {
        motor: motor.value,
        voltages:
          voltages.value
            .trim()
            .split(/[\s;,]+/)
            .filter(Boolean)
            .join(',') || undefined,
      },
)
const query = useQuery(computed(() => torqueQuery(asked.value)))
const shown = useLast(query.data)
const LOADS = ['#1f6f78', '#6d4a8f', '#8a6d0b', '#34548f', '#a03a5c', '#4a6b2a']

const option = computed<EChartsOption>(() => {
  const chart = shown.value
  const line = (
    one: { name: string; speed_rpm: number[]; torque_nm: number[] },
    color: string,
    dash: 'solid' | 'dashed' | 'dotted',
    width: number,
  ): SeriesOption => ({
    type: 'line',
    name: one.name,
    showSymbol: false,
    data: one.speed_rpm.map((x, k) => [x, one.torque_nm[k] as number]),
    lineStyle: { color, width, type: dash },
    itemStyle: { color },
    endLabel: { show: true, formatter: one.name, color, fontSize: 11 },
  })
  const figure = (figures: { name: string; figure: { value: number | null } }[], name: string) =>
    figures.find((one) => one.name === name)?.figure.value ?? null
  const meets = (chart?.meetings ?? []).flatMap((one) => {
    const [x, y] = [figure(one.figures, 'speed_rpm'), figure(one.figures, 'torque_nm')]
    return x === null || y === null
      ? []
      : [{ value: [x, y], name: `${one.propeller_name} at ${one.voltage_v} V` }]
  })
  return {
    ...base(PAPER),
    tooltip: { ...(base(PAPER).tooltip as object), trigger: 'item' },
    grid: { left: 62, right: 150, top: 16, bottom: 44 },
    xAxis: { ...axis(PAPER, 'speed_rpm', false), min: 0 },
    yAxis: { ...axis(PAPER, 'torque_nm', true), min: 0 },
    series: [
      ...(chart?.motor_lines ?? []).map((one) => line(one, PAPER.left, 'solid', 2)),
      ...(chart?.load_lines ?? []).map((one, at) =>
        line(one, LOADS[at % LOADS.length] as string, one.estimated ? 'dotted' : 'dashed', 1.4),
      ),
      {
        type: 'scatter',
        name: 'where they meet',
        symbol: 'circle',
        symbolSize: 9,
        itemStyle: { color: PAPER.sheet, borderColor: PAPER.ink, borderWidth: 1.6 },
        data: meets,
      },
      ...(chart?.measured ?? []).map((one): SeriesOption => ({
        type: 'scatter',
        name: `run ${one.run}, measured`,
        symbol: 'diamond',
        symbolSize: 6,
        itemStyle: { color: PAPER.soft },
        data: one.points.map(([x, y]) => [x as number, y as number]),
      })),
    ],
  }
})
const table = computed(() => ({
  columns: ['line', 'speed_rpm', 'torque_nm'],
  rows: [...(shown.value?.motor_lines ?? []), ...(shown.value?.load_lines ?? [])].flatMap((one) =>
    one.speed_rpm.map((x, k) => [one.name, x, one.torque_nm[k] ?? null]),
  ),
}))
const SHOWN = ['speed_rpm', 'torque_nm', 'thrust_gf', 'current_a', 'power_w', 'efficiency_g_per_w']
type Meeting = NonNullable<typeof shown.value>['meetings'][number]
const figureOf = (one: Meeting, name: string) =>
  one.figures.find((figure) => figure.name === name)?.figure
</script>

<template>
  <section class="sheet" aria-label="Torque over speed">
    <h2>Torque over speed</h2>
    <el-form class="row" label-position="top" @submit.prevent>
      <ChoiceField
        v-model="motor"
        label="Motor"
        :choices="motors.map((one) => ({ key: one.motor, label: one.name }))"
      />
      <TextField
        v-model="voltages"
        label="Voltages, in V"
        placeholder="those it was run at"
        :problem="fieldMessage(query.error.value, 'voltages')"
      />
    </el-form>
    <PageState :loading="query.isPending.value" :error="query.error.value" :retry="query.refetch" />
    <template v-if="shown">
      <p v-if="shown.reason" class="soft">No lines: {{ shown.reason }}.</p>
      <template v-else>
        <ChartSheet
          :option="option"
          :table="table"
          name="torque-over-speed"
          :title="`${shown.motor_name}: torque over speed`"
          :height="300"
          label="torque over speed with load lines"
        />
        <p class="small soft">
          Full lines: what the motor gives at full throttle, {{ shown.rests_on }}. Dashed: what each
          propeller asks for (dotted where it was never identified). Circles: where they meet.
          <template v-if="shown.measured.length">Diamonds: torque that was measured.</template>
          In reference air, on a stiff supply, the winding warm; all estimated.
        </p>
        <div v-if="shown.meetings.length" class="scroll">
          <table class="grid">
            <thead>
              <tr>
                <th scope="col">They meet</th>
                <th scope="col">At<br /><span class="soft">V</span></th>
                <th v-for="name in SHOWN" :key="name" scope="col">
                  {{ labelOf(name) }}<br /><span class="soft">{{ unitOf(name) }}</span>
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in shown.meetings" :key="`${one.propeller}-${one.voltage_v}`">
                <td>{{ one.propeller_name }}</td>
                <td class="figure">{{ one.voltage_v }}</td>
                <td v-for="name in SHOWN" :key="name">
                  <Figure
                    :value="figureOf(one, name)?.value"
                    :u="figureOf(one, name)?.u"
                    :reason="figureOf(one, name)?.reason"
                    estimated
                  />
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </template>
    </template>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.row {
  display: flex;
  gap: 12px;
  max-width: 560px;
  margin: 6px 0;
}
.scroll {
  position: relative;
  overflow-x: auto;
}
td,
th {
  text-align: left;
}
</style>
