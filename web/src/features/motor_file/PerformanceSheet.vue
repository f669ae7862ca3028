<script setup lang="ts">
/** What it does on each propeller: its largest thrust, and g/W at one thrust all of them reach. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { columnLook } from '@/figures/columns'
import Figure from '@/figures/Figure.vue'
import FigureCell from '@/figures/FigureCell.vue'
import SmallCurve from '@/figures/SmallCurve.vue'

const props = defineProps<{ performance: Schemas['Performance']; motor: number }>()
type Row = Schemas['OnPropeller']
const rows = computed(() => props.performance.propellers)
const thrust = computed(() => columnLook(rows.value.map((row) => row.largest_thrust_gf)))
const efficiency = computed(() => columnLook(rows.value.map((row) => row.efficiency_g_per_w)))
const most = computed(() => ({
  x: Math.max(1, ...rows.value.flatMap((row) => row.curve?.thrust_gf ?? [])),
  y: Math.max(1, ...rows.value.flatMap((row) => row.curve?.efficiency_g_per_w ?? [])),
}))
const compared = computed(() => rows.value.map((row) => row.runs[0]).slice(0, 8))
const nameOf = (row: Row) => `g/W over thrust on ${row.propeller}`
</script>

<template>
  <section class="sheet" aria-label="On each propeller">
    <div class="bar">
      <h2>On each propeller</h2>
      <RouterLink v-if="compared.length > 1" :to="`/compare?runs=${compared.join(',')}`"
        >Compare them</RouterLink
      >
    </div>
    <p v-if="!rows.length" class="soft">
      No run with plateaus yet.
      <RouterLink :to="`/bench?motor=${motor}`">Make the first on the bench</RouterLink> or
      <RouterLink to="/import">import a log</RouterLink>.
    </p>
    <table v-else class="grid">
      <thead>
        <tr>
          <th>Propeller and voltage</th>
          <th class="num">Largest thrust<br />gf</th>
          <th class="num">
            g/W<template v-if="performance.common_thrust_gf">
              at<br /><Figure :value="performance.common_thrust_gf" unit="gf"
            /></template>
          </th>
          <th>g/W over thrust</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.runs[0]">
          <td>
            {{ row.propeller }}
            <div class="soft small">
              <Figure :value="row.nominal_voltage_v" unit="V" reason="voltage not noted" />
              {{ row.supply }} · {{ row.runs.length }}
              {{ row.runs.length === 1 ? 'run' : 'runs' }}
            </div>
          </td>
          <td class="num">
            <FigureCell
              :value="row.largest_thrust_gf.value"
              :u="row.largest_thrust_gf.u"
              :assumed="row.largest_thrust_gf.assumed"
              :reason="row.largest_thrust_gf.reason"
              :look="thrust"
            />
          </td>
          <td class="num">
            <FigureCell
              :value="row.efficiency_g_per_w.value"
              :u="row.efficiency_g_per_w.u"
              :assumed="row.efficiency_g_per_w.assumed"
              :reason="row.efficiency_g_per_w.reason"
              :look="efficiency"
            />
          </td>
          <td>
            <SmallCurve
              v-if="row.curve"
              :x="row.curve.thrust_gf"
              :y="row.curve.efficiency_g_per_w"
              :most="most"
              :at="performance.common_thrust_gf"
              :name="nameOf(row)"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="rows.length" class="soft small">
      Curves from 0 to <Figure :value="Math.round(most.x)" unit="gf" /> and
      <Figure :value="Number(most.y.toPrecision(3))" unit="g/W" />, all alike; ± is the standard
      uncertainty.
    </p>
  </section>
</template>

<style scoped>
.bar {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
.grid td {
  vertical-align: middle;
}
p {
  margin: 6px 0 0;
}
</style>
